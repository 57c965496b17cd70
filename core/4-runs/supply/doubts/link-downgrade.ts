import { bindingHop, downgradedHops } from '#core/2-trade/links/connection.ts';
import type { DoubtKind } from '#core/4-runs/supply/doubts/doubt.ts';
import { rateText } from '#core/1-ground/units/format.ts';

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
