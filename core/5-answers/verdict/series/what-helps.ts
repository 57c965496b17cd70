import { seriesWork } from '#core/3-jobs/demand/series/series-kind.ts';
import type { SeriesItem } from '#core/3-jobs/demand/series/series-item.ts';
import type { Supply } from '#core/4-runs/supply/profile.ts';
import { formatDuration, formatNumber } from '#core/1-ground/units/format.ts';
import { BY_TYPED_RATES } from '#core/5-answers/verdict/sentences.ts';
import { fullAt, seriesOnDrive } from '#core/5-answers/verdict/series/series-on-drive.ts';

/** What shortens a simulation more for its money: another drive, or another processor. */

export interface DriveToHelp {
  label: string;
  supply: Supply;
  /** Bytes that can be used on it; null where that is not known, which rules nothing out. */
  roomBytes: number | null;
  price: number | null;
  currency: string;
}

/** A simulation on another drive or processor beside what it takes now; seconds, null where they are not known. */
export interface BesideNow {
  label: string;
  /** Place among the drives it was held against; null of a processor, on the drive it is written to now. */
  place: number | null;
  totalSeconds: number | null;
  /** Below zero where it takes longer. */
  savedSeconds: number | null;
  /** It, or the drive that the simulation is written to now, is known from its box only. */
  isPromise: boolean;
  /** Where it is full before the simulation ends; null where all of it fits, or the room is not known. */
  full: ReturnType<typeof fullAt>;
  price: number | null;
  currency: string;
  /** Saved for each hundred of its price; null where nothing is saved, not all of it fits, or its price is not known. */
  secondsPerHundred: number | null;
}

/** What one of them saves. */
export interface Help extends Omit<BesideNow, 'place' | 'totalSeconds'> {
  savedSeconds: number;
  ofSeconds: number;
}

/** The same simulation on a processor so many times as fast. */
const computedFaster = (item: SeriesItem, factor: number): SeriesItem => ({
  ...item,
  computeSeconds: item.computeSeconds.map((seconds) => seconds / factor),
});

/**
 * How the simulation goes on each other drive and on the processor of the item, beside what it takes now; what saves
 * most for its money first, then what has no price, what saves nothing, where it does not fit, and last what was not
 * measured. Empty where nothing is known of the drive it is written to now.
 */
export function besideNow(item: SeriesItem, now: DriveToHelp, others: readonly DriveToHelp[]): BesideNow[] {
  const own = seriesOnDrive(item, now.supply)?.neverEmptied.totalSeconds;
  // Of times that hold the writing to an unknown drive nobody can say what another drive would save.
  if (own === undefined || seriesWork(item).holdsWriting) return [];
  const beside = (
    totalSeconds: number | null,
    { label, price, currency, roomBytes, supply }: DriveToHelp,
    place: number | null,
  ): BesideNow => {
    const savedSeconds = totalSeconds === null ? null : own - totalSeconds;
    const full = fullAt(item, roomBytes);
    const isWorth = savedSeconds !== null && savedSeconds > 0 && full === null && price !== null && price > 0;
    const secondsPerHundred = isWorth ? (savedSeconds / price) * 100 : null;
    const isPromise = supply.isPromise || now.supply.isPromise;
    return { label, place, totalSeconds, savedSeconds, isPromise, full, price, currency, secondsPerHundred };
  };
  const secondsOn = (of: SeriesItem, supply: Supply) => seriesOnDrive(of, supply)?.neverEmptied.totalSeconds ?? null;
  const found = others.map((one, place) => beside(secondsOn(item, one.supply), one, place));
  const { processor } = item;
  if (processor) {
    const label = `A processor ${formatNumber(processor.factor)} times as fast`;
    found.push(
      beside(
        secondsOn(computedFaster(item, processor.factor), now.supply),
        { ...now, ...processor, label, roomBytes: null },
        null,
      ),
    );
  }
  const rank = ({ totalSeconds, full }: BesideNow): number => (totalSeconds === null ? 2 : full === null ? 0 : 1);
  return found.sort(
    (a, b) =>
      rank(a) - rank(b) ||
      (b.secondsPerHundred ?? -1) - (a.secondsPerHundred ?? -1) ||
      (b.savedSeconds ?? -Infinity) - (a.savedSeconds ?? -Infinity),
  );
}

/** What each other drive and the processor of the item would save, what saves most for its money first. */
export function whatHelps(item: SeriesItem, now: DriveToHelp, others: readonly DriveToHelp[]): Help[] {
  return besideNow(item, now, others).flatMap(({ place: _, totalSeconds, savedSeconds, ...one }) =>
    totalSeconds !== null && savedSeconds !== null && savedSeconds > 0
      ? [{ ...one, savedSeconds, ofSeconds: totalSeconds + savedSeconds }]
      : [],
  );
}

/** “full at frame 91, version 2”. */
export const fullText = ({ frame, version }: NonNullable<BesideNow['full']>): string =>
  `full at frame ${formatNumber(frame, 'full')}${version > 1 ? `, version ${formatNumber(version)}` : ''}`;

/** “Shuttle saves 14 min 20 s of 59 min 38 s: 7.58 minutes for each 100 EUR.” */
export function helpText(help: Help): string {
  const { label, savedSeconds, ofSeconds, isPromise, full, price, currency, secondsPerHundred } = help;
  const time = `${formatDuration(savedSeconds)} of ${formatDuration(ofSeconds)}`;
  const saved = isPromise ? `${label} would save ${time}, ${BY_TYPED_RATES}` : `${label} saves ${time}`;
  if (full) return `${saved}, but not all of it fits there: it is ${fullText(full)}.`;
  if (secondsPerHundred === null) return `${saved}; ${price === 0 ? 'it costs nothing' : 'its price is not known'}.`;
  return `${saved}: ${formatNumber(secondsPerHundred / 60)} minutes for each 100 ${currency}`.trimEnd() + '.';
}
