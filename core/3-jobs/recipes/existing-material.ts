import { object, type InferType } from 'yup';
import {
  DEFAULT_BLOCK_BYTES,
  blockBytesSchema,
  blockField,
  bytesSchema,
  countSchema,
  depthField,
  depthSchema,
} from '#core/3-jobs/recipes/option-fields.ts';
import { secondsFor, type RecipeKind } from '#core/3-jobs/recipes/recipe-kind.ts';
import { blockText, bytesText } from '#core/1-ground/units/format.ts';
import { BYTES, COUNT } from '#core/1-ground/fields/kinds.ts';

/** Options of the recipe *Existing material*, with its defaults. */
export const existingMaterialOptionsSchema = object({
  /** Bytes to read at most; null reads everything that is there. */
  amountBytes: bytesSchema('amount').nullable().default(64e9),
  passes: countSchema('passes', 1, 1000).default(1),
  blockBytes: blockBytesSchema.default(DEFAULT_BLOCK_BYTES),
  depth: depthSchema.default(4),
}).noUnknown('${unknown}: is no option of Existing material.');
export type ExistingMaterialOptions = InferType<typeof existingMaterialOptionsSchema>;

export const existingMaterialKind: RecipeKind<ExistingMaterialOptions> = {
  id: 'existing-material',
  label: 'Existing material',
  purpose:
    'Reads files that are already there and changes nothing: the honest reading rate, also of what may not be written to.',
  measures: 'levels',
  writesNames: false,
  readOnly: true,
  canBeHeld: true,
  hasTargets: false,
  options: existingMaterialOptionsSchema,
  fields: [
    {
      option: 'amountBytes',
      group: 'How much',
      label: 'Amount',
      help: 'The largest files first. 64 GB is more than a cache or a file server’s memory holds.',
      flag: 'size',
      kind: BYTES,
      empty: 'everything there',
    },
    {
      option: 'passes',
      group: 'How much',
      label: 'Passes',
      help: 'A second pass that is faster came out of a cache.',
      flag: 'passes',
      kind: COUNT,
    },
    blockField,
    depthField,
  ],
  summary({ amountBytes, passes, blockBytes, depth }) {
    const amount = amountBytes === null ? 'Everything there' : `Up to ${bytesText(amountBytes)}`;
    return `${amount}, ${passes === 1 ? 'once' : `${passes} times`}, ${blockText(blockBytes)} blocks at depth ${depth}`;
  },
  cost({ amountBytes, passes }, { readBytesPerSecond }) {
    return {
      writtenBytes: 0,
      readBytes: amountBytes === null ? null : amountBytes * passes,
      spaceBytes: 0,
      seconds: amountBytes === null ? null : secondsFor(amountBytes * passes, readBytesPerSecond),
      // What lies in the folder may be less.
      bound: 'most',
    };
  },
};
