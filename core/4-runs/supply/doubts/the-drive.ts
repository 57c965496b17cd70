import { DIRECTIONS } from '#core/1-ground/curves/direction.ts';
import type { DoubtKind } from '#core/4-runs/supply/doubts/doubt.ts';
import { formatDuration, formatNumber, rateText, formatShare } from '#core/1-ground/units/format.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import type { RunFigures } from '#core/4-runs/trace/figures.ts';
import type { Level, TraceReading } from '#core/4-runs/trace/reading.ts';

// What is no doubt about a run but how the drive is.

/** Others measured it, and a table tells no more than how fast it was. */
export const fromTable: DoubtKind = {
  code: 'from-a-table',
  effect: 'finding',
  advice: 'Trust it as far as you trust whoever made it; a run of your own shows the rest.',
  find: ({ conditions }) =>
    conditions.ioMode === 'unknown'
      ? [
          {
            evidence:
              'It was read from a table: nothing is known of how it was measured, or whether it went past a cache.',
          },
        ]
      : [],
};

/** A drive had to wake first. */
export const spinUp: DoubtKind = {
  code: 'spin-up',
  effect: 'apart',
  advice: 'Wake the drive before a take.',
  find: (_run, figures) =>
    DIRECTIONS.flatMap((direction) => {
      const seconds = figures[direction]?.spinUpSeconds ?? 0;
      if (seconds <= 0) return [];
      return [
        { direction, evidence: `Nothing moved for the first ${formatDuration(seconds)}; that wait is not counted.` },
      ];
    }),
};

/** A first pass unlike all others. */
export const ramp: DoubtKind = {
  code: 'ramp',
  effect: 'apart',
  advice: 'No need to act: that pass is not counted.',
  find: (_run, figures) =>
    DIRECTIONS.filter((direction) => (figures[direction]?.passesApart ?? 0) > 0).map((direction) => ({
      direction,
      evidence: 'The first pass lay outside what the others span and is not counted.',
    })),
};

/** The drive slowed down as it grew hot. */
export const heat: DoubtKind = {
  code: 'heat',
  effect: 'finding',
  advice: 'Give the drive air or a heat sink, or pause between takes.',
  find(run, figures) {
    const fall = heatOf(run, figures);
    if (!fall) return [];
    const rates = `from ${rateText(fall.beforeBytesPerSecond)} to ${rateText(fall.afterBytesPerSecond)}`;
    return [{ evidence: `At ${formatNumber(fall.celsius)} °C the rate fell ${rates}.`, atSeconds: fall.atSeconds }];
  },
};

/** A drive that slowed when it had become as hot as it gets. */
interface Heat {
  atSeconds: number;
  celsius: number;
  beforeBytesPerSecond: number;
  afterBytesPerSecond: number;
}

/** A drive that warmed by less did not run into its limit. */
const LEAST_RISE_CELSIUS = 12;
/** The plateau begins this close to the highest temperature. */
const PLATEAU_CELSIUS = 2;
const LEAST_FALL = 0.1;
/** A rate that comes back to this share of what it was had not run out of cache. */
const RECOVERED = 0.9;

/**
 * Whether a level of writing fell at the temperature's plateau. A fall at the knee may be the cache's end, so
 * there it counts only when the rate came back later.
 */
function heatOf({ conditions }: RunDocument, { write }: RunFigures): Heat | null {
  const { atSeconds, temperatureCelsius } = conditions.series;
  const known = temperatureCelsius.flatMap((celsius, row) =>
    celsius === null ? [] : [{ celsius, seconds: atSeconds[row]! }],
  );
  if (known.length === 0 || !write?.reading) return null;
  let [lowest, highest] = [Infinity, -Infinity];
  for (const { celsius } of known) {
    lowest = Math.min(lowest, celsius);
    highest = Math.max(highest, celsius);
  }
  if (highest - lowest < LEAST_RISE_CELSIUS) return null;
  const { reading, readingFromSeconds } = write;
  const celsiusAt = (seconds: number) => known.findLast((one) => one.seconds <= seconds)?.celsius ?? lowest;
  for (const [index, level] of reading.levels.entries()) {
    const before = reading.levels[index - 1];
    if (!before || level.bytesPerSecond > (1 - LEAST_FALL) * before.bytesPerSecond) continue;
    const seconds = readingFromSeconds + level.fromSeconds;
    const celsius = celsiusAt(seconds + 1);
    if (celsius < highest - PLATEAU_CELSIUS) continue;
    if (isKnee(level, reading) && !comesBack(reading.levels.slice(index + 1), before)) continue;
    return {
      atSeconds: seconds,
      celsius,
      beforeBytesPerSecond: before.bytesPerSecond,
      afterBytesPerSecond: level.bytesPerSecond,
    };
  }
  return null;
}

function isKnee({ fromSeconds }: Level, { kneeSeconds }: TraceReading): boolean {
  return kneeSeconds !== null && Math.abs(fromSeconds - kneeSeconds) < 1;
}

function comesBack(later: readonly Level[], before: Level): boolean {
  return later.some((level) => level.bytesPerSecond > RECOVERED * before.bytesPerSecond);
}

const NEARLY_FULL = 0.85;

/** Many drives are slower where they are full. */
export const nearlyFull: DoubtKind = {
  code: 'nearly-full',
  effect: 'finding',
  advice: 'Free some space before the job.',
  find({ conditions: { start } }) {
    const fill = start.totalBytes > 0 ? 1 - start.freeBytes / start.totalBytes : 0;
    if (fill <= NEARLY_FULL) return [];
    return [{ evidence: `The volume was ${formatShare(fill)} full, where many drives are slower.` }];
  },
};

const UNSTEADY = 0.15;

/** Passes that differ among themselves. */
export const unsteady: DoubtKind = {
  code: 'unsteady',
  effect: 'finding',
  advice: 'Look at the slowest second; the job has to live with it.',
  find: (_run, figures) =>
    DIRECTIONS.flatMap((direction) => {
      const share = figures[direction]?.coefficientOfVariation ?? 0;
      if (share <= UNSTEADY) return [];
      const passes = `The passes ${direction === 'write' ? 'writing' : 'reading'}`;
      return [{ direction, evidence: `${passes} differ by ${formatShare(share)} (standard deviation ÷ mean).` }];
    }),
};
