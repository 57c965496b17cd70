import { string, type ObjectSchema } from 'yup';
import type { Demand } from '#core/3-jobs/demand/demand.ts';
import type { Field, FieldErrors, FieldTexts } from '#core/1-ground/fields/field.ts';

/** One kind of thing that a workload lists: footage, a cache series, a load. */
export interface ItemKind<Item extends { kind: string; id: string; name: string }> {
  kind: Item['kind'];
  schema: ObjectSchema<Item>;
  /**
   * What it asks of a drive, each with a verdict of its own; the first is the item itself.
   * @throws Problem `bad-input` when what it says is impossible
   */
  demands(item: Item): Demand[];
  /** How a person gives it, where that is one list of fields; null for what has a sheet of its own. */
  form: ItemForm<Item> | null;
}

/** The fields of an item and what they give. */
export interface ItemForm<Item> {
  fields: readonly Field[];
  /** Texts of a new one. */
  start: FieldTexts;
  texts(item: Item): FieldTexts;
  /** All faults at once. @param base what fields do not hold, of the item that is edited; null for a new one */
  read(texts: FieldTexts, id: string, base: Item | null): { item: Item | null; errors: FieldErrors };
}

/** The word by which a document tells of which kind something is. */
export const kindSchema = <Kind extends string>(kind: Kind) => string<Kind>().oneOf([kind]).required();
export const itemIdSchema = string().required().max(80);
export const itemNameSchema = string().required().max(120);

/** Parts of an item after the first have the item's id and a word behind this. */
export const PART_MARK = '#';
