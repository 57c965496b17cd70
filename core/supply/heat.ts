import type { RunDocument } from '#core/run/run-document.ts';
import { countedPasses, passesOf } from '#core/trace/passes.ts';
import { readTrace, type Level, type TraceReading } from '#core/trace/reading.ts';

/** A drive that slowed when it had become as hot as it gets. */
export interface Heat {
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
 * Whether a level fell at the temperature's plateau. A fall at the knee may be the cache's end, so there
 * it counts only when the rate came back later.
 */
export function heatOf(run: Pick<RunDocument, 'samples' | 'markers' | 'conditions'>): Heat | null {
  const { atSeconds, temperatureCelsius } = run.conditions.series;
  const known = temperatureCelsius.flatMap((celsius, row) =>
    celsius === null ? [] : [{ celsius, seconds: atSeconds[row]! }],
  );
  if (known.length === 0) return null;
  let [lowest, highest] = [Infinity, -Infinity];
  for (const { celsius } of known) {
    lowest = Math.min(lowest, celsius);
    highest = Math.max(highest, celsius);
  }
  if (highest - lowest < LEAST_RISE_CELSIUS) return null;
  const { counted } = countedPasses(passesOf(run), 'write');
  const longest = counted.reduce<(typeof counted)[number] | null>(
    (long, pass) => (long === null || pass.bytes > long.bytes ? pass : long),
    null,
  );
  const reading = longest && readTrace(longest.progress);
  if (!longest || !reading) return null;
  const celsiusAt = (seconds: number) => known.findLast((one) => one.seconds <= seconds)?.celsius ?? lowest;
  for (const [index, level] of reading.levels.entries()) {
    const before = reading.levels[index - 1];
    if (!before || level.bytesPerSecond > (1 - LEAST_FALL) * before.bytesPerSecond) continue;
    const seconds = longest.startSeconds + level.fromSeconds;
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
