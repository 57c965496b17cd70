import { isFootage, type Item } from '#core/3-jobs/demand/items.ts';
import type { FootageItem } from '#core/3-jobs/demand/footage/footage-item.ts';
import type { Workload } from '#core/3-jobs/demand/workload.ts';
import { readAmount } from '#core/5-answers/sizing/amount.ts';
import { MOST_DAYS, dayText, workDaysBetween, type CalendarPart } from '#core/5-answers/sizing/calendar.ts';
import { shareOf, withCalendar, fillTimeline, fullOnDay, type Material } from '#core/5-answers/sizing/material.ts';
import type { Sizing } from '#core/5-answers/sizing/project.ts';
import { searchProject, type ProjectResult } from '#core/5-answers/sizing/project-search.ts';
import { bytesText } from '#core/1-ground/units/format.ts';
import { moneyText } from '#core/1-ground/units/money.ts';

/** What people ask next: five more days, one more camera, half the size. Each is one move over everything it touches. */

export interface Move {
  label: string;
  sizing: Sizing;
}

/** What a move changes of a plan, and of what has to be recorded. */
export type Moved = Pick<Sizing, 'days' | 'phases' | 'materials' | 'workload'>;

export interface MoveAnswer {
  label: string;
  moved: Moved;
  /** “+1,060 EUR, +43.3 TB on the fullest day. What is cheapest now would be full on day 52.” */
  text: string;
}

const MORE_DAYS = 5;

/** The moves that a plan allows: one that would change nothing is left out. */
export const movesOf = (sizing: Sizing): Move[] =>
  [moreDays(sizing), oneMoreCamera(sizing), halfTheSize(sizing)].filter((one) => one !== null);

/** The days of work that a stretch needs to grow by so many. */
function longerBy(days: { fromDay: number; toDay: number; daysAWeek: number }, more: number): number {
  const worked = (toDay: number) => workDaysBetween({ ...days, toDay }, days.fromDay, toDay);
  let toDay = days.toDay;
  while (worked(toDay) < worked(days.toDay) + more) toDay += 1;
  return toDay - days.toDay;
}

/** The part in which material comes goes on for five days of work more, and all that follows it comes later. */
function moreDays(sizing: Sizing): Move | null {
  const { phases, materials } = sizing;
  const phase = phases.find((one) => materials.some(({ during }) => during === one.name)) ?? null;
  const last = materials.filter(({ fromDay, toDay }) => toDay > fromDay).sort((a, b) => b.toDay - a.toDay)[0];
  const stretch = phase ?? last;
  if (!stretch) return null;
  const end = stretch.toDay;
  const more = longerBy(stretch, MORE_DAYS);
  if (sizing.days + more > MOST_DAYS) return null;
  const moved = <Days extends { fromDay: number; toDay: number }>(days: Days): Days => {
    if (days.fromDay > end) return { ...days, fromDay: days.fromDay + more, toDay: days.toDay + more };
    // What ends with it or goes on beyond it has its days too.
    return days.toDay >= end && days.toDay > days.fromDay ? { ...days, toDay: days.toDay + more } : days;
  };
  const later: CalendarPart[] = phases.map(moved);
  const own = materials.map((one) => (one.during === null ? moved(one) : one));
  return {
    label: phase ? `Five more days of ${phase.name}` : 'Five more days',
    sizing: { ...sizing, days: sizing.days + more, phases: later, materials: withCalendar(own, later) },
  };
}

/** “3 × …”, “3 cameras × …”: how many there are of what is recorded; null for what is no recording. */
function camerasOf({ reckonedAs }: Material): number | null {
  if (reckonedAs === null || shareOf(reckonedAs) !== null) return null;
  try {
    if (readAmount(reckonedAs, 'material').streamBytesPerSecond === null) return null;
  } catch {
    return null;
  }
  return Number(HOW_MANY.exec(reckonedAs)?.[1] ?? 1);
}

const HOW_MANY = /^(\d+)((?:\s+[a-z ]+)?\s*[×x*])/i;

/** The same amount of so many cameras: “4 cameras × …”. */
const reckonedWith = (cameras: number, reckonedAs: string): string =>
  HOW_MANY.test(reckonedAs)
    ? reckonedAs.replace(HOW_MANY, (_all, _count, rest: string) => `${cameras}${rest}`)
    : `${cameras} × ${reckonedAs}`;

/** One more of everything that is recorded by cameras, in the room it takes and in the rate that it is recorded at. */
function oneMoreCamera(sizing: Sizing): Move | null {
  const factors = new Map<string, number>();
  for (const material of sizing.materials) {
    const cameras = camerasOf(material);
    if (cameras !== null) factors.set(material.name.toLowerCase(), (cameras + 1) / cameras);
  }
  if (factors.size === 0) return null;
  const factorOf = ({ name, reckonedAs }: Material): number => {
    const base = reckonedAs === null ? null : shareOf(reckonedAs);
    return factors.get((base ?? name).toLowerCase()) ?? 1;
  };
  const isRecorded = sizing.workload?.items.some(isRecording) ?? false;
  return {
    label: isRecorded ? `One more camera, in ${sizing.workload!.name} too` : 'One more camera',
    sizing: {
      ...sizing,
      materials: sizing.materials.map((one) => {
        const cameras = camerasOf(one);
        return {
          ...one,
          bytesPerDay: Math.round(one.bytesPerDay * factorOf(one)),
          reckonedAs: cameras === null ? one.reckonedAs : reckonedWith(cameras + 1, one.reckonedAs!),
        };
      }),
      workload: sizing.workload && withOneMore(sizing.workload),
    },
  };
}

const isRecording = (item: Item): item is FootageItem => isFootage(item) && item.action === 'record';

const withOneMore = (workload: Workload): Workload => ({
  ...workload,
  items: workload.items.map((item) => (isRecording(item) ? { ...item, streams: item.streams + 1 } : item)),
});

function halfTheSize(sizing: Sizing): Move | null {
  if (sizing.materials.every(({ bytesPerDay }) => bytesPerDay < 2)) return null;
  return {
    label: 'Everything half the size',
    sizing: {
      ...sizing,
      // A share of half is half of the share; what else was reckoned comes to something else now.
      materials: sizing.materials.map((one) => ({
        ...one,
        bytesPerDay: Math.round(one.bytesPerDay / 2),
        reckonedAs: one.reckonedAs !== null && shareOf(one.reckonedAs) !== null ? one.reckonedAs : null,
      })),
    },
  };
}

const signed = (value: number, text: (amount: number) => string): string =>
  value === 0 ? 'no change' : `${value > 0 ? '+' : '−'}${text(Math.abs(value))}`;

/** What each move costs, and what becomes of what is cheapest now. @param found of the plan as it is */
export function moveAnswers(sizing: Sizing, found: ProjectResult): MoveAnswer[] {
  return movesOf(sizing).map(({ label, sizing: then }) => {
    const { days, phases, materials, workload } = then;
    return { label, moved: { days, phases, materials, workload }, text: answerTo(sizing, found, then) };
  });
}

function answerTo(sizing: Sizing, found: ProjectResult, then: Sizing): string {
  const { currency, units } = sizing;
  const before = found.stores[0]!.basis.timeline;
  const after = fillTimeline(then.materials, then.days, then.policy.growthShare);
  const room = signed(after.peakBytes - before.peakBytes, (bytes) => bytesText(bytes, 'picture', units));
  const now = found.front[0] ?? null;
  const cheapest = searchProject(then)?.front[0] ?? null;
  const money =
    cheapest === null
      ? 'nothing that is planned does it'
      : now === null
        ? moneyText(cheapest.cost, currency)
        : signed(cheapest.cost - now.cost, (amount) => moneyText(amount, currency));
  const own = now?.builds[0];
  const full = own ? fullOnDay(after, own.usableBytes) : null;
  const fate = own
    ? full === null
      ? ' What is cheapest now has room for it.'
      : ` What is cheapest now would be full on ${dayText(full, sizing.startsOn)}.`
    : '';
  return `${money === 'no change' ? 'costs the same' : money}; ${room === 'no change' ? 'no more room' : `${room} on the fullest day`}.${fate}`;
}
