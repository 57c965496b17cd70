import { SMALLEST_REQUEST_BYTES, type LoadItem } from '#core/3-jobs/demand/loads/load-item.ts';
import { AS_PROGRAMS_READ, blockLadderOptionsSchema, rungsOf } from '#core/3-jobs/recipes/block-ladder.ts';
import { LARGEST_BLOCK_BYTES, MOST_DEPTH } from '#core/3-jobs/recipes/option-fields.ts';
import type { RequestSupply } from '#core/4-runs/supply/request-rate.ts';
import type { ProvingRun } from '#core/5-answers/verdict/verdict.ts';

const USUAL_BLOCKS = [SMALLEST_REQUEST_BYTES, 65_536, 1_048_576];

/** The largest block of a ladder that is no larger. */
const blockBelow = (bytes: number): number =>
  Math.min(LARGEST_BLOCK_BYTES, Math.max(SMALLEST_REQUEST_BYTES, 2 ** Math.floor(Math.log2(bytes))));

/**
 * The ladder that measures what a load asks for, and no more than that: its own sizes and how many go at a time, and what
 * lies below them, so that it says nothing too bad of other loads.
 */
export function ladderFor({ phases }: LoadItem, requests: RequestSupply): ProvingRun {
  const reading = phases.filter(({ bytes, operations }) => bytes > 0 || operations > 0);
  const sizes = reading.flatMap(({ requestBytes }) => [blockBelow(requestBytes), blockBelow(2 * requestBytes - 1)]);
  return ladderOf(
    [...USUAL_BLOCKS.filter((block) => block < Math.max(...sizes)), ...sizes],
    [1, ...reading.map(({ parallel }) => Math.min(MOST_DEPTH, parallel))],
    1,
    requests,
  );
}

/** One ladder that measures what several would. */
export function oneLadder(ladders: readonly NonNullable<ProvingRun['ladder']>[], requests: RequestSupply): ProvingRun {
  return ladderOf(
    ladders.flatMap(({ blocks }) => blocks),
    ladders.flatMap(({ depths }) => depths),
    ladders.length,
    requests,
  );
}

/** A ladder of sizes and of how many go at a time, in any order and more than once. */
function ladderOf(
  anyBlocks: readonly number[],
  anyDepths: readonly number[],
  loads: number,
  { writeBytesPerSecond }: RequestSupply,
): ProvingRun {
  const [blocks, depths] = [anyBlocks, anyDepths].map((all) => [...new Set(all)].sort((a, b) => a - b));
  const options = blockLadderOptionsSchema.cast({ blocks, depths, ...AS_PROGRAMS_READ });
  const rate = writeBytesPerSecond ?? null;
  return {
    recipe: 'block-ladder',
    readsBack: false,
    bytes: options.areaBytes,
    seconds: rate === null ? null : options.areaBytes / rate + rungsOf(options).length * options.seconds,
    restSeconds: null,
    ladder: { blocks: options.blocks, depths: options.depths, loads },
  };
}
