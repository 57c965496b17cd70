import { bindingHop } from '#core/links/connection.ts';
import { DIRECTIONS } from '#core/run/direction.ts';
import { PARTICIPLES, type DoubtKind } from '#core/supply/doubts/doubt.ts';
import { rateText } from '#core/units/format.ts';

/** A ceiling is computed from round figures; a rate may exceed it by this much and still be real. */
const CEILING_TOLERANCE = 1.05;

/** More came than the connection can carry. */
export const impossible: DoubtKind = {
  code: 'impossible',
  effect: 'void',
  advice: 'Look for memory or compression on the way; this is not the drive.',
  find(run, figures) {
    const ceiling = bindingHop(run.connection);
    if (!ceiling) return [];
    return DIRECTIONS.flatMap((direction) => {
      const rate = figures[direction]?.medianBytesPerSecond ?? 0;
      if (rate <= ceiling.ceilingBytesPerSecond * CEILING_TOLERANCE) return [];
      const carried = `${ceiling.label} can carry, ${rateText(ceiling.ceilingBytesPerSecond)}`;
      return [{ direction, evidence: `${rateText(rate)} ${PARTICIPLES[direction]} is more than ${carried}.` }];
    });
  },
};
