import { linesOf } from '#core/1-ground/fields/kinds.ts';
import { array, number, object, string, type InferType } from 'yup';
import { badInput } from '#core/1-ground/problem.ts';
import { materialAsSaid } from '#core/5-answers/sizing/as-said.ts';
import { parseAmount } from '#core/5-answers/sizing/amount.ts';
import {
  MOST_DAYS,
  daysAWeekSchema,
  daysAWeekText,
  daysText,
  parseDays,
  parseDaysAWeek,
  sameName,
  calendarPartNamed,
  workDaysBetween,
  type CalendarPart,
} from '#core/5-answers/sizing/calendar.ts';
import {
  COPY_STORES,
  STORE_WORDS,
  copyStoreNamed,
  copyStoreSchema,
  type StoreId,
} from '#core/5-answers/sizing/stores.ts';
import { parseCount, parseShare } from '#core/1-ground/units/quantity.ts';
import { bytesTyped } from '#core/1-ground/units/typable.ts';

const MOST_BYTES = 1e18;
const sized = 'must be an amount of bytes, nothing or more, and at most 10^18';
const keepDays = () => number().integer().min(0).nullable().defined();

/** One kind of material of a project: how much comes on which days, how long it is kept, and where its copies live. */
export const materialSchema = object({
  name: string().required().max(80),
  bytesPerDay: number().min(0, `bytesPerDay: ${sized}`).max(MOST_BYTES, `bytesPerDay: ${sized}`).required(),
  /** How the amount was reckoned, for people: “3 × 3840x2160 VC-3 444 25p × 4 h”; null for plain bytes. */
  reckonedAs: string().max(160).nullable().default(null).meta({ addedLater: true }),
  /** First and last day on which it comes, from 1. */
  fromDay: number().integer().min(1).max(MOST_DAYS).required(),
  toDay: number().integer().min(1).max(MOST_DAYS).required(),
  daysAWeek: daysAWeekSchema(),
  /** Part of the project on whose days it comes; null where the days are its own. */
  during: string().max(60).nullable().default(null).meta({ addedLater: true }),
  /** Days that it is kept on working storage after the day it came; null to the end. */
  keepDays: keepDays(),
  /** Copies on working storage. */
  copies: number().integer().min(1).max(9).required(),
  /** One copy on each of these, kept so many days; null to the end. */
  elsewhere: array(object({ store: copyStoreSchema(), keepDays: keepDays() }).required())
    .max(COPY_STORES.length)
    .default([])
    .meta({ addedLater: true }),
}).test('days', 'a material ends before it begins: toDay is before fromDay', ({ fromDay, toDay }) => toDay >= fromDay);
export type Material = InferType<typeof materialSchema>;

/** A terabyte on the first day, kept to the end: what others are made from. */
export const PLAIN_MATERIAL: Material = {
  name: 'Cameras',
  bytesPerDay: 1e12,
  reckonedAs: null,
  fromDay: 1,
  toDay: 1,
  daysAWeek: 7,
  during: null,
  keepDays: null,
  copies: 1,
  elsewhere: [],
};

const KEPT = /^(?:keep|kept)(?:\s+for)?\s+(\d+)\s+(days?|weeks?)$/i;
const KEPT_TO_THE_END = /^(?:keep|kept)\s+to\s+the\s+end$/i;
const COPIES = /^(\d+)\s+cop(?:y|ies)$/i;
const ELSEWHERE = /^(second copy|away)(?:\s+(?:for\s+)?(\d+)\s+(days?|weeks?))?$/i;
const DURING = /^during\s+(.+)$/i;
const A_DAY = /^(.+?)(?:\s+(?:a|per|each|every)\s+(?:([a-z][a-z ]*?)\s+)?day|\s*\/\s*day|\s+daily)$/i;
const ONCE = /^(.+?)\s+(?:once|in all)$/i;
const SHARE_OF = /^(\d[\d.,]*\s*%)\s+of\s+(\S.*)$/i;
/** Commas part what is said; one between digits is a decimal comma, or parts thousands. */
const BETWEEN_PARTS = /,(?=\s|[a-z])|,(?=\d+\s+(?:days?|weeks?|cop))/i;

const EXAMPLE = 'Cameras: 3.2 TB a day, days 1–30, keep 60 days, second copy, away 90 days';

/** The material that an amount such as “5 % of Originals” is a share of; null where it is none. */
export const shareOf = (amount: string): string | null => SHARE_OF.exec(amount.trim())?.[2]?.trim() ?? null;

const daysOf = (count: string, unit: string, least = 0): number =>
  parseCount(count, 'material', least) * (/^w/i.test(unit) ? 7 : 1);

/**
 * “Cameras: 3.2 TB a day, days 1–30, keep 60 days, second copy, away 90 days”; what comes once is of one day:
 * “Plates: 800 GB, day 12”; with days off: “days 1–40, 5 days a week”. Amounts may be reckoned, see {@link parseAmount};
 * a part of the calendar may be named: “during Shooting”, whose days are found by {@link withCalendar}. An amount on
 * several days without “a day” can mean two things and is asked about, see {@link onceOrDaily}.
 * @throws Problem `bad-input`
 */
export const parseMaterial = (line: string): Material => materialFrom(line, null);

/** @param base material that the amount is a share of; null where it stands by itself */
function materialFrom(line: string, base: Material | null): Material {
  const { name, amount, daily, once, parts } = partsOfLine(line);
  const material: Material = { ...PLAIN_MATERIAL, name, ...amountOf(name, amount, base) };
  let isDated = false;
  for (const part of parts) {
    const saysWhen = readPart(material, part);
    if (saysWhen && isDated) {
      throw badInput(
        'material',
        `material: “${name}” is told twice when it comes, the second time “${part}”. Type a line for each time, or one stretch of days such as days 3–9.`,
      );
    }
    isDated ||= saysWhen;
  }
  // “14.2 TB a shooting day”
  if (daily?.during !== undefined && !isDated) {
    material.during = daily.during;
    isDated = true;
  }
  if (daily && !isDated && base === null) {
    throw badInput(
      'material',
      `material: “${name}” comes every day, but on which? Add them, such as days 1–18, or “during” and a part of the calendar.`,
    );
  }
  const isOnSeveral = material.during !== null || material.toDay > material.fromDay;
  const isTold = daily !== null || base !== null || (once && material.during === null);
  if (!isTold && isOnSeveral && isDated) {
    const choice = onceOrDaily(line);
    throw badInput(
      'material',
      `material: does “${name}” come once or every day? Type “${choice.daily}” or “${choice.once}”.`,
    );
  }
  if (once && isOnSeveral) {
    material.keepDays ??= material.toDay - material.fromDay;
    material.toDay = material.fromDay;
  }
  if (material.during !== null && material.daysAWeek !== 7 && base === null) {
    throw badInput(
      'material',
      `material: “${name}” comes during ${material.during}, whose days a week are said in the calendar. Say them there, or type its days.`,
    );
  }
  return material;
}

interface PartsOfLine {
  name: string;
  amount: string;
  /** Said to come every day, where it is, of a part of the project. */
  daily: { during?: string } | null;
  once: boolean;
  parts: string[];
}

function partsOfLine(line: string): PartsOfLine {
  const [name, rest] = materialAsSaid(line).split(/:(.*)/s) as [string, string | undefined];
  const [first = '', ...parts] = (rest ?? '').split(BETWEEN_PARTS).map((part) => part.trim());
  if (!rest || name.trim() === '' || first === '') {
    throw badInput('material', `material: “${line.trim()}” has no name or no amount. Type ${EXAMPLE}.`);
  }
  const [daily, once] = [A_DAY.exec(first), ONCE.exec(first)];
  return {
    name: name.trim(),
    amount: (daily?.[1] ?? once?.[1] ?? first).trim(),
    daily: daily && { ...(daily[2] === undefined ? {} : { during: daily[2].trim() }) },
    once: once !== null,
    parts,
  };
}

function amountOf(
  name: string,
  amount: string,
  base: Material | null,
): Pick<Material, 'bytesPerDay' | 'reckonedAs'> & Partial<Material> {
  if (base !== null) {
    const bytesPerDay = Math.round(base.bytesPerDay * parseShare(SHARE_OF.exec(amount)![1]!, 'material'));
    const { fromDay, toDay, daysAWeek, during } = base;
    return { bytesPerDay, reckonedAs: amount, fromDay, toDay, daysAWeek, during };
  }
  if (SHARE_OF.test(amount)) {
    throw badInput(
      'material',
      `material: “${name}” is a share of “${SHARE_OF.exec(amount)![2]}”, and there is no line of that name.`,
    );
  }
  const bytesPerDay = parseAmount(amount, 'material');
  if (bytesPerDay > MOST_BYTES) {
    throw badInput('material', `material: “${amount}” is more than a million terabytes. Look at its unit.`);
  }
  return { bytesPerDay, reckonedAs: /[×*]|\sx\s|[a-z]{4,}/i.test(amount) ? amount : null };
}

/**
 * Both readings of a line that names an amount and several days, as lines to type: “9 TB, days 36–56” is 9 TB on each
 * of them, or 9 TB that come on the first and lie there until the last.
 */
export function onceOrDaily(line: string): { once: string; daily: string } {
  const { name, amount, parts } = partsOfLine(line);
  const others = (of: readonly string[]) => of.map((part) => `, ${part}`).join('');
  const daily = `${name}: ${amount} a day${others(parts)}`;
  const when = parts.find((part) => parseDays(part, 'material') !== null);
  const days = when === undefined ? null : parseDays(when, 'material')!;
  if (days === null)
    return { daily, once: `${name}: ${amount}, day 1${others(parts.filter((part) => !DURING.test(part)))}` };
  const isKept = parts.some((part) => KEPT.test(part) || KEPT_TO_THE_END.test(part));
  const kept = isKept ? [] : [`keep ${days.toDay - days.fromDay} days`];
  const rest = parts.filter((part) => part !== when && parseDaysAWeek(part, 'material') === null);
  return { daily, once: `${name}: ${amount}, day ${days.fromDay}${others([...kept, ...rest])}` };
}

/** Takes one part of a line into the material; true where it says on which days it comes. */
function readPart(material: Material, part: string): boolean {
  const days = parseDays(part, 'material');
  if (days) {
    Object.assign(material, { ...days, during: null });
    return true;
  }
  const daysAWeek = parseDaysAWeek(part, 'material');
  const [during, kept, copies, elsewhere] = [DURING, KEPT, COPIES, ELSEWHERE].map((pattern) => pattern.exec(part));
  if (during) {
    material.during = during[1]!.trim();
    return true;
  }
  if (daysAWeek !== null) material.daysAWeek = daysAWeek;
  else if (KEPT_TO_THE_END.test(part)) material.keepDays = null;
  else if (kept) material.keepDays = daysOf(kept[1]!, kept[2]!);
  else if (copies) material.copies = parseCount(copies[1]!, 'material');
  else if (elsewhere) {
    const store = copyStoreNamed(elsewhere[1]!)!;
    const keepDays = elsewhere[2] === undefined ? null : daysOf(elsewhere[2], elsewhere[3]!);
    material.elsewhere = [...material.elsewhere.filter((one) => one.store !== store), { store, keepDays }];
  } else {
    throw badInput(
      'material',
      `material: “${part}” is none of: days 1–30, day 12, week 5, during Shooting, 5 days a week, keep 60 days, keep 3 weeks, 2 copies, second copy, away 90 days. “${material.name}” cannot be read.`,
    );
  }
  return false;
}

/**
 * Lines of material in their order. One that is a share of another, “Proxies: 5 % of Originals”, comes on the days of
 * that where it says none.
 * @throws Problem `bad-input`
 */
export function parseMaterials(lines: readonly string[]): Material[] {
  const read: (Material | null)[] = lines.map((line) => {
    const share = SHARE_OF.exec(partsOfLine(line).amount);
    const isNamed = share !== null && lines.some((other) => other !== line && sameName(nameOf(other), share[2]!));
    return isNamed ? null : parseMaterial(line);
  });
  for (let open = -1; open !== 0 && read.includes(null);) {
    open = 0;
    for (const [at, line] of lines.entries()) {
      if (read[at] !== null) continue;
      const of = SHARE_OF.exec(partsOfLine(line).amount)![2]!;
      const base = read.find((one) => one !== null && sameName(one.name, of));
      if (!base) continue;
      read[at] = materialFrom(line, base);
      open += 1;
    }
  }
  const circle = read.indexOf(null);
  if (circle < 0) return read as Material[];
  throw badInput('material', `material: “${nameOf(lines[circle]!)}” is a share of what is a share of it.`);
}

/** The name that a line begins with. */
export const nameOf = (line: string): string => materialAsSaid(line).split(':')[0]!.trim();

/** Materials with the days of the parts they come in. @throws Problem `bad-input` for a part that is not there */
export function withCalendar(materials: readonly Material[], phases: readonly CalendarPart[]): Material[] {
  return materials.map((material) => {
    if (material.during === null) return material;
    const { name, fromDay, toDay, daysAWeek } = calendarPartNamed(phases, material.during, 'material');
    // By the name that the calendar has for it.
    return { ...material, during: name, fromDay, toDay, daysAWeek };
  });
}

/** A material as it is typed. */
export function materialLine(material: Material): string {
  const { name, bytesPerDay, reckonedAs, fromDay, toDay, during, keepDays, copies, elsewhere } = material;
  const once = during === null && fromDay === toDay;
  return [
    `${name}: ${amountLine(bytesPerDay, reckonedAs)}${once ? '' : ' a day'}`,
    ...(during === null ? [daysText(material), ...daysAWeekText(material.daysAWeek)] : [`during ${during}`]),
    ...(keepDays === null ? [] : [`keep ${keepDays} days`]),
    ...(copies === 1 ? [] : [`${copies} copies`]),
    ...elsewhere.map((one) => {
      const store = STORE_WORDS[one.store].toLowerCase();
      return one.keepDays === null ? store : `${store} ${one.keepDays} days`;
    }),
  ].join(', ');
}

/** How an amount was reckoned, as long as it still comes to so many bytes. */
function amountLine(bytes: number, reckonedAs: string | null): string {
  if (reckonedAs !== null && SHARE_OF.test(reckonedAs)) return reckonedAs;
  try {
    if (reckonedAs !== null && parseAmount(reckonedAs, 'material') === bytes) return reckonedAs;
  } catch {
    // Written by somebody else in words that are none of ours: the bytes stand.
  }
  return bytesTyped(bytes);
}

/** What of a project's material lies on one store, and for how long there. */
export function materialsOn(store: StoreId, materials: readonly Material[]): Material[] {
  if (store === 'working') return [...materials];
  return materials.flatMap((material) => {
    const there = material.elsewhere.find((one) => one.store === store);
    return there ? [{ ...material, keepDays: there.keepDays, copies: 1 }] : [];
  });
}

/** Bytes of a material that lie there at the end of a day, all copies counted. */
export function storedBytes(material: Material, day: number): number {
  const { bytesPerDay, fromDay, keepDays, copies } = material;
  // What came on day d is kept through day d + keepDays.
  const first = keepDays === null ? fromDay : Math.max(fromDay, day - keepDays);
  return workDaysBetween(material, first, day) * bytesPerDay * copies;
}

/** What a project stores over its days. */
export interface FillTimeline {
  /** For each material, bytes at the end of each day, from day 1. */
  perMaterial: number[][];
  total: number[];
  peakBytes: number;
  peakDay: number;
  /** Bytes written a day, over all days. */
  writtenBytesPerDay: number;
  /** Bytes that come on the day on which most do. */
  mostPerDayBytes: number;
}

/** Bytes that come on each day, from day 1. @param growthShare more than was foreseen, of everything */
export const writtenPerDay = (materials: readonly Material[], days: number, growthShare: number): number[] =>
  Array.from({ length: days }, (_, day) =>
    materials.reduce(
      (sum, one) => sum + (1 + growthShare) * workDaysBetween(one, day + 1, day + 1) * one.bytesPerDay * one.copies,
      0,
    ),
  );

/** @param growthShare more than was foreseen, of everything */
export function fillTimeline(materials: readonly Material[], days: number, growthShare: number): FillTimeline {
  const more = 1 + growthShare;
  const perMaterial = materials.map((material) =>
    Array.from({ length: days }, (_, day) => more * storedBytes(material, day + 1)),
  );
  const total = Array.from({ length: days }, (_, day) => perMaterial.reduce((sum, one) => sum + one[day]!, 0));
  const written = writtenPerDay(materials, days, growthShare);
  const peakBytes = Math.max(...total);
  return {
    perMaterial,
    total,
    peakBytes,
    peakDay: total.indexOf(peakBytes) + 1,
    writtenBytesPerDay: written.reduce((sum, bytes) => sum + bytes, 0) / days,
    mostPerDayBytes: Math.max(...written),
  };
}

/** The first day at whose end more lies there than fits; null when all does. */
export function fullOnDay({ total }: Pick<FillTimeline, 'total'>, usable: number): number | null {
  const day = total.findIndex((bytes) => bytes > usable);
  return day < 0 ? null : day + 1;
}

/** Materials of a project, one a line. */
export const MATERIALS = linesOf(parseMaterials, materialLine, /\n/);
