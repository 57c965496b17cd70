import { partsOf } from '#core/1-ground/fields/kinds.ts';
import type { FieldTexts } from '#core/1-ground/fields/field.ts';
import { bytesText, rateText } from '#core/1-ground/units/format.ts';
import { moneyText } from '#core/1-ground/units/money.ts';
import { FROM_ITS_BOX, MEDIUM_NAMES } from '#core/2-trade/drives/medium.ts';
import { bindingHop } from '#core/2-trade/links/connection.ts';
import { supplyOfDrive } from '#core/5-answers/sizing/composed.ts';
import { readAmount } from '#core/5-answers/sizing/amount.ts';
import {
  dateText,
  daysText,
  parseCalendar,
  parseDate,
  parseLength,
  withEnds,
  workDaysBetween,
  type CalendarPart,
  type WorkDays,
} from '#core/5-answers/sizing/calendar.ts';
import { floorOf } from '#core/5-answers/sizing/explain.ts';
import { chosenDrives, parseDriveChoice } from '#core/5-answers/sizing/drive-choice.ts';
import type { CardedDrive } from '#core/5-answers/sizing/drive-of-card.ts';
import {
  nameOf,
  onceOrDaily,
  parseMaterials,
  storedBytes,
  withCalendar,
  type Material,
} from '#core/5-answers/sizing/material.ts';
import { parseEnclosure, parseSizingConnection } from '#core/5-answers/sizing/part-lines.ts';

/** What typed lines of a plan are taken for, line by line, while they are typed: people check it there and then. */

export interface LineAnswer {
  line: string;
  /** “Cameras: 30 of 42 days worked, 7.88 TB a day, 236 TB in all.” */
  text: string;
  /** Where a line can mean several things: each with the line that says it. */
  choices: { label: string; line: string }[];
}

/** Answers by the option of their field; a line that cannot be read has none, for its field says why. */
export type PlanAnswers = Readonly<Record<string, readonly LineAnswer[]>>;

interface Known {
  days: number | null;
  startsOn: string | null;
  currency: string;
  phases: CalendarPart[];
  drives: readonly CardedDrive[];
}

/** @param drives with a card, which lines of drives name */
export function planAnswers(texts: FieldTexts, drives: readonly CardedDrive[]): PlanAnswers {
  const text = (option: string) => (texts[option] ?? '').trim();
  const days = attempt(() => parseLength(text('days'), 'days'));
  const ended = (option: string) => linesOf(days === null ? text(option) : withEnds(text(option), days));
  const known: Known = {
    days,
    startsOn: attempt(() => parseDate(text('startsOn'), 'first day')),
    currency: text('currency'),
    phases: attempt(() => parseCalendar(ended('phases'))) ?? [],
    drives,
  };
  return {
    days: days !== null && known.startsOn !== null ? [plainly(text('days'), lastDayText(days, known.startsOn))] : [],
    phases: answered(ended('phases'), (_line, at) => phaseText(known.phases[at], known)),
    materials: materialAnswers(ended('materials'), known),
    choice: choiceAnswers(linesOf(text('choice')), known),
    enclosures: answered(linesOf(text('enclosures')), (line) => enclosureText(line, known)),
    connections: answered(linesOf(text('connections')), (line) => connectionText(line, known)),
  };
}

const linesOf = (text: string): string[] => partsOf(text, /\n/);

function attempt<T>(read: () => T): T | null {
  try {
    return read();
  } catch {
    return null;
  }
}

const plainly = (line: string, text: string): LineAnswer => ({ line, text, choices: [] });

function answered(lines: readonly string[], textOf: (line: string, at: number) => string | null): LineAnswer[] {
  return lines.flatMap((line, at) => {
    const text = attempt(() => textOf(line, at));
    return text === null ? [] : [plainly(line, text)];
  });
}

const lastDayText = (days: number, startsOn: string): string => `${days} days, to ${dateText(days, startsOn)}.`;

/** “30 of 42 days worked”, “30 days”. */
function workedText({ fromDay, toDay, daysAWeek }: WorkDays): string {
  const span = toDay - fromDay + 1;
  const worked = workDaysBetween({ fromDay, toDay, daysAWeek }, fromDay, toDay);
  if (worked !== span) return `${worked} of these ${span} days worked, ${span - worked} off`;
  return `${span} ${span === 1 ? 'day' : 'days'}`;
}

function phaseText(phase: CalendarPart | undefined, { startsOn, days }: Known): string | null {
  if (!phase) return null;
  const { fromDay, toDay } = phase;
  const dates = startsOn === null ? '' : ` (${dateText(fromDay, startsOn)} to ${dateText(toDay, startsOn)})`;
  const beyond = days !== null && toDay > days ? ` It goes beyond the project’s ${days} days.` : '';
  return `${phase.name}: ${daysText(phase)}${dates}, ${workedText(phase)}.${beyond}`;
}

function materialAnswers(lines: readonly string[], known: Known): LineAnswer[] {
  // Lines that cannot be read yet do not keep the others from being told.
  const read = (some: readonly string[]) => attempt(() => withCalendar(parseMaterials(some), known.phases));
  const all = read(lines);
  const whole = all === null ? lines.filter((line) => read([line]) !== null) : [...lines];
  const found = all ?? read(whole);
  return lines.flatMap((line): LineAnswer[] => {
    const at = whole.indexOf(line);
    const material = at >= 0 ? found?.[at] : read([...whole, line])?.at(-1);
    if (material) return [plainly(line, materialText(material, known))];
    return attempt(() => eitherDay(line, known)) ?? [];
  });
}

/** A line that can mean every day or once; empty where that is not what keeps it from being read. */
function eitherDay(line: string, { phases }: Known): LineAnswer[] {
  const { once, daily } = onceOrDaily(line);
  const [each] = withCalendar(parseMaterials([daily]), phases) as [Material];
  const [single] = withCalendar(parseMaterials([once]), phases) as [Material];
  return [
    {
      line,
      text: `${nameOf(line)}: does it come once, or every day?`,
      choices: [
        { label: `once, ${bytesText(allOf(single))} in all`, line: once },
        { label: `every day, ${bytesText(allOf(each))} in all`, line: daily },
      ],
    },
  ];
}

const allOf = (material: Material): number =>
  workDaysBetween(material, material.fromDay, material.toDay) * material.bytesPerDay * material.copies;

function materialText(material: Material, { days }: Known): string {
  const { name, bytesPerDay, reckonedAs, fromDay, toDay, copies } = material;
  const reading = reckonedAs === null ? null : attempt(() => readAmount(reckonedAs, 'material'));
  const stream = reading?.streamBytesPerSecond ?? null;
  const rate = stream === null ? '' : ` at ${rateText(stream)} a stream`;
  const plain = reading?.isTakenAsUncompressed
    ? ' Its format is taken as uncompressed: name the codec where it has one.'
    : '';
  const copied = copies > 1 ? `, ${copies} copies` : '';
  if (fromDay === toDay) return `${name}: ${bytesText(bytesPerDay)} once${rate}, on day ${fromDay}${copied}.${plain}`;
  const most = Math.max(
    ...Array.from({ length: (days ?? toDay) - fromDay + 1 }, (_, day) => storedBytes(material, fromDay + day)),
  );
  const atOnce = most < allOf(material) ? `, at most ${bytesText(most)} at once` : '';
  return `${name}: ${workedText(material)}, ${bytesText(bytesPerDay)} a day${rate}${copied}, ${bytesText(allOf(material))} in all${atOnce}.${plain}`;
}

function choiceAnswers(lines: readonly string[], known: Known): LineAnswer[] {
  const { drives } = known;
  if (lines.length > 0) {
    return answered(lines, (line) => {
      const [drive] = chosenDrives(drives, [parseDriveChoice(line)]);
      return drive ? driveText(drive, drive.there, known) : null;
    });
  }
  const priced = drives.filter(({ price }) => price !== null);
  return priced.map((drive) => plainly('', driveText(drive, 0, known)));
}

function driveText(drive: CardedDrive, there: number, { currency }: Known): string {
  const { label, medium, capacityBytes, price, profile } = drive;
  const supply = profile && supplyOfDrive(drive);
  const floor = supply === null ? null : floorOf(supply, 'write');
  const known =
    floor === null
      ? 'how fast it writes is not known'
      : `writes ${rateText(floor)} sustained, ${supply!.isPromise ? FROM_ITS_BOX : 'measured'}`;
  const cost = price === null || price === 0 ? '' : `, ${moneyText(price, currency)} each`;
  return `${label}: ${bytesText(capacityBytes)} ${MEDIUM_NAMES[medium]}, ${known}${cost}${there > 0 ? `, ${there} there` : ''}.`;
}

function enclosureText(line: string, { currency }: Known): string {
  const { label, slots, price, parts, slot, most } = parseEnclosure(line);
  const each = parts.filter((part) => part.each).reduce((sum, part) => sum + part.price, 0);
  const own = price + parts.filter((part) => !part.each).reduce((sum, part) => sum + part.price, 0);
  const cost = `${moneyText(own, currency)}${each > 0 ? ` and ${moneyText(each, currency)} a drive` : ''}`;
  const several = most > 1 ? `, up to ${most} of them with ${most * slots} slots` : '';
  const carried = slot === null ? '' : `, each slot carries ${rateText(slot.ceilingBytesPerSecond)}`;
  return `${label}: ${slots} ${slots === 1 ? 'slot' : 'slots'} for ${cost}${several}${carried}.`;
}

function connectionText(line: string, { currency }: Known): string {
  const { label, price, parts, hops } = parseSizingConnection(line);
  const cost = moneyText(price + parts.reduce((sum, part) => sum + part.price, 0), currency);
  const hop = bindingHop({ hops });
  const carried = hop === null ? 'never holds a drive back' : `carries ${rateText(hop.ceilingBytesPerSecond)}`;
  return `${label}: ${carried}, ${cost}.`;
}
