import { object, type InferType } from 'yup';
import {
  DEFAULT_BLOCK_BYTES,
  DIRECTION_WORDS,
  blockBytesSchema,
  blockField,
  bytesSchema,
  countSchema,
  dataField,
  dataSchema,
  depthField,
  depthSchema,
  directionField,
  directionSchema,
  secondsSchema,
} from '#core/3-jobs/recipes/option-fields.ts';
import { secondsFor, type RecipeKind } from '#core/3-jobs/recipes/recipe-kind.ts';
import { blockText, bytesText, formatDuration } from '#core/1-ground/units/format.ts';
import { BYTES, COUNT, SECONDS } from '#core/1-ground/fields/kinds.ts';

/** Options of the recipe *Short passes*, with its defaults. */
export const shortPassesOptionsSchema = object({
  /** Passes in each direction; null goes on until stopped. Six give the median an interval. */
  passes: countSchema('passes', 1, 10_000).nullable().default(6),
  /** Seconds that a pass should take in one direction; used when no size is given. */
  seconds: secondsSchema('seconds', 0.2, 600).default(2),
  /** Bytes of one pass in one direction; null sizes it by time. */
  sizeBytes: bytesSchema('size').nullable().default(null),
  /** Reading needs something written first: then one pass is written before, and only reading repeats. */
  direction: directionSchema,
  blockBytes: blockBytesSchema.default(DEFAULT_BLOCK_BYTES),
  depth: depthSchema.default(4),
  data: dataSchema,
}).noUnknown('${unknown}: is no option of Short passes.');
export type ShortPassesOptions = InferType<typeof shortPassesOptionsSchema>;

export const shortPassesKind: RecipeKind<ShortPassesOptions> = {
  id: 'short-passes',
  label: 'Short passes',
  purpose: 'Writes and reads a few seconds at a time, over and over: the level, and how much it moves.',
  measures: 'levels',
  writesNames: false,
  readOnly: false,
  canBeHeld: true,
  hasTargets: false,
  options: shortPassesOptionsSchema,
  fields: [
    {
      option: 'passes',
      group: 'How often',
      label: 'Passes',
      help: 'In each direction. From six on, the median gets an interval.',
      flag: 'passes',
      kind: COUNT,
      empty: 'until stopped',
    },
    directionField('How often', 'Reading alone still writes one pass first, to have something to read.'),
    {
      option: 'seconds',
      group: 'How much',
      label: 'Seconds of a pass',
      help: 'In one direction, when no amount is given. A short pass first finds the rate.',
      flag: 'seconds',
      kind: SECONDS,
    },
    {
      option: 'sizeBytes',
      group: 'How much',
      label: 'Amount of a pass',
      help: 'In one direction, such as 2 GB.',
      flag: 'size',
      kind: BYTES,
      empty: 'sized by time',
    },
    blockField,
    depthField,
    dataField,
  ],
  summary({ passes, seconds, sizeBytes, direction, blockBytes, depth }) {
    const count = passes === null ? 'Passes until stopped' : `${passes} ${passes === 1 ? 'pass' : 'passes'}`;
    const size = sizeBytes === null ? `about ${formatDuration(seconds)}` : bytesText(sizeBytes);
    return `${count} of ${size}, ${DIRECTION_WORDS[direction]}, ${blockText(blockBytes)} blocks at depth ${depth}`;
  },
  cost({ passes, seconds, sizeBytes, direction }, { writeBytesPerSecond, readBytesPerSecond, roomBytes }) {
    const rates = { write: writeBytesPerSecond, read: readBytesPerSecond };
    const bytesOf = (way: 'write' | 'read') =>
      sizeBytes ?? (rates[way] === null ? null : Math.min(roomBytes, rates[way] * seconds));
    const written = bytesOf('write');
    const writes = direction === 'read' ? 1 : passes;
    const reads = direction === 'write' ? 0 : passes;
    const times = (bytes: number | null, count: number | null) =>
      bytes === null || count === null ? null : bytes * count;
    const secondsOf = (way: 'write' | 'read', count: number | null) => {
      if (count === null) return null;
      return count * (sizeBytes === null ? seconds : (secondsFor(sizeBytes, rates[way]) ?? NaN));
    };
    const total = [secondsOf('write', writes), secondsOf('read', reads)];
    const sum = total[0] === null || total[1] === null ? NaN : total[0]! + total[1]!;
    return {
      writtenBytes: times(written, writes),
      readBytes: times(written, reads),
      spaceBytes: written ?? 0,
      seconds: Number.isFinite(sum) ? sum : null,
    };
  },
};
