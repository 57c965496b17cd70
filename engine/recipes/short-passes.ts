import { shortPassesKind, type ShortPassesOptions } from '#core/3-jobs/recipes/short-passes.ts';
import { bytesText } from '#core/1-ground/units/format.ts';
import { inBlocks, transferStep, type Recipe } from '#engine/recipes/recipe.ts';
import { requireRoom } from '#engine/recipes/room.ts';
import type { Plan, StepOutcome } from '#engine/volumes/volume.ts';

/** Long enough for the rate to show, short enough for a first reading within two seconds. */
const SIZING_SECONDS = 0.4;
/** What a drive of today could at most take in the sizing pass, with room to spare. */
const SIZING_BYTES = 64e9;
/** A pass that takes under half or over twice the time asked for is sized anew, once. */
const SIZE_TOLERANCE = 2;

/**
 * *Short passes*: write and read the same stretch again and again, to see the level and how much
 * it moves. Sized by time: a short pass finds the rate, then each pass takes about as long as asked.
 */
export const shortPasses: Recipe<ShortPassesOptions> = {
  kind: shortPassesKind,
  stepCount: ({ passes, direction }) =>
    passes === null ? null : direction === 'both' ? passes * 2 : direction === 'read' ? passes + 1 : passes,
  stepText: ({ passes }, { pass, direction, phase }) => {
    const doing = direction === 'write' ? 'writing' : 'reading';
    if (phase === 'sizing') return 'finding the size';
    if (phase === 'laying-out') return 'writing what will be read';
    return passes === null || pass > passes ? `pass ${pass}, ${doing}` : `pass ${pass} of ${passes}, ${doing}`;
  },
  check({ sizeBytes, blockBytes, depth }, { room }) {
    const size = sizeBytes === null ? blockBytes * depth : inBlocks(sizeBytes, blockBytes, depth);
    requireRoom(`A pass takes ${bytesText(size)}`, size, room, 'Type a smaller size', 'size');
  },
  plan: (options, { room }) => composePlan(options, room.bytes),
};

/**
 * A level shows after ten seconds. Passes that were to take so long and went quicker than they were sized for are
 * repeated until then; who asked for less gets less.
 */
const LEVEL_SECONDS = 10.2;
const MOST_MORE = 3;

/** Which pass is the last, by the seconds that all took so far. */
function lastPass({ passes, seconds, sizeBytes }: ShortPassesOptions) {
  const wantsLevel = passes !== null && sizeBytes === null && passes * seconds >= LEVEL_SECONDS;
  const took = { write: 0, read: 0 };
  return {
    add(direction: 'write' | 'read', { transferSeconds, flushSeconds }: StepOutcome): void {
      took[direction] += transferSeconds + flushSeconds;
    },
    isMore(pass: number): boolean {
      if (passes === null || pass <= passes) return true;
      const short = Object.values(took).some((one) => one > 0 && one < LEVEL_SECONDS);
      return wantsLevel && short && pass <= MOST_MORE * passes;
    },
  };
}

function* composePlan(options: ShortPassesOptions, roomBytes: number): Plan {
  const { blockBytes, depth, data, direction } = options;
  const most = Math.floor(roomBytes / blockBytes) * blockBytes;
  const base = { blockBytes, depth, data };
  const last = lastPass(options);

  let size: number;
  if (options.sizeBytes === null) {
    const bytes = Math.min(most, Math.floor(SIZING_BYTES / blockBytes) * blockBytes);
    yield { kind: 'allot', bytes };
    const sized = yield transferStep({
      ...base,
      direction: 'write',
      phase: 'sizing',
      pass: 0,
      bytes,
      untilSeconds: SIZING_SECONDS,
    });
    size = Math.min(most, inBlocks(sizingRate(sized) * options.seconds, blockBytes, depth));
  } else {
    size = inBlocks(options.sizeBytes, blockBytes, depth);
  }

  const read = (pass: number, bytes: number) =>
    transferStep({ ...base, direction: 'read', phase: 'reading', pass, bytes });
  if (direction === 'read') {
    yield { kind: 'allot', bytes: size };
    const laid = yield transferStep({ ...base, direction: 'write', phase: 'laying-out', pass: 1, bytes: size });
    for (let pass = 1; last.isMore(pass); pass += 1) {
      last.add('read', yield read(pass, Math.max(blockBytes, laid.bytes)));
    }
    return;
  }

  let allocating = true;
  let resized = options.sizeBytes !== null;
  for (let pass = 1; last.isMore(pass); pass += 1) {
    if (allocating) yield { kind: 'allot', bytes: size };
    const phase = allocating ? 'allocating' : 'overwriting';
    const written: StepOutcome = yield transferStep({ ...base, direction: 'write', phase, pass, bytes: size });
    last.add('write', written);
    if (direction === 'both') last.add('read', yield read(pass, Math.max(blockBytes, written.bytes)));
    const seconds = written.transferSeconds + written.flushSeconds;
    const off = seconds > options.seconds * SIZE_TOLERANCE || seconds < options.seconds / SIZE_TOLERANCE;
    allocating = !resized && off;
    if (allocating) size = Math.min(most, inBlocks(rateOf(written) * options.seconds, blockBytes, depth));
    resized = true;
  }
}

/** A drive that had to spin up first is sized by what it did from then on. */
function sizingRate(outcome: StepOutcome): number {
  const waited = outcome.firstSeconds > SIZING_SECONDS ? outcome.firstSeconds : 0;
  return rateOf({ ...outcome, transferSeconds: outcome.transferSeconds - waited });
}

function rateOf({ bytes, transferSeconds, flushSeconds }: StepOutcome): number {
  return bytes / Math.max(1e-6, transferSeconds + flushSeconds);
}
