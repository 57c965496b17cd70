import type { FieldKind } from '#core/1-ground/fields/field.ts';
import { linesOf } from '#core/1-ground/fields/kinds.ts';
import { number, object, string, type InferType } from 'yup';
import { partAsSaid } from '#core/5-answers/sizing/as-said.ts';
import { badInput } from '#core/1-ground/problem.ts';
import { parseCount } from '#core/1-ground/units/quantity.ts';

/** Days of a project: its parts by name, and the date of the first. */

/** Ten years: nobody knows what storage costs then. */
export const MOST_DAYS = 3650;
const day = () => number().integer().min(1).max(MOST_DAYS).required();

/** Days of each seven on which there is work; the first of them is the first day. */
export const daysAWeekSchema = () => number().integer().min(1).max(7).default(7).meta({ addedLater: true });

/** A part of a project, such as shooting or finishing; first and last day, from 1. */
export const calendarPartSchema = object({
  name: string().required().max(60),
  fromDay: day(),
  toDay: day(),
  daysAWeek: daysAWeekSchema(),
}).test(
  'days',
  'a part of the project ends before it begins: toDay is before fromDay',
  // A day that is none is reported on its own.
  ({ fromDay, toDay }) => !(toDay < fromDay),
);
export type CalendarPart = InferType<typeof calendarPartSchema>;

/** First and last of some days in order. */
export type Days = Pick<CalendarPart, 'fromDay' | 'toDay'>;
/** Days in order, of each seven so many. */
export type WorkDays = Days & Pick<CalendarPart, 'daysAWeek'>;

/** Days of work from the first day up to another, that one included. */
function workDaysTo({ fromDay, toDay, daysAWeek }: WorkDays, day: number): number {
  const days = Math.max(0, Math.min(day, toDay) - fromDay + 1);
  return Math.floor(days / 7) * daysAWeek + Math.min(days % 7, daysAWeek);
}

/** Days of work from one day to another, both included. */
export const workDaysBetween = (days: WorkDays, fromDay: number, toDay: number): number =>
  toDay < fromDay ? 0 : workDaysTo(days, toDay) - workDaysTo(days, fromDay - 1);

const DAYS = /^(days?|weeks?)\s+(\d+)(?:\s*(?:–|-|to)\s*(\d+))?$/i;
const LENGTH = /^(\d+)\s*(d|days?|weeks?)$/i;
const DAYS_A_WEEK = /^(\d+)\s+days?\s+a\s+week$/i;

/** Days of “days 1–30”, “day 12”, “week 5” or “weeks 5–7”; null where a text says no such thing. @throws Problem `bad-input` */
export function parseDays(text: string, where: string): Days | null {
  const match = DAYS.exec(text.trim());
  if (!match) return null;
  const [first, last] = [match[2]!, match[3] ?? match[2]!].map((typed) => parseCount(typed, where)) as [number, number];
  const [fromDay, toDay] = /^w/i.test(match[1]!) ? [7 * first - 6, 7 * last] : [first, last];
  if (toDay < fromDay) throw badInput(where, `${where}: ${text.trim()} end before they begin.`);
  if (toDay > MOST_DAYS)
    throw badInput(where, `${where}: ${text.trim()} go beyond day ${MOST_DAYS}, the last there can be.`);
  return { fromDay, toDay };
}

/** Days of “6 weeks”, “42 days” or “42”. @throws Problem `bad-input` */
export function parseLength(text: string, where: string): number {
  if (/\b(?:months?|years?|quarters?)$/i.test(text.trim())) {
    throw badInput(
      where,
      `${where}: “${text.trim()}” is no fixed number of days. Type days or weeks, such as 13 weeks.`,
    );
  }
  const match = LENGTH.exec(text.trim());
  const days = match ? parseCount(match[1]!, where) * (/^w/i.test(match[2]!) ? 7 : 1) : parseCount(text, where);
  if (days > MOST_DAYS)
    throw badInput(where, `${where}: “${text.trim()}” is more than ten years, the longest there can be.`);
  return days;
}

/** Days that are reckoned from the end of a project, as plain days: “last day”, “last 3 days”, “from day 31”. */
export function withEnds(text: string, days: number): string {
  const last = (count: number) => (count === 1 ? `day ${days}` : `days ${Math.max(1, days - count + 1)}–${days}`);
  return text
    .replaceAll(/\b(?:the )?last day\b/gi, last(1))
    .replaceAll(/\b(?:the )?last week\b/gi, last(7))
    .replaceAll(/\b(?:the )?last (\d+) (days|weeks)\b/gi, (_all, count: string, unit: string) =>
      last(Number(count) * (/^w/i.test(unit) ? 7 : 1)),
    )
    .replaceAll(
      /\bfrom day (\d+)(?: on| to the end)?(?=\s*(?:,|\n|$))/gi,
      (_all, from: string) => `days ${from}–${days}`,
    )
    .replaceAll(/\bdays?\s+(\d+)\s*(?:–|-|to)\s*(?:the\s+)?end\b/gi, (_all, from: string) => `days ${from}–${days}`)
    .replaceAll(/\bfirst day\b/gi, 'day 1');
}

/** Days of work of “5 days a week”; null where a text says no such thing. @throws Problem `bad-input` */
export function parseDaysAWeek(text: string, where: string): number | null {
  const match = DAYS_A_WEEK.exec(text.trim());
  if (!match) return null;
  const days = parseCount(match[1]!, where);
  if (days > 7) throw badInput(where, `${where}: “${text.trim()}”: a week has seven.`);
  return days;
}

export const daysAWeekText = (daysAWeek: number): string[] =>
  daysAWeek === 7 ? [] : [`${daysAWeek} ${daysAWeek === 1 ? 'day' : 'days'} a week`];

export const daysText = ({ fromDay, toDay }: Days): string =>
  fromDay === toDay ? `day ${fromDay}` : `days ${fromDay}–${toDay}`;

/**
 * Parts of a project, one a line: “Shooting: days 1–30”, or one after the other, “Finishing: 8 weeks, 5 days a week”.
 * @throws Problem `bad-input`
 */
export function parseCalendar(lines: readonly string[]): CalendarPart[] {
  const phases: CalendarPart[] = [];
  for (const typed of lines) {
    const line = partAsSaid(typed);
    const match = /^([^:,]{1,60}):\s*([^,]+?)(?:\s*,\s*(.+))?$/.exec(line.trim());
    const length = match && LENGTH.exec(match[2]!);
    const days = match && parseDays(match[2]!, 'calendar');
    const daysAWeek = match?.[3] === undefined ? 7 : parseDaysAWeek(match[3], 'calendar');
    if (!match || (!length && !days) || daysAWeek === null) {
      throw badInput(
        'calendar',
        `calendar: “${typed.trim()}” is no part of a project. Type Shooting: days 1–30, or what follows it: Finishing: 8 weeks, 5 days a week.`,
      );
    }
    const fromDay = (phases.at(-1)?.toDay ?? 0) + 1;
    const long = length && parseCount(length[1]!, 'calendar') * (/^w/i.test(length[2]!) ? 7 : 1);
    const name = match[1]!.trim();
    if (long && fromDay + long - 1 > MOST_DAYS) {
      throw badInput('calendar', `calendar: “${name}” goes beyond day ${MOST_DAYS}, the last there can be.`);
    }
    if (phases.some((one) => sameName(one.name, name))) {
      throw badInput('calendar', `calendar: “${name}” is there twice. Call one of them something else.`);
    }
    phases.push({ name, ...(days ?? { fromDay, toDay: fromDay + long! - 1 }), daysAWeek });
  }
  return phases;
}

export const calendarLineOf = (phase: CalendarPart): string =>
  [`${phase.name}: ${daysText(phase)}`, ...daysAWeekText(phase.daysAWeek)].join(', ');

/** Whether two names that people type are the same. */
export const sameName = (a: string, b: string): boolean => a.trim().toLowerCase() === b.trim().toLowerCase();

/** @throws Problem `bad-input` that lists the parts there are */
export function calendarPartNamed(phases: readonly CalendarPart[], name: string, where: string): CalendarPart {
  const found = phases.find((one) => sameName(one.name, name));
  if (found) return found;
  const known = phases.length > 0 ? `There is: ${phases.map((one) => one.name).join(', ')}.` : 'The calendar is empty.';
  throw badInput(where, `${where}: “${name}” is no part of the project. ${known}`);
}

const ISO_DATE = /^(\d{4})-(\d{1,2})-(\d{1,2})$/;
/** 1.12.2026: with points the day comes first. */
const BY_POINTS = /^(\d{1,2})\.\s?(\d{1,2})\.\s?(\d{4})$/;
const BY_SLASHES = /^(\d{1,2})\/(\d{1,2})\/(\d{4})$/;
const DAY_FIRST = /^(\d{1,2})(?:st|nd|rd|th)?\s+([a-z]{3,9})\.?,?\s+(\d{4})$/i;
const MONTH_FIRST = /^([a-z]{3,9})\.?\s+(\d{1,2})(?:st|nd|rd|th)?,?\s+(\d{4})$/i;
const MONTHS = [
  'january',
  'february',
  'march',
  'april',
  'may',
  'june',
  'july',
  'august',
  'september',
  'october',
  'november',
  'december',
];

const monthOf = (name: string): number => MONTHS.findIndex((month) => month.startsWith(name.toLowerCase())) + 1;

/** Such a date as it is kept; null for a day that no month has. */
function isoDate(year: number, month: number, day: number): string | null {
  const date = new Date(Date.UTC(year, month - 1, day));
  const isThere = date.getUTCFullYear() === year && date.getUTCMonth() === month - 1 && date.getUTCDate() === day;
  return isThere ? date.toISOString().slice(0, 10) : null;
}

/**
 * A date such as 2027-03-01, 1.3.2027, 1 March 2027 or March 1, 2027.
 * @throws Problem `bad-input` on what is none, and on one with slashes that can be two days, with both
 */
export function parseDate(text: string, where: string): string {
  const typed = text.trim();
  const parts = (pattern: RegExp) => pattern.exec(typed)?.slice(1) as [string, string, string] | undefined;
  const [iso, points, slashes] = [ISO_DATE, BY_POINTS, BY_SLASHES].map((pattern) => parts(pattern)?.map(Number));
  const [day, month] = [parts(DAY_FIRST), parts(MONTH_FIRST)];
  const found = [
    iso && isoDate(iso[0]!, iso[1]!, iso[2]!),
    points && isoDate(points[2]!, points[1]!, points[0]!),
    day && isoDate(Number(day[2]), monthOf(day[1]), Number(day[0])),
    month && isoDate(Number(month[2]), monthOf(month[0]), Number(month[1])),
    slashes && isoDate(slashes[2]!, slashes[1]!, slashes[0]!),
    slashes && isoDate(slashes[2]!, slashes[0]!, slashes[1]!),
  ].filter((one) => typeof one === 'string');
  const different = [...new Set(found)];
  if (different.length === 1) return different[0]!;
  if (different.length > 1) {
    throw badInput(where, `${where}: “${typed}” can be ${different.join(' or ')}. Type the one you mean so.`);
  }
  throw badInput(where, `${where}: “${typed}” is no date. Type one such as 2027-03-01.`);
}

const dateOf = (day: number, startsOn: string): Date =>
  new Date(Date.parse(`${startsOn}T00:00:00Z`) + (day - 1) * 86_400_000);

/** “20 Apr”: the date of a day. @param startsOn date of day 1, such as 2027-03-01 */
export const dateText = (day: number, startsOn: string): string =>
  dateOf(day, startsOn).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' });

/** The date of a day as one types it, such as 2027-04-20. @param startsOn date of day 1 */
export const dayDate = (day: number, startsOn: string): string => dateOf(day, startsOn).toISOString().slice(0, 10);

/** The day of a project that a date is, from 1; 0 and less for what was before it. @param startsOn date of day 1 */
export const dateDay = (date: string, startsOn: string): number =>
  Math.round((Date.parse(`${date}T00:00:00Z`) - Date.parse(`${startsOn}T00:00:00Z`)) / 86_400_000) + 1;

/** “day 51”, and its date where the first day has one: “day 51 (20 Apr)”. */
export const dayText = (day: number, startsOn: string | null): string =>
  startsOn === null ? `day ${day}` : `day ${day} (${dateText(day, startsOn)})`;

/** Parts of a project, one a line. */
export const CALENDAR = linesOf(parseCalendar, calendarLineOf, /\n/);

/** How long a project takes: days, or weeks. */
export const LENGTH_IN_DAYS: FieldKind = { read: parseLength, show: String };

/** A day, such as 2027-03-01. */
export const DATE: FieldKind = { read: parseDate, show: String };
