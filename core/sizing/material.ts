import { number, object, string, type InferType } from 'yup';
import { badInput } from '#core/problem.ts';
import { bytesTyped } from '#core/units/typable.ts';
import { parseBytes, parseCount } from '#core/units/quantity.ts';

const sized = 'must be an amount of bytes, nothing or more, and at most 10^18';

/** One kind of material of a project: how much comes on which days, how long it is kept, and in how many copies. */
export const materialSchema = object({
  name: string().required().max(80),
  bytesPerDay: number().min(0, `bytesPerDay: ${sized}`).max(1e18, `bytesPerDay: ${sized}`).required(),
  /** First and last day on which it comes, from 1. */
  fromDay: number().integer().min(1).max(3650).required(),
  toDay: number().integer().min(1).max(3650).required(),
  /** Days that it is kept after the day it came; null to the end. */
  keepDays: number().integer().min(0).nullable().defined(),
  /** Copies on this storage. */
  copies: number().integer().min(1).max(9).required(),
});
export type Material = InferType<typeof materialSchema>;

const DAYS = /^days?\s+(\d+)(?:\s*(?:–|-|to)\s*(\d+))?$/i;
const KEPT = /^(?:keep|kept)\s+(\d+)\s+days?$/i;
const COPIES = /^(\d+)\s+cop(?:y|ies)$/i;
const A_DAY = /^(.+?)\s+(?:a|per)\s+day$/i;

/**
 * “Cameras: 3.2 TB a day, days 1–30, keep 60 days, 2 copies”; what comes once is of one day: “Plates: 800 GB, day 12”.
 * @throws Problem `bad-input`
 */
export function parseMaterial(line: string): Material {
  const [name, rest] = line.split(/:(.*)/s) as [string, string | undefined];
  const parts = (rest ?? '').split(',').map((part) => part.trim());
  if (!rest || name.trim() === '' || parts[0] === '') {
    throw badInput(
      'material',
      `material: “${line.trim()}” has no name or no amount. Type Cameras: 3.2 TB a day, days 1–30, keep 60 days, 2 copies.`,
    );
  }
  const daily = A_DAY.exec(parts[0]!);
  const material: Material = {
    name: name.trim(),
    bytesPerDay: parseBytes(daily ? daily[1]! : parts[0]!, 'material'),
    fromDay: 1,
    toDay: 1,
    keepDays: null,
    copies: 1,
  };
  let isDated = false;
  for (const part of parts.slice(1)) {
    const [days, kept, copies] = [DAYS.exec(part), KEPT.exec(part), COPIES.exec(part)];
    if (days) {
      isDated = true;
      material.fromDay = parseCount(days[1]!, 'material');
      material.toDay = days[2] === undefined ? material.fromDay : parseCount(days[2], 'material');
      if (material.toDay < material.fromDay) throw badInput('material', `material: ${part} end before they begin.`);
    } else if (kept) material.keepDays = parseCount(kept[1]!, 'material', 0);
    else if (copies) material.copies = parseCount(copies[1]!, 'material');
    else {
      throw badInput(
        'material',
        `material: “${part}” is none of: days 1–30, day 12, keep 60 days, 2 copies. “${name.trim()}” cannot be read.`,
      );
    }
  }
  if (daily && !isDated)
    throw badInput('material', `material: “${name.trim()}” comes every day, but on which? Add days 1–30.`);
  return material;
}

/** A material as it is typed. */
export function materialLine({ name, bytesPerDay, fromDay, toDay, keepDays, copies }: Material): string {
  const once = fromDay === toDay;
  return [
    `${name}: ${bytesTyped(bytesPerDay)}${once ? '' : ' a day'}`,
    once ? `day ${fromDay}` : `days ${fromDay}–${toDay}`,
    ...(keepDays === null ? [] : [`keep ${keepDays} days`]),
    ...(copies === 1 ? [] : [`${copies} ${copies === 1 ? 'copy' : 'copies'}`]),
  ].join(', ');
}

/** Bytes of a material that lie there at the end of a day, all copies counted. */
export function storedBytes({ bytesPerDay, fromDay, toDay, keepDays, copies }: Material, day: number): number {
  const last = Math.min(day, toDay);
  // What came on day d is kept through day d + keepDays.
  const first = keepDays === null ? fromDay : Math.max(fromDay, day - keepDays);
  return Math.max(0, last - first + 1) * bytesPerDay * copies;
}

/** What a project stores over its days. */
export interface FillTimeline {
  /** For each material, bytes at the end of each day, from day 1. */
  perMaterial: number[][];
  total: number[];
  peakBytes: number;
  peakDay: number;
  /** Bytes written on the fullest day of writing. */
  writtenBytesPerDay: number;
}

/** @param growthShare more than was foreseen, of everything */
export function fillTimeline(materials: readonly Material[], days: number, growthShare: number): FillTimeline {
  const more = 1 + growthShare;
  const perMaterial = materials.map((material) =>
    Array.from({ length: days }, (_, day) => more * storedBytes(material, day + 1)),
  );
  const total = Array.from({ length: days }, (_, day) => perMaterial.reduce((sum, one) => sum + one[day]!, 0));
  const written = Array.from({ length: days }, (_, day) =>
    materials.reduce(
      (sum, { fromDay, toDay, bytesPerDay, copies }) =>
        sum + (day + 1 >= fromDay && day + 1 <= toDay ? more * bytesPerDay * copies : 0),
      0,
    ),
  );
  const peakBytes = Math.max(...total);
  return {
    perMaterial,
    total,
    peakBytes,
    peakDay: total.indexOf(peakBytes) + 1,
    writtenBytesPerDay: written.reduce((sum, bytes) => sum + bytes, 0) / days,
  };
}

/** The first day at whose end more lies there than fits; null when all does. */
export function fullOnDay({ total }: Pick<FillTimeline, 'total'>, usable: number): number | null {
  const day = total.findIndex((bytes) => bytes > usable);
  return day < 0 ? null : day + 1;
}
