import { DIRECTIONS, type Direction } from '#core/1-ground/curves/direction.ts';
import type { DoubtKind } from '#core/4-runs/supply/doubts/doubt.ts';
import { BYPASS_TOLERANCE, bypassOf, writesNames } from '#core/4-runs/supply/doubts/bypass.ts';
import { startCelsiusOf, type RunDocument } from '#core/4-runs/run/run-document.ts';
import { meanOfKnown } from '#core/1-ground/numbers/statistics.ts';
import { formatShare, rateText, formatNumber } from '#core/1-ground/units/format.ts';
import { bindingHop, downgradedHops } from '#core/2-trade/links/connection.ts';

// Doubts about rates that may be lower than the drive’s.

const FOREIGN_TOLERANCE = 0.03;

/** Something else used the drive meanwhile. */
export const busyDrive: DoubtKind = {
  code: 'busy-drive',
  effect: 'too-low',
  advice: 'Close what uses the drive (indexing, backup, synchronising) and measure again.',
  find(run) {
    if (writesNames(run)) return [];
    const occasions = DIRECTIONS.flatMap((direction) => {
      const bypass = bypassOf(run, direction);
      if (bypass === null || bypass.share <= 1 + BYPASS_TOLERANCE) return [];
      return [{ direction, evidence: `${bypass.evidence}: something else used the drive too.` }];
    });
    const foreign = meanOfKnown(run.conditions.series.foreignBytesPerSecond);
    const own = ownBytesPerSecond(run);
    if (foreign === null || own === 0 || foreign / own <= FOREIGN_TOLERANCE) return occasions;
    return [
      ...occasions,
      {
        evidence: `Other programs moved ${rateText(foreign)} on the drive, ${formatShare(foreign / own)} of our own rate.`,
      },
    ];
  },
};

function ownBytesPerSecond({ samples }: RunDocument): number {
  const last = (direction: Direction) => samples.cumulativeBytes[samples.direction.lastIndexOf(direction)] ?? 0;
  const seconds = samples.atSeconds.at(-1) ?? 0;
  return seconds > 0 ? (last('write') + last('read')) / seconds : 0;
}

const BUSY_PROCESSOR = 0.85;

/** The processor may have been the brake. */
export const busyProcessor: DoubtKind = {
  code: 'busy-processor',
  effect: 'too-low',
  advice: 'Close other programs and measure again.',
  find({ conditions: { series }, markers }) {
    const rests = markers.filter(({ kind }) => kind === 'rest' || kind === 'pause');
    // What was waited for while nothing was measured slowed nothing.
    const isMeasured = (atSeconds: number): boolean =>
      !rests.some((rest) => atSeconds > rest.atSeconds && atSeconds - 1 < rest.atSeconds + rest.seconds);
    const busy = meanOfKnown(series.processorShare.filter((_, row) => isMeasured(series.atSeconds[row]!)));
    if (busy === null || busy <= BUSY_PROCESSOR) return [];
    return [{ evidence: `The processor was ${formatShare(busy)} busy.` }];
  },
};

/** A link that carries less than both its ends could, or that changed on the way. */
export const linkDowngrade: DoubtKind = {
  code: 'link-downgrade',
  effect: 'too-low',
  advice: 'Try another slot, port or cable, and look at what both ends can do.',
  find({ connection, conditions }) {
    const slower = downgradedHops(connection).map(({ label, ceilingBytesPerSecond, capableBytesPerSecond }) => ({
      evidence: `${label} carries ${rateText(ceilingBytesPerSecond)}; both ends could do ${rateText(capableBytesPerSecond ?? 0)}.`,
    }));
    if (!conditions.end?.connection) return slower;
    const [before, after] = [bindingHop(connection), bindingHop(conditions.end.connection)];
    const change = `from ${before?.label ?? 'one not told'} to ${after?.label ?? 'one not told'}`;
    return [...slower, { evidence: `The link changed during the run, ${change}.` }];
  },
};

/** Machines save power on their battery. */
export const onBattery: DoubtKind = {
  code: 'on-battery',
  effect: 'too-low',
  advice: 'Plug the machine in and measure again.',
  find: ({ conditions }) =>
    conditions.start.onBattery === true ? [{ evidence: 'The machine ran on its battery, which can slow drives.' }] : [],
};

const HOT_START_CELSIUS = 10;

/** The drive was warm already. */
export const hotStart: DoubtKind = {
  code: 'hot-start',
  effect: 'too-low',
  advice: 'Let the drive cool for some minutes and measure again.',
  find({ conditions }) {
    const { start } = conditions;
    const began = startCelsiusOf(conditions);
    if (began === null || start.coolestCelsius === null || began <= start.coolestCelsius + HOT_START_CELSIUS) return [];
    const coolest = `this drive has begun at ${formatNumber(start.coolestCelsius)} °C`;
    return [{ evidence: `It began at ${formatNumber(began)} °C; ${coolest}.` }];
  },
};
