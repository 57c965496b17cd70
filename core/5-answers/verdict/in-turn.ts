import { takeBytesOf, type Demand } from '#core/3-jobs/demand/demand.ts';
import { bytesText, formatDuration } from '#core/1-ground/units/format.ts';
import { fullAt } from '#core/5-answers/verdict/room.ts';
import { betweenText } from '#core/5-answers/verdict/sentences.ts';
import { UNKNOWN, type ItemVerdict } from '#core/5-answers/verdict/verdict.ts';

/** What all items come to that are recorded one after the other. */
export const IN_TURN_ID = 'in-turn';

/**
 * Whether all that is recorded finds room when one item follows the other: each may fit alone and all of them not. What
 * is taken off between takes is off before the next item. Null where it fits, where there are not several, and where
 * one of them alone does not fit, which its own verdict says.
 * @param demands of all items, those that go on at the same time too: one after the other they need as much room
 */
export function inTurn(
  demands: readonly Demand[],
  roomBytes: number | null,
): (ItemVerdict & { demand: Demand }) | null {
  const recording = demands.filter(({ direction }) => direction === 'write');
  if (roomBytes === null || recording.length < 2) return null;
  if (recording.some((one) => fullAt([one], roomBytes) !== null)) return null;
  let there = 0;
  for (const demand of recording) {
    const full = fullAt([demand], roomBytes - there);
    if (full === null) {
      if (demand.between === 'stay') there += demand.takes * takeBytesOf(demand);
      continue;
    }
    const takes = demand.takes > 1 ? ` into take ${full.take}` : '';
    return {
      demand: { ...demand, itemId: IN_TURN_ID, name: 'One after the other', isSum: true },
      verdict: {
        ...UNKNOWN,
        verdict: 'breaks',
        reason: 'full',
        breaksAtSeconds: full.seconds,
        breaksAtBytes: full.takeBytes,
        breaksInTake: full.take === 1 ? null : full.take,
      },
      sentence: `One after the other, what is recorded does not fit: it is full ${formatDuration(full.seconds)}${takes} of ${demand.name}. ${bytesText(there)} lie there by then of the ${bytesText(roomBytes)} that can be used, and it needs ${bytesText(demand.takes * takeBytesOf(demand))}, ${betweenText(demand)}.`,
      short: `Full during ${demand.name}`,
    };
  }
  return null;
}
