import type { Demand } from '#core/3-jobs/demand/demand.ts';
import { demandsOf, writtenBytes, type Item } from '#core/3-jobs/demand/items.ts';
import type { Workload } from '#core/3-jobs/demand/workload.ts';
import type { CalendarPart } from '#core/5-answers/sizing/calendar.ts';
import { bytesTyped, rateTyped, secondsTyped } from '#core/1-ground/units/typable.ts';

/** What of a workload has to be stored, in lines of material to be gone over; empty where nothing has. */
export function materialLinesOf(workload: Workload, phases: readonly CalendarPart[], days: number): string[] {
  const when = phases[0] ? `during ${phases[0].name}` : `days 1–${days}`;
  return workload.items.flatMap((item) => {
    const amount = amountOf(item);
    // A colon ends the name of a line.
    return amount === null
      ? []
      : [`${item.name.replaceAll(/\s*[:]\s*/g, ' – ')}: ${amount.text}${amount.daily ? ` a day, ${when}` : ', day 1'}`];
  });
}

/** How much an item leaves: footage a day's takes, a cache all its versions, a program its install. */
function amountOf(item: Item): { text: string; daily: boolean } | null {
  if (item.kind === 'load') {
    return item.installBytes === null ? null : { text: bytesTyped(item.installBytes), daily: false };
  }
  if (item.kind === 'series') {
    const { once } = writtenBytes(item);
    const each = bytesTyped(Math.round(once));
    return { text: item.versions === 1 ? each : `${item.versions} versions × ${each}`, daily: false };
  }
  const [{ direction, bytesPerSecond, takeSeconds, takes }] = demandsOf(item) as [Demand];
  if (direction !== 'write') return null;
  // Rounded to a kilobyte a second: a line that people read.
  const rate = rateTyped(Math.round(bytesPerSecond / 1e3) * 1e3);
  const each = `${secondsTyped(takeSeconds)} × ${rate}`;
  return { text: takes === 1 ? each : `${takes} takes × ${each}`, daily: true };
}
