import { mixed } from 'yup';
import type { JsonSchema } from '#core/1-ground/schema/json-schema.ts';

/** Longest series of a run: 24 h at 20 Hz, with room. */
const LONGEST_SERIES = 4_000_000;

/**
 * Columns hold up to millions of values, so they are checked in one pass here and not value by
 * value by the schema library.
 */
function columnOf<T>(
  isValue: (value: unknown) => boolean,
  what: readonly [one: string, many: string],
  items: JsonSchema,
) {
  const [one, many] = what;
  return mixed<T[]>((value): value is T[] => Array.isArray(value))
    .test('column', function (column) {
      // Whether it may be missing is for the schema to say.
      if (column === undefined) return true;
      if (!Array.isArray(column)) return this.createError({ message: `${this.path} must be a list of ${many}.` });
      if (column.length > LONGEST_SERIES) {
        return this.createError({ message: `${this.path} has ${column.length} values, more than ${LONGEST_SERIES}.` });
      }
      const fault = column.findIndex((value) => !isValue(value));
      const path = `${this.path}[${fault}]`;
      return fault < 0 ? true : this.createError({ message: `${path} must be ${one}.`, path });
    })
    .meta({ jsonSchema: { type: 'array', items } })
    .required();
}

export const numberColumn = () =>
  columnOf<number>(Number.isFinite, ['a finite number', 'finite numbers'], { type: 'number' });
/** Numbers from `low` to `high`, at least one of them and at most so many. */
export const boundedColumn = (low: number, high: number, most: number) =>
  columnOf<number>(
    (value) => typeof value === 'number' && value >= low && value <= high,
    [`a number from ${low} to ${high}`, `numbers from ${low} to ${high}`],
    { type: 'number', minimum: low, maximum: high },
  ).test('length', function (column) {
    // What is no list is reported above.
    if (!Array.isArray(column) || (column.length >= 1 && column.length <= most)) return true;
    return this.createError({ message: `${this.path} has ${column.length} values; it takes 1 to ${most}.` });
  });
export const nullableNumberColumn = () =>
  columnOf<number | null>(
    (value) => value === null || Number.isFinite(value),
    ['a finite number or null', 'finite numbers or null'],
    {
      type: ['number', 'null'],
    },
  );
export const wordColumn = <T extends string>(words: readonly T[]) =>
  columnOf<T>(
    (value) => (words as readonly unknown[]).includes(value),
    [`one of ${words.join(', ')}`, `words of ${words.join(', ')}`],
    {
      enum: [...words],
    },
  );
export const countsColumn = () =>
  columnOf<number[]>(
    (value) => Array.isArray(value) && value.every((count) => Number.isInteger(count) && count >= 0),
    ['a list of whole numbers', 'lists of whole numbers'],
    {
      type: 'array',
      items: { type: 'integer', minimum: 0 },
    },
  );

/**
 * Whether columns are equally long, and not empty. Asked before each column is looked at on its own: one that is no
 * list is reported by its own schema, and where there are no columns at all they are null.
 */
export function areAlongside(columns: object | null | undefined, names: readonly string[]): boolean {
  if (columns === null || columns === undefined) return true;
  const lists = names.map((name) => (columns as Record<string, unknown>)[name]).filter((one) => Array.isArray(one));
  return (
    lists.length < names.length || (lists[0]!.length > 0 && lists.every(({ length }) => length === lists[0]!.length))
  );
}
