import { type DoubtKind, PARTICIPLES, type Occasion } from '#core/4-runs/supply/doubts/doubt.ts';
import { formatNumber, rateText } from '#core/1-ground/units/format.ts';
import { bypassOf, storedNothing } from '#core/4-runs/supply/doubts/bypass.ts';
import { bindingHop } from '#core/2-trade/links/connection.ts';
import { DIRECTIONS } from '#core/1-ground/curves/direction.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import type { RunFigures } from '#core/4-runs/trace/figures.ts';

// Doubts that leave nothing of a run.

/** What was read back is not what was written. */
export const wrongData: DoubtKind = {
  code: 'wrong-data',
  effect: 'void',
  advice: 'Do not trust this drive, cable or memory with anything. Copy off what is on it.',
  find({ conditions: { verification } }) {
    const [first] = verification.mismatches;
    if (!first) return [];
    const { fileOffset, foundOffset } = first;
    const found = foundOffset === null ? 'other data' : `the data of byte ${formatNumber(foundOffset, 'full')}`;
    const place = `At byte ${formatNumber(fileOffset, 'full')} of the scratch file`;
    return [{ evidence: `${place} ${found} was read back instead of what was written.` }];
  },
};

/** The filesystem kept a reference to data it had, or none at all. */
export const clone: DoubtKind = {
  code: 'clone',
  effect: 'void',
  advice: 'The filesystem stored no new data. Measure with incompressible data on another volume.',
  find(run) {
    const bypass = bypassOf(run, 'write');
    if (bypass === null || !storedNothing(bypass)) return [];
    return [{ direction: 'write', evidence: `${bypass.evidence}, even after the flush: nothing was stored.` }];
  },
};

/** A ceiling is computed from round figures; a rate may exceed it by this much and still be real. */
const CEILING_TOLERANCE = 1.05;

/** More came than the connection can carry. */
export const impossible: DoubtKind = {
  code: 'impossible',
  effect: 'void',
  advice: 'Look for memory or compression on the way; this is not the drive.',
  find(run, figures) {
    const copied = impossibleCopies(run, figures);
    const ceiling = bindingHop(run.connection);
    if (!ceiling) return copied;
    const moved = DIRECTIONS.flatMap((direction) => {
      const rate = figures[direction]?.medianBytesPerSecond ?? 0;
      if (rate <= ceiling.ceilingBytesPerSecond * CEILING_TOLERANCE) return [];
      const carried = `${ceiling.label} can carry, ${rateText(ceiling.ceilingBytesPerSecond)}`;
      return [{ direction, evidence: `${rateText(rate)} ${PARTICIPLES[direction]} is more than ${carried}.` }];
    });
    return [...moved, ...copied];
  },
};

/** Copies that went faster than the link of one of their ends carries. */
function impossibleCopies({ copy }: RunDocument, { copies }: RunFigures): Occasion[] {
  return (copies?.legs ?? []).flatMap(({ leg, from, to, bytesPerSecond }) =>
    [from, ...to].flatMap((number) => {
      const end = copy!.ends[number];
      const hop = end && bindingHop(end.connection);
      if (!hop || bytesPerSecond <= hop.ceilingBytesPerSecond * CEILING_TOLERANCE) return [];
      const carried = `${hop.label} of ${end.drive.label} can carry, ${rateText(hop.ceilingBytesPerSecond)}`;
      return [{ evidence: `Copy ${leg} went at ${rateText(bytesPerSecond)}, which is more than ${carried}.` }];
    }),
  );
}
