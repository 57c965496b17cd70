import type { Direction } from '#core/run/direction.ts';
import type { DoubtKind, Occasion } from '#core/supply/doubts/doubt.ts';
import { passesOf, type Pass } from '#core/trace/passes.ts';
import { median } from '#core/trace/spread.ts';
import { formatDuration } from '#core/units/format.ts';

/** So long a time in which nothing moved is told; what is shorter is part of how a drive works. */
const LEAST_SECONDS = 10;
/** Samples further apart than so many of the usual ones were not taken: the program itself stood still. */
const USUAL_SAMPLES = 20;

interface Stop {
  atSeconds: number;
  seconds: number;
  /** Samples were taken meanwhile, so that it was the drive. */
  isSeen: boolean;
}

/** The longest time in a pass in which nothing moved; null where none is worth telling. */
function longestStop({ progress: { seconds, bytes }, startSeconds }: Pass): Stop | null {
  if (seconds.length < 3) return null;
  const steps = seconds.slice(1).map((second, index) => second - seconds[index]!);
  const usual = median(steps);
  let longest: Stop | null = null;
  const take = (stop: Stop) => {
    if (stop.seconds >= LEAST_SECONDS && stop.seconds > (longest?.seconds ?? 0)) longest = stop;
  };
  let from = 0;
  for (let point = 1; point < seconds.length; point += 1) {
    const step = steps[point - 1]!;
    if (step > USUAL_SAMPLES * usual) {
      take({ atSeconds: startSeconds + seconds[point - 1]!, seconds: step, isSeen: false });
    }
    if (bytes[point]! > bytes[from]!) {
      const stood = seconds[point - 1]! - seconds[from]!;
      take({ atSeconds: startSeconds + seconds[from]!, seconds: stood, isSeen: true });
      from = point;
    }
  }
  return longest;
}

function occasions(
  run: Parameters<DoubtKind['find']>[0],
  isSeen: boolean,
  words: (seconds: number) => string,
): Occasion[] {
  const found = new Map<Direction, Stop>();
  for (const pass of passesOf(run)) {
    const stop = longestStop(pass);
    if (stop?.isSeen === isSeen && stop.seconds > (found.get(pass.direction)?.seconds ?? 0))
      found.set(pass.direction, stop);
  }
  return [...found].map(([direction, { atSeconds, seconds }]) => ({ direction, atSeconds, evidence: words(seconds) }));
}

/** The drive moved nothing for long. */
export const stoodStill: DoubtKind = {
  code: 'stood-still',
  effect: 'finding',
  advice: 'It counts: a take would have stood still with it. Measure again to see whether it comes again.',
  find: (run) => occasions(run, true, (seconds) => `Nothing moved for ${formatDuration(seconds)} in the middle of it.`),
};

/** Nothing was even looked at for long: the program was held, or its machine. */
export const heldUp: DoubtKind = {
  code: 'held-up',
  effect: 'too-low',
  advice: 'Measure again with nothing that holds the program or its machine.',
  find: (run) =>
    occasions(
      run,
      false,
      (seconds) =>
        `For ${formatDuration(seconds)} the program itself did not run, so that it may not have been the drive.`,
    ),
};
