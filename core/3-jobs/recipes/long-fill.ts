import { object, type InferType } from 'yup';
import {
  DEFAULT_BLOCK_BYTES,
  blockBytesSchema,
  blockField,
  bytesSchema,
  dataField,
  dataSchema,
  depthField,
  depthSchema,
  listSchema,
  secondsSchema,
  switchSchema,
} from '#core/3-jobs/recipes/option-fields.ts';
import { addSeconds, secondsFor, type RecipeKind } from '#core/3-jobs/recipes/recipe-kind.ts';
import { blockText, bytesText, formatDuration } from '#core/1-ground/units/format.ts';
import { BYTES, DURATIONS, SECONDS, SWITCH } from '#core/1-ground/fields/kinds.ts';

/** Longest rest of a recovery stage. */
const LONGEST_REST_SECONDS = 4 * 3600;

/** Options of the recipe *Long fill*, with its defaults. */
export const longFillOptionsSchema = object({
  /** Bytes to write; null fills up to the reserve. */
  amountBytes: bytesSchema('amount').nullable().default(null),
  /** Ends the writing once the floor has been seen for a minute. */
  untilFloor: switchSchema('until-floor').default(true),
  /** Reads everything back afterwards and compares it. */
  readBack: switchSchema('read-back').default(false),
  /** Rests on the floor after each of which is written until the next knee; null for none. */
  restSeconds: listSchema(
    'recovery',
    'rests from 1 s to 4 h',
    8,
    (value) => Number.isFinite(value) && (value as number) >= 1 && (value as number) <= LONGEST_REST_SECONDS,
  )
    .nullable()
    .default(null),
  /** Leaves the scratch file in place, to be read again after a rest or a restart. */
  keepScratch: switchSchema('keep').default(false),
  /** Flushes to the drive so often, as some recorders do; null flushes at the end only. */
  flushEverySeconds: secondsSchema('flush-every', 0.1, 3600).nullable().default(null),
  blockBytes: blockBytesSchema.default(DEFAULT_BLOCK_BYTES),
  depth: depthSchema.default(4),
  data: dataSchema,
}).noUnknown('${unknown}: is no option of Long fill.');
export type LongFillOptions = InferType<typeof longFillOptionsSchema>;

export const longFillKind: RecipeKind<LongFillOptions> = {
  id: 'long-fill',
  label: 'Long fill',
  purpose:
    'Writes on and on until the fast cache is used up: finds the knee and the floor, and wears the drive by as much as it writes.',
  measures: 'levels',
  writesNames: false,
  readOnly: false,
  canBeHeld: true,
  hasTargets: false,
  options: longFillOptionsSchema,
  fields: [
    {
      option: 'amountBytes',
      group: 'How much',
      label: 'Amount',
      help: 'As much as the job writes proves most. 2 GB or 2 % of the free space is always left alone.',
      flag: 'size',
      kind: BYTES,
      empty: 'up to the reserve',
    },
    {
      option: 'untilFloor',
      group: 'How much',
      label: 'Stop when the floor has been seen for a minute',
      help: 'A drive without a knee is written to the full amount.',
      flag: 'until-floor',
      kind: SWITCH,
    },
    {
      option: 'readBack',
      group: 'Afterwards',
      label: 'Read everything back and compare',
      help: 'Finds wrong data and falsified capacity.',
      flag: 'read-back',
      kind: SWITCH,
    },
    {
      option: 'restSeconds',
      group: 'Afterwards',
      label: 'Recovery, rests',
      help: 'On the floor rests so long, then writes until the next knee: how much cache a rest regains. Such as 1 min, 5 min, 15 min.',
      flag: 'recovery',
      kind: DURATIONS,
      empty: 'none',
    },
    {
      option: 'keepScratch',
      group: 'Afterwards',
      label: 'Keep the scratch file',
      help: 'To read it again after a rest or a restart, with Existing material.',
      flag: 'keep',
      kind: SWITCH,
    },
    blockField,
    depthField,
    dataField,
    {
      option: 'flushEverySeconds',
      group: 'Requests',
      label: 'Flush every',
      help: 'As some recorders do, such as 2 s.',
      flag: 'flush-every',
      kind: SECONDS,
      empty: 'at the end only',
    },
  ],
  summary({ amountBytes, untilFloor, readBack, restSeconds, blockBytes, depth }) {
    const amount = amountBytes === null ? 'Up to the reserve' : bytesText(amountBytes);
    const parts = [
      untilFloor ? `${amount}, or a minute of the floor` : amount,
      ...(readBack ? ['read back'] : []),
      ...(restSeconds ? [`rests of ${restSeconds.map(formatDuration).join(', ')}`] : []),
      `${blockText(blockBytes)} blocks at depth ${depth}`,
    ];
    return parts.join(', ');
  },
  cost({ amountBytes, readBack, restSeconds }, { writeBytesPerSecond, readBytesPerSecond, roomBytes }) {
    const bytes = Math.min(amountBytes ?? roomBytes, roomBytes);
    const rests = (restSeconds ?? []).reduce((sum, seconds) => sum + seconds, 0);
    return {
      writtenBytes: bytes,
      readBytes: readBack ? bytes : 0,
      spaceBytes: bytes,
      seconds: addSeconds(
        secondsFor(bytes, writeBytesPerSecond),
        readBack ? secondsFor(bytes, readBytesPerSecond) : 0,
        rests,
      ),
    };
  },
};
