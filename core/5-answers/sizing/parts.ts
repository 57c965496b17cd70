import { array, boolean, number, object, string, type InferType } from 'yup';
import { hopSchema } from '#core/2-trade/links/connection.ts';

/** What builds are put together from beside drives. */

export const priceSchema = () => number().min(0, 'a price is nothing or more').max(1e9).required();

/** A thing that has to be bought with another: a card, a cable, a tray for each drive. */
export const partSchema = object({
  label: string().required().max(80),
  price: priceSchema(),
  /** Whether every drive needs one. */
  each: boolean().required(),
  /** Whether one of it serves all stores of a project, such as a network card in the machine. */
  shared: boolean().default(false).meta({ addedLater: true }),
});
export type Part = InferType<typeof partSchema>;

const parts = () => array(partSchema.required()).max(12).default([]).meta({ addedLater: true });

/** Enclosures of one kind in a build. */
export const MOST_OF_A_BOX = 12;

export const sizingEnclosureSchema = object({
  label: string().required().max(120),
  slots: number().integer().min(1).max(60).required(),
  price: priceSchema(),
  parts: parts(),
  /** What one slot carries; null where it never binds. */
  slot: hopSchema.nullable().default(null).meta({ addedLater: true }),
  /** So many of them may stand side by side in one build. */
  most: number().integer().min(1).max(MOST_OF_A_BOX).default(1).meta({ addedLater: true }),
});
export type SizingEnclosure = InferType<typeof sizingEnclosureSchema>;

/** A way to reach an enclosure: cable, card, switch, each with its price. */
export const sizingConnectionSchema = object({
  label: string().required().max(120),
  price: priceSchema(),
  parts: parts(),
  hops: array(hopSchema.required()).max(12).required(),
});
export type SizingConnection = InferType<typeof sizingConnectionSchema>;

/** Enclosures that so many slots take; null where they are more than there may be. */
export function enclosuresFor({ slots, most }: Pick<SizingEnclosure, 'slots' | 'most'>, taken: number): number | null {
  const needed = Math.max(1, Math.ceil(taken / slots));
  return needed <= most ? needed : null;
}

/** Parts that serve all stores, as what they are by name and price, each with its price. */
export type SharedParts = Readonly<Record<string, number>>;

/** The shared parts of an enclosure and a connection together. */
export const sharedParts = (...things: readonly { parts: readonly Part[] }[]): SharedParts =>
  Object.fromEntries(
    things.flatMap(({ parts }) => parts.filter(({ shared }) => shared).map((part) => [sharedName(part), part.price])),
  );

export const sharedName = ({ label, price }: Pick<Part, 'label' | 'price'>): string =>
  `${label.toLowerCase()} ${price}`;

/** What is saved where several stores would each buy a part of which one serves them all. */
export function savedByShared(stores: readonly SharedParts[]): number {
  const [bought, names] = [stores.flatMap(Object.entries<number>), new Set(stores.flatMap(Object.keys))];
  const all = bought.reduce((sum, [, price]) => sum + price, 0);
  const once = [...names].reduce((sum, name) => sum + bought.find(([other]) => other === name)![1], 0);
  return all - once;
}

/** Price of so many of something with their parts: some are for each drive, and of what is shared one is enough. */
export function priceWith(
  { price, parts }: { price: number; parts: readonly Part[] },
  drives: number,
  count = 1,
): number {
  return parts.reduce((sum, part) => sum + part.price * partsNeeded(part, drives, count), count * price);
}

/** How many of a part so many things with so many drives need. */
export const partsNeeded = ({ each, shared }: Part, drives: number, count: number): number =>
  each ? drives : shared ? 1 : count;
