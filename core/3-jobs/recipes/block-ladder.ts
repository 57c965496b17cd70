import { object, string, type InferType } from 'yup';
import {
  DIRECTION_WORDS,
  blockListSchema,
  bytesSchema,
  depthListSchema,
  directionField,
  directionSchema,
  secondsSchema,
} from '#core/3-jobs/recipes/option-fields.ts';
import { addSeconds, secondsFor, type RecipeKind } from '#core/3-jobs/recipes/recipe-kind.ts';
import { DIRECTIONS, type Direction } from '#core/1-ground/curves/direction.ts';
import { blockText, bytesText, formatDuration } from '#core/1-ground/units/format.ts';
import { BLOCKS, BYTES, COUNTS, SECONDS, choiceOf } from '#core/1-ground/fields/kinds.ts';

export const ACCESS_ORDERS = ['sequential', 'random'] as const;
export type AccessOrder = (typeof ACCESS_ORDERS)[number];

/** Outstanding bytes beyond which another request says nothing new and only takes memory. */
const MOST_OUTSTANDING_BYTES = 256 * 1024 * 1024;

const KIB = 1024;
const MIB = 1024 * 1024;

/** Options of the recipe *Block ladder*, with its defaults. */
export const blockLadderOptionsSchema = object({
  blocks: blockListSchema.default([4 * KIB, 16 * KIB, 64 * KIB, 256 * KIB, MIB, 4 * MIB, 16 * MIB]),
  depths: depthListSchema.default([1, 4, 32]),
  direction: directionSchema,
  order: string()
    .oneOf(['both', ...ACCESS_ORDERS] as const, 'order: must be both, sequential or random.')
    .default('both'),
  /** Seconds of each rung. */
  seconds: secondsSchema('seconds', 0.2, 60).default(1),
  /** Stretch within which the requests fall. */
  areaBytes: bytesSchema('size').default(2e9),
}).noUnknown('${unknown}: is no option of Block ladder.');
export type BlockLadderOptions = InferType<typeof blockLadderOptionsSchema>;

/** Programs read, in no order: the rungs that say how long a load takes. */
export const AS_PROGRAMS_READ = { direction: 'read', order: 'random' } as const;

/** One step of a ladder. Rungs are numbered from 1 in the order in which they are measured. */
export interface Rung {
  rung: number;
  blockBytes: number;
  depth: number;
  order: AccessOrder;
  direction: Direction;
}

/** The rungs of a ladder, the large blocks first: a drive that has to wake does so on the layout before. */
export function rungsOf({ blocks, depths, direction, order }: BlockLadderOptions): Rung[] {
  const ways = direction === 'both' ? DIRECTIONS : [direction];
  const orders = order === 'both' ? ACCESS_ORDERS : [order];
  const rungs: Rung[] = [];
  for (const way of ways) {
    for (const one of orders) {
      for (const depth of [...depths].sort((a, b) => a - b)) {
        for (const blockBytes of [...blocks].sort((a, b) => b - a)) {
          if (blockBytes * depth > MOST_OUTSTANDING_BYTES) continue;
          rungs.push({ rung: rungs.length + 1, blockBytes, depth, order: one, direction: way });
        }
      }
    }
  }
  return rungs;
}

const ORDER_WORDS = { both: 'sequential and random', sequential: 'sequential', random: 'random' } as const;

export const blockLadderKind: RecipeKind<BlockLadderOptions> = {
  id: 'block-ladder',
  label: 'Block ladder',
  purpose:
    'Small and large requests, one or many at a time, in order and at random: what games, tools and databases meet.',
  measures: 'rungs',
  writesNames: false,
  readOnly: false,
  canBeHeld: true,
  hasTargets: false,
  options: blockLadderOptionsSchema,
  fields: [
    {
      option: 'blocks',
      group: 'Rungs',
      label: 'Block sizes',
      help: 'Powers of two from 4 KiB to 16 MiB, separated by commas.',
      flag: 'blocks',
      kind: BLOCKS,
    },
    {
      option: 'depths',
      group: 'Rungs',
      label: 'Queue depths',
      help: 'From 1 to 32, separated by commas.',
      flag: 'depths',
      kind: COUNTS,
    },
    {
      option: 'order',
      group: 'Rungs',
      label: 'Order',
      help: 'Where one request falls after the other.',
      flag: 'order',
      kind: choiceOf([
        ['both', 'Both'],
        ['sequential', 'Sequential'],
        ['random', 'Random'],
      ]),
    },
    directionField('Rungs', 'Random writing wears flash more than its bytes.'),
    {
      option: 'seconds',
      group: 'How much',
      label: 'Seconds of a rung',
      help: 'Under two, the workers’ start shows on fast drives.',
      flag: 'seconds',
      kind: SECONDS,
    },
    {
      option: 'areaBytes',
      group: 'How much',
      label: 'Stretch',
      help: 'The requests fall within it. The larger, the less a cache helps.',
      flag: 'size',
      kind: BYTES,
    },
  ],
  summary(options) {
    const { blocks, depths, direction, order, seconds, areaBytes } = options;
    const span = `${blockText(Math.min(...blocks))} to ${blockText(Math.max(...blocks))}`;
    return `${rungsOf(options).length} rungs of ${formatDuration(seconds)}: ${span}, depth ${depths.join(', ')}, ${ORDER_WORDS[order]}, ${DIRECTION_WORDS[direction]}, within ${bytesText(areaBytes)}`;
  },
  cost(options, { writeBytesPerSecond, roomBytes }) {
    const space = Math.min(options.areaBytes, roomBytes);
    return {
      writtenBytes: null,
      readBytes: null,
      spaceBytes: space,
      seconds: addSeconds(secondsFor(space, writeBytesPerSecond), rungsOf(options).length * options.seconds),
    };
  },
};
