import type { InferType } from 'yup';
import type { Demand } from '#core/3-jobs/demand/demand.ts';
import { footageKind } from '#core/3-jobs/demand/footage/footage-kind.ts';
import type { FootageItem } from '#core/3-jobs/demand/footage/footage-item.ts';
import { PART_MARK, type ItemKind } from '#core/3-jobs/demand/item-kind.ts';
import { loadKind } from '#core/3-jobs/demand/loads/load-kind.ts';
import { frameSizes, sumOf } from '#core/3-jobs/demand/series/frame-bytes.ts';
import { seriesKind } from '#core/3-jobs/demand/series/series-kind.ts';
import { oneOfKinds } from '#core/1-ground/schema/one-of-kinds.ts';

/** Every kind of item, in the order in which they are offered; a new one is a file and a line here. */
const KINDS = [footageKind, seriesKind, loadKind] as const;

export type Item = InferType<(typeof KINDS)[number]['schema']>;
type AnyKind = ItemKind<Item>;

/** The kinds, each of which is only ever given items of its own. */
export const ITEM_KINDS = KINDS as unknown as readonly AnyKind[];

const kindById = (id: string | undefined): AnyKind | undefined => ITEM_KINDS.find((one) => one.kind === id);

export const itemKindOf = ({ kind }: Pick<Item, 'kind'>): AnyKind => kindById(kind)!;

/** @throws Problem `bad-input` when the item is impossible */
export const demandsOf = (item: Item): Demand[] => itemKindOf(item).demands(item);

export const itemSchema = oneOfKinds<Item>(ITEM_KINDS.map(({ kind, schema }) => [kind, schema]));

/** Bytes that an item writes: in one take or version, and in all of them. */
export function writtenBytes(item: Item): { once: number; all: number } {
  if (item.kind === 'series') {
    const once = sumOf(frameSizes(item));
    return { once, all: once * item.versions };
  }
  const [{ direction, bytesPerSecond, takeSeconds, takes }] = demandsOf(item) as [Demand];
  const once = direction === 'write' ? bytesPerSecond * takeSeconds : 0;
  return { once, all: once * takes };
}

export const isFootage = (item: Item): item is FootageItem => item.kind === 'footage';

/** The item that a demand comes from: parts of an item have its id before their mark. */
export const itemBehind = (items: readonly Item[], demandId: string | null): Item | undefined =>
  items.find(({ id }) => demandId === id || demandId?.startsWith(`${id}${PART_MARK}`));
