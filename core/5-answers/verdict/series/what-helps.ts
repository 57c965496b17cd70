import { seriesWork } from '#core/3-jobs/demand/series/series-kind.ts';
import type { SeriesItem } from '#core/3-jobs/demand/series/series-item.ts';
import type { Supply } from '#core/4-runs/supply/profile.ts';
import { formatDuration, formatNumber } from '#core/1-ground/units/format.ts';
import { seriesOnDrive } from '#core/5-answers/verdict/series/series-on-drive.ts';

/** What shortens a simulation more for its money: another drive, or another processor. */

export interface DriveToHelp {
  label: string;
  supply: Supply;
  price: number | null;
  currency: string;
}

/** Seconds; `secondsPerHundred` for each hundred of its price, null where that is not known. */
export interface Help {
  label: string;
  savedSeconds: number;
  ofSeconds: number;
  price: number | null;
  currency: string;
  secondsPerHundred: number | null;
}

/** The same simulation on a processor so many times as fast. */
const computedFaster = (item: SeriesItem, factor: number): SeriesItem => ({
  ...item,
  computeSeconds: item.computeSeconds.map((seconds) => seconds / factor),
});

/**
 * What each other drive and the processor of the item would save on what the simulation takes now; what saves most for
 * its money first, what has no price last. Empty where nothing is known of the drive it is written to now.
 */
export function whatHelps(item: SeriesItem, now: DriveToHelp, others: readonly DriveToHelp[]): Help[] {
  const own = seriesOnDrive(item, now.supply)?.neverEmptied.totalSeconds;
  // Of times that hold the writing to an unknown drive nobody can say what another drive would save.
  if (own === undefined || seriesWork(item).holdsWriting) return [];
  const helps: Help[] = [];
  const add = (label: string, seconds: number | undefined, price: number | null, currency: string) => {
    if (seconds === undefined || seconds >= own) return;
    const savedSeconds = own - seconds;
    const secondsPerHundred = price !== null && price > 0 ? (savedSeconds / price) * 100 : null;
    helps.push({ label, savedSeconds, ofSeconds: own, price, currency, secondsPerHundred });
  };
  for (const { label, supply, price, currency } of others) {
    add(label, seriesOnDrive(item, supply)?.neverEmptied.totalSeconds, price, currency);
  }
  const { processor } = item;
  if (processor) {
    const faster = seriesOnDrive(computedFaster(item, processor.factor), now.supply)?.neverEmptied.totalSeconds;
    add(`A processor ${formatNumber(processor.factor)} times as fast`, faster, processor.price, processor.currency);
  }
  return helps.sort(
    (a, b) => (b.secondsPerHundred ?? -1) - (a.secondsPerHundred ?? -1) || b.savedSeconds - a.savedSeconds,
  );
}

/** “Shuttle saves 14 min 20 s of 59 min 38 s, 7.58 min for each 100 EUR.” */
export function helpText({ label, savedSeconds, ofSeconds, price, currency, secondsPerHundred }: Help): string {
  const saved = `${label} saves ${formatDuration(savedSeconds)} of ${formatDuration(ofSeconds)}`;
  if (secondsPerHundred === null) return `${saved}; ${price === 0 ? 'it costs nothing' : 'its price is not known'}.`;
  return `${saved}: ${formatNumber(secondsPerHundred / 60)} minutes for each 100 ${currency}`.trimEnd() + '.';
}
