import { number, object, type InferType } from 'yup';
import { greatest, median, quantile } from '#core/1-ground/numbers/statistics.ts';
import { nullableNumberColumn } from '#core/1-ground/schema/columns.ts';
import { decibelText, formatDuration } from '#core/1-ground/units/format.ts';

/** Levels that are kept of a run: one every few seconds where it goes on for hours. */
export const MOST_LEVELS = 4000;

/** How loud it was where a microphone stood while a run went on. Of the sound itself nothing is kept. */
export const loudnessSchema = object({
  /** Seconds since the run began at which the first level begins; below 0 for what was heard before it. */
  fromSeconds: number().min(-3600).max(604_800).required(),
  /** Seconds of each level. */
  stepSeconds: number().min(0.05).max(3600).required(),
  /** A-weighted, averaged by energy, decibels against the microphone's full scale; null where nothing was heard. */
  levels: nullableNumberColumn().test('length', `levels: has more than ${MOST_LEVELS} values.`, (levels) => {
    return !Array.isArray(levels) || levels.length <= MOST_LEVELS;
  }),
  /** Decibels that make sound pressure levels of them; null where no known level was typed. */
  offsetDecibels: number().min(-200).max(400).nullable().defined(),
});
export type Loudness = InferType<typeof loudnessSchema>;

/** Mean of levels by energy, decibels. */
export const energyMean = (levels: readonly number[]): number =>
  10 * Math.log10(levels.reduce((sum, level) => sum + 10 ** (level / 10), 0) / levels.length);

/** The same with as few levels as are kept, neighbours averaged by energy. */
export function thinned(loudness: Loudness): Loudness {
  const together = Math.ceil(loudness.levels.length / MOST_LEVELS);
  if (together <= 1) return loudness;
  const levels = Array.from({ length: Math.ceil(loudness.levels.length / together) }, (_, at) => {
    const known = loudness.levels.slice(at * together, (at + 1) * together).filter((level) => level !== null);
    return known.length === 0 ? null : energyMean(known);
  });
  return { ...loudness, stepSeconds: loudness.stepSeconds * together, levels };
}

/** Up to so long before a run counts as how loud it was before. */
const BEFORE_SECONDS = 60;
/** With less of it nothing is said. */
export const LEAST_BEFORE_SECONDS = 2.5;
/** What stands out by less cannot be told from the room (ISO 3746, criterion for background noise). */
export const LEAST_ABOVE_DECIBELS = 3;
/** A drive that spins up does so in the first seconds. */
const SPIN_UP_SECONDS = 15;
/** Levels that lie further apart are told of: somebody may have spoken. */
const UNEVEN_DECIBELS = 10;

/** What was heard, decibels in the levels' own scale. */
export interface Heard {
  /** The middle one of the levels before the run; null where there are too few. */
  before: number | null;
  /** The middle one while data was moved. */
  underLoad: number;
  /** What was added to the room by energy; null where it cannot be told from it, or the room was not heard. */
  added: number | null;
  loudest: { level: number; atSeconds: number };
  /** From the quietest tenth to the loudest tenth while data was moved. */
  spread: number;
}

/**
 * @param movedSeconds first and last moment of the run at which data was moved, seconds since it began
 * @returns null where nothing was heard while data was moved
 */
export function heardIn(
  { fromSeconds, stepSeconds, levels }: Loudness,
  movedSeconds: readonly [number, number],
): Heard | null {
  const rows = levels.flatMap((level, at) => {
    const begin = fromSeconds + at * stepSeconds;
    return level === null ? [] : [{ level, begin, end: begin + stepSeconds }];
  });
  const [first, last] = movedSeconds;
  const earlier = rows.filter(({ begin, end }) => end <= 0 && begin >= -BEFORE_SECONDS).map(({ level }) => level);
  const running = rows.filter(({ begin, end }) => begin >= 0 && end <= last);
  const loaded = running.filter(({ begin }) => begin >= first).map(({ level }) => level);
  if (loaded.length === 0) return null;
  const ascending = [...loaded].sort((a, b) => a - b);
  const before = earlier.length * stepSeconds < LEAST_BEFORE_SECONDS ? null : median(earlier);
  const underLoad = median(loaded);
  const loudest = greatest(running.map(({ level }) => level));
  return {
    before,
    underLoad,
    added:
      before === null || underLoad - before < LEAST_ABOVE_DECIBELS
        ? null
        : 10 * Math.log10(10 ** (underLoad / 10) - 10 ** (before / 10)),
    loudest: { level: loudest, atSeconds: running.find(({ level }) => level === loudest)!.begin },
    spread: quantile(ascending, 0.9)! - quantile(ascending, 0.1)!,
  };
}

/** What was heard, in sentences. */
export function heardWords({ before, underLoad, added, loudest, spread }: Heard, offset: number | null): string {
  const absolute = (level: number): string => `${decibelText(level + offset!)}(A)`;
  const above = underLoad - (before ?? underLoad);
  const isPlain = before !== null && added === null;
  const load =
    offset === null
      ? before === null
        ? ''
        : isPlain
          ? `Under load ${decibelText(Math.abs(above))} ${above < 0 ? 'quieter' : 'louder'} than before it began.`
          : `Under load ${decibelText(above)} louder than before it began.`
      : `Under load ${absolute(underLoad)}${before === null ? '' : `, before it began ${absolute(before)}`}.`;
  const own = isPlain
    ? `That is too little to tell the drive from the room: it takes ${decibelText(LEAST_ABOVE_DECIBELS)}.`
    : before === null
      ? 'Nothing was heard before it began: how much of it is the drive’s is not known.'
      : offset === null
        ? ''
        : `Drive, enclosure and machine by themselves: ${absolute(added!)} where the microphone stood.`;
  const peak = loudest.level - underLoad;
  const most =
    peak < LEAST_ABOVE_DECIBELS
      ? ''
      : `Loudest ${offset === null ? `${decibelText(peak)} above that` : absolute(loudest.level)}, ${formatDuration(loudest.atSeconds)} after it began` +
        (loudest.atSeconds <= SPIN_UP_SECONDS ? ', as when a drive spins up.' : '.');
  const uneven =
    spread < UNEVEN_DECIBELS
      ? ''
      : `Its quieter and louder parts lie ${decibelText(spread)} apart: other sounds may be among it.`;
  return [load, own, most, uneven].filter(Boolean).join(' ');
}
