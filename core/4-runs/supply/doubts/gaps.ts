import type { DoubtKind, Occasion } from '#core/4-runs/supply/doubts/doubt.ts';
import { formatDuration } from '#core/1-ground/units/format.ts';
import { DIRECTIONS, type Direction } from '#core/1-ground/curves/direction.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';

// Doubts about runs that did not go on as they should.

/** The machine slept meanwhile. */
export const slept: DoubtKind = {
  code: 'slept',
  effect: 'partial',
  advice: 'Keep the machine awake and measure again for the whole.',
  find({ markers }) {
    const sleeps = markers.filter((marker) => marker.kind === 'sleep');
    if (sleeps.length === 0) return [];
    const seconds = sleeps.reduce((sum, marker) => sum + marker.seconds, 0);
    return [
      {
        evidence: `The machine slept for ${formatDuration(seconds)} during the run.`,
        atSeconds: sleeps[0]!.atSeconds,
      },
    ];
  },
};

/** The program ended during the run. */
export const interrupted: DoubtKind = {
  code: 'interrupted',
  effect: 'partial',
  advice: 'Measure again for the whole; what was measured counts.',
  find: ({ state }) =>
    state === 'interrupted' ? [{ evidence: 'The program ended during the run; what had been measured counts.' }] : [],
};

/** So long a time in which nothing moved is reported; what is shorter is part of how a drive works. */
const LEAST_SECONDS = 10;
/**
 * Looks that lie so far apart, and further than so many as usual, were not taken: the program itself did not run. A look
 * is due ten times a second, so that half a second without one is a processor that was elsewhere.
 */
const LEAST_UNSEEN_SECONDS = 0.5;
const USUAL_LOOKS = 4;
/** What writes and reads does not wait for the looks: where bytes went on like this share of before, it did run. */
const WENT_ON_SHARE = 0.5;
/** So many looks before it say how bytes went on. */
const LOOKS_BEFORE = 10;

interface Stop {
  atSeconds: number;
  seconds: number;
}

interface Standing {
  /** Nothing moved while it was looked at. */
  seen: Partial<Record<Direction, Stop>>;
  /** Nothing was looked at. */
  unseen: Partial<Record<Direction, Stop>>;
}

/** The longest time in each direction in which nothing moved in the middle of a transfer, what a person held left out. */
function standingOf({ samples, markers }: RunDocument): Standing {
  const { atSeconds, cumulativeBytes, direction, pass } = samples;
  const pauses = markers.filter(({ kind }) => kind === 'pause' || kind === 'sleep' || kind === 'rest');
  const heldIn = (from: number, to: number) =>
    pauses.reduce(
      (sum, one) => sum + Math.max(0, Math.min(to, one.atSeconds + one.seconds) - Math.max(from, one.atSeconds)),
      0,
    );
  const found: Standing = { seen: {}, unseen: {} };
  const take = (stops: Standing['seen'], way: Direction, from: number, to: number, least: number) => {
    if (to - from < least) return;
    const seconds = to - from - heldIn(from, to);
    if (seconds >= least && seconds > (stops[way]?.seconds ?? 0)) stops[way] = { atSeconds: from, seconds };
  };
  // Two kinds of doubt ask for it with every run, and few have a step so long: sorted only then.
  let usual: number | undefined;
  const isUnusual = (step: number) => step > USUAL_LOOKS * (usual ??= usualStepOf(atSeconds));
  // Where each direction's transfer is: its last look, and the look at which bytes last moved; null before the first did.
  const at: Partial<Record<Direction, { row: number; movedRow: number | null }>> = {};
  for (let row = 0; row < atSeconds.length; row += 1) {
    const way = direction[row]!;
    const last = at[way];
    if (!last || pass[last.row] !== pass[row]) {
      at[way] = { row, movedRow: null };
      continue;
    }
    const [from, to] = [atSeconds[last.row]!, atSeconds[row]!];
    const moved = cumulativeBytes[row]! - cumulativeBytes[last.row]!;
    if (to - from >= LEAST_UNSEEN_SECONDS && isUnusual(to - from)) {
      const before = rateBefore(samples, last.row);
      // Where nothing tells how bytes went on, only what is long counts.
      if (before === 0) take(found.unseen, way, from, to, LEAST_SECONDS);
      else if (moved < WENT_ON_SHARE * before * (to - from)) take(found.unseen, way, from, to, LEAST_UNSEEN_SECONDS);
    }
    if (moved > 0) {
      if (last.movedRow !== null) take(found.seen, way, atSeconds[last.movedRow]!, from, LEAST_SECONDS);
      last.movedRow = row;
    }
    last.row = row;
  }
  return found;
}

/** Bytes per second in the last looks of a transfer up to one of them; 0 where it is the first, or nothing moved. */
function rateBefore({ atSeconds, cumulativeBytes, direction, pass }: RunDocument['samples'], row: number): number {
  let first = row;
  for (let at = row - 1, looks = 1; at >= 0 && pass[at] === pass[row] && looks < LOOKS_BEFORE; at -= 1) {
    if (direction[at] !== direction[row]) continue;
    first = at;
    looks += 1;
  }
  if (first === row) return 0;
  return (cumulativeBytes[row]! - cumulativeBytes[first]!) / (atSeconds[row]! - atSeconds[first]!);
}

/** The step from one look to the next that lies in the middle of all, seconds. */
function usualStepOf(atSeconds: readonly number[]): number {
  const steps = Float64Array.from(atSeconds, (at, row) => (row > 0 ? at - atSeconds[row - 1]! : 0)).sort();
  return steps[steps.length >> 1] ?? 0;
}

const occasions = (stops: Standing['seen'], words: (seconds: number) => string): Occasion[] =>
  DIRECTIONS.flatMap((direction) => {
    const stop = stops[direction];
    return stop ? [{ direction, atSeconds: stop.atSeconds, evidence: words(stop.seconds) }] : [];
  });

/** The drive moved nothing for long. */
export const stoodStill: DoubtKind = {
  code: 'stood-still',
  effect: 'finding',
  advice: 'It counts: a take would have stood still with it. Measure again to see whether it comes again.',
  find: (run) =>
    occasions(standingOf(run).seen, (seconds) => `Nothing moved for ${formatDuration(seconds)} in the middle of it.`),
};

/** Nothing was even looked at, and nothing moved: the program was held, or its machine. */
export const heldUp: DoubtKind = {
  code: 'held-up',
  effect: 'too-low',
  advice: 'Measure again with nothing that holds the program or its machine.',
  find: (run) =>
    occasions(
      standingOf(run).unseen,
      (seconds) =>
        `For ${formatDuration(seconds)} the program itself did not run, so that it may not have been the drive.`,
    ),
};
