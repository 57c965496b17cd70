import type { Field } from '#core/1-ground/fields/field.ts';
import { PAGE_BYTES } from '#core/1-ground/units/page.ts';
import { boolean, mixed, number, string } from 'yup';
import { BLOCK, COUNT, choiceOf } from '#core/1-ground/fields/kinds.ts';

export const SMALLEST_BLOCK_BYTES = PAGE_BYTES;
export const LARGEST_BLOCK_BYTES = 16 * 1024 * 1024;
export const MOST_DEPTH = 32;
export const DEFAULT_BLOCK_BYTES = 8 * 1024 * 1024;

const isBlock = (value: unknown): value is number =>
  typeof value === 'number' &&
  value >= SMALLEST_BLOCK_BYTES &&
  value <= LARGEST_BLOCK_BYTES &&
  Number.isInteger(Math.log2(value));

/** Block size of every recipe that has one: a power of two from 4 KiB to 16 MiB. */
export const blockBytesSchema = number()
  .typeError('block: must be an amount such as 8 MiB.')
  .min(SMALLEST_BLOCK_BYTES, 'block: must be at least 4 KiB.')
  .max(LARGEST_BLOCK_BYTES, 'block: must be at most 16 MiB.')
  .test(
    'power-of-two',
    'block: must be a power of two, such as 64 KiB, 1 MiB or 8 MiB.',
    (value) => value === undefined || Number.isInteger(Math.log2(value)),
  );

/** A whole number between two bounds, with one sentence for every way to miss it. */
export function countSchema(name: string, least: number, most: number) {
  const sentence = `${name}: must be a whole number from ${least} to ${most.toLocaleString('en-US')}.`;
  return number().typeError(sentence).integer(sentence).min(least, sentence).max(most, sentence);
}

export const depthSchema = countSchema('depth', 1, MOST_DEPTH);

export function secondsSchema(name: string, least: number, most: number) {
  const sentence = `${name}: must be a time from ${least} s to ${most} s.`;
  return number().typeError(sentence).min(least, sentence).max(most, sentence);
}

/** An amount of bytes above nothing. */
export function bytesSchema(name: string) {
  return number()
    .typeError(`${name}: must be an amount such as 2 GB.`)
    .moreThan(0, `${name}: must be more than 0. Type an amount such as 2 GB.`)
    .max(1e15, `${name}: must be at most 1 PB.`);
}

export const switchSchema = (name: string) => boolean().typeError(`${name}: must be yes or no.`);

/** A list of numbers that each pass `isValue`; `what` says what they are in the sentence. */
export function listSchema(name: string, what: string, most: number, isValue: (value: unknown) => boolean) {
  return mixed<number[]>((value): value is number[] => Array.isArray(value))
    .typeError(`${name}: must be a list of ${what}.`)
    .test('list', function (list) {
      // Options for which none may be chosen say so by being nullable.
      if (list === null) return true;
      if (!Array.isArray(list) || list.length === 0 || list.length > most) {
        return this.createError({ message: `${name}: must list from 1 to ${most} ${what}.` });
      }
      const fault = list.find((value) => !isValue(value));
      const named = typeof fault === 'number' ? String(fault) : 'something in it';
      return fault === undefined
        ? true
        : this.createError({ message: `${name}: ${named} is not one of the ${what} that can be measured.` });
    })
    .meta({ jsonSchema: { type: 'array', items: { type: 'number' } } })
    .required();
}

export const blockListSchema = listSchema('blocks', 'powers of two from 4 KiB to 16 MiB', 13, isBlock);
export const depthListSchema = listSchema(
  'depths',
  'queue depths from 1 to 32',
  8,
  (value) => Number.isInteger(value) && (value as number) >= 1 && (value as number) <= MOST_DEPTH,
);

/** What is written: random bytes that nothing shortens, half of them zeros, or only zeros. */
export const DATA_KINDS = ['incompressible', 'half-zeros', 'zeros'] as const;
export type DataKind = (typeof DATA_KINDS)[number];

export const DIRECTION_CHOICES = ['both', 'write', 'read'] as const;

/** Which way, asked for in a group of the recipe’s own and with what it means there. */
export const directionField = (group: string, help: string): Field => ({
  option: 'direction',
  group,
  label: 'Direction',
  help,
  flag: 'direction',
  kind: choiceOf([
    ['both', 'Both'],
    ['write', 'Writing'],
    ['read', 'Reading'],
  ]),
});
export const directionSchema = string()
  .oneOf(DIRECTION_CHOICES, 'direction: must be both, write or read.')
  .default('both');
export const DIRECTION_WORDS = { both: 'both ways', write: 'writing', read: 'reading' } as const;

/** Fields that several recipes share. */
export const blockField: Field = {
  option: 'blockBytes',
  group: 'Requests',
  label: 'Block size',
  help: 'A power of two from 4 KiB to 16 MiB.',
  flag: 'block',
  kind: BLOCK,
};
export const depthField: Field = {
  option: 'depth',
  group: 'Requests',
  label: 'Queue depth',
  help: 'Requests outstanding at any time, 1 to 32.',
  flag: 'depth',
  kind: COUNT,
};
export const dataSchema = string()
  .oneOf(DATA_KINDS, 'data: must be incompressible, half-zeros or zeros.')
  .default('incompressible');
export const dataField: Field = {
  option: 'data',
  group: 'Requests',
  label: 'Data written',
  help: 'Drives that compress are flattered by zeros; footage is incompressible.',
  flag: 'data',
  kind: choiceOf([
    ['incompressible', 'Incompressible'],
    ['half-zeros', 'Half zeros'],
    ['zeros', 'Zeros'],
  ]),
};
