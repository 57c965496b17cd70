import { array, number, object, type InferType } from 'yup';
import { linesOf } from '#core/1-ground/fields/kinds.ts';
import { badInput } from '#core/1-ground/problem.ts';
import { formatShare } from '#core/1-ground/units/format.ts';
import { parseCount, parseShare } from '#core/1-ground/units/quantity.ts';
import { shareTyped } from '#core/1-ground/units/typable.ts';
import { MOST_DAYS, dateDay, parseDays } from '#core/5-answers/sizing/calendar.ts';

/** Days on which a project buys, and what its drives cost then. */

export const MOST_STAGES = 12;
/** What drives cost later, of today’s price, at most: nobody plans with more. */
const MOST_PRICE_SHARE = 10;

export const stageSchema = object({
  /** What is bought has to be there when this day begins. */
  onDay: number().integer().min(2, 'stages: what is bought at the beginning needs no line').max(MOST_DAYS).required(),
  /** Price of a drive then, as a share of its price today. */
  priceShare: number().moreThan(0).max(MOST_PRICE_SHARE).default(1),
});
export type Stage = InferType<typeof stageSchema>;

export const stagesSchema = () => array(stageSchema.required()).max(MOST_STAGES).default([]).meta({ addedLater: true });

const LINE = /^([^,]+?)(?:(?:\s*,\s*|\s+at\s+|\s+)(?:drives\s+)?([-+−–]?\s*[\d.,]+\s*%.*))?$/i;
const CHANGE = /^([-+−–])?\s*([\d.,]+\s*%)\s*(less|cheaper|more|dearer)?$/i;

function parseChange(text: string, line: string): number {
  const match = CHANGE.exec(text.trim());
  const [sign, share, word] = match ? match.slice(1) : [];
  if (share === undefined || (sign === undefined) === (word === undefined)) {
    throw badInput(
      'buy on',
      `buy on: “${line}”: how much less or more do drives cost then? Type day 60, 15 % less, or day 60, 10 % more.`,
    );
  }
  const change = parseShare(share, 'buy on');
  const isLess = sign === undefined ? /less|cheaper/i.test(word!) : sign !== '+';
  if (isLess && change >= 1)
    throw badInput('buy on', `buy on: “${line}”: drives do not become free. Type less than 100 %.`);
  return isLess ? 1 - change : 1 + change;
}

/**
 * “day 60”, “week 9, 15 % less”, “day 60, +10 %”: one a line, in any order.
 * @throws Problem `bad-input`
 */
export function parseStages(lines: readonly string[]): Stage[] {
  const stages = lines.map((typed): Stage => {
    const line = typed.trim();
    const match = LINE.exec(line);
    const bare = match && /^\d+$/.test(match[1]!) ? { fromDay: parseCount(match[1]!, 'buy on') } : null;
    const days = bare ?? (match && parseDays(match[1]!, 'buy on'));
    if (!days) {
      throw badInput(
        'buy on',
        `buy on: “${line}” is no day to buy on. Type day 60, or with what drives cost then: day 60, 15 % less.`,
      );
    }
    const change = match![2];
    return { onDay: days.fromDay, priceShare: change === undefined ? 1 : parseChange(change, line) };
  });
  const sorted = stages.sort((a, b) => a.onDay - b.onDay);
  for (const [at, { onDay }] of sorted.entries()) {
    if (onDay < 2)
      throw badInput('buy on', 'buy on: what is bought on day 1 is bought at the beginning. Leave it out.');
    if (sorted[at - 1]?.onDay === onDay)
      throw badInput('buy on', `buy on: day ${onDay} is there twice. Leave one out.`);
  }
  if (sorted.length > MOST_STAGES) throw badInput('buy on', `buy on: ${MOST_STAGES} days at most.`);
  return sorted;
}

/** “15 % less than today”; “what they cost today” where nothing was said of it. */
export function priceThenText(priceShare: number): string {
  if (priceShare === 1) return 'what they cost today';
  return `${formatShare(Math.abs(1 - priceShare))} ${priceShare < 1 ? 'less' : 'more'} than today`;
}

const stageLine = ({ onDay, priceShare }: Stage): string =>
  priceShare === 1
    ? `day ${onDay}`
    : `day ${onDay}, ${shareTyped(Math.abs(1 - priceShare))} ${priceShare < 1 ? 'less' : 'more'}`;

/** Dates in lines of days to buy on, as days of a project. @param startsOn its first day */
export const withDates = (text: string, startsOn: string): string =>
  text.replaceAll(/\b\d{4}-\d\d-\d\d\b/g, (date) => `day ${dateDay(date, startsOn)}`);

export const STAGES = linesOf(parseStages, stageLine, /[\n;]/);
