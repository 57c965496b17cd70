import { array, number, object, string, type InferType } from 'yup';
import { hopSchema } from '#core/links/connection.ts';

/** What builds are put together from beside drives. */

export const priceSchema = () => number().min(0, 'a price is nothing or more').max(1e9).required();

export const sizingEnclosureSchema = object({
  label: string().required().max(120),
  slots: number().integer().min(1).max(60).required(),
  price: priceSchema(),
});
export type SizingEnclosure = InferType<typeof sizingEnclosureSchema>;

/** A way to reach an enclosure: cable, card, switch, each with its price in one sum. */
export const sizingConnectionSchema = object({
  label: string().required().max(120),
  price: priceSchema(),
  hops: array(hopSchema.required()).max(12).required(),
});
export type SizingConnection = InferType<typeof sizingConnectionSchema>;
