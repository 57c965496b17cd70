import fc from 'fast-check';
import type { JsonSchema } from '#core/1-ground/schema/json-schema.ts';

/**
 * Values that are as a schema asks for, and values that are nearly so. Whoever finds one that does harm can make it
 * again: what failed is printed with its seed.
 */

/** Texts that have broken programs before: nothing, much, other scripts, codes of terminals, paths, halves of letters. */
const HOSTILE_TEXTS = [
  '',
  ' ',
  '\u0000',
  '\u001b[2J\u001b]0;x\u0007',
  '\ud83d',
  '../../../etc/passwd',
  '/dev/zero',
  '<img src=x onerror=alert(1)>',
  "'; drop table runs; --",
  '__proto__',
  'constructor',
  '１２３',
  '1,5',
  '-1',
  '1e999',
  'NaN',
  '‮gnp.exe',
  'a'.repeat(5000),
  '%00%ff%zz',
];
export const hostileText = fc.oneof(fc.constantFrom(...HOSTILE_TEXTS), fc.string({ unit: 'binary', maxLength: 40 }));

const hostileNumber = fc.constantFrom(0, -1, 1e-320, 0.1, 1.5, 2 ** 31, 2 ** 53, 1e30, 1e308, -1e308);

/** Anything that JSON can hold. */
const anyValue: fc.Arbitrary<unknown> = fc.oneof(
  hostileText,
  hostileNumber,
  fc.constantFrom(null, true, false, [], {}, [[]], [null], { __proto__: null }),
  fc.constant(JSON.parse(`${'[{"a":'.repeat(9)}1${'}]'.repeat(9)}`) as unknown),
);

/** What a schema of ours asks for; sizes and times stay small, so that what is started ends soon. */
export function valueOf(schema: JsonSchema, schemas: Record<string, JsonSchema>): fc.Arbitrary<unknown> {
  const of = (one: JsonSchema): fc.Arbitrary<unknown> => {
    const { $ref, anyOf, type, properties, required, items, ...rest } = one as {
      $ref?: string;
      anyOf?: JsonSchema[];
      type?: string;
      properties?: Record<string, JsonSchema>;
      required?: string[];
      items?: JsonSchema;
      enum?: unknown[];
      minimum?: number;
      maximum?: number;
      maxLength?: number;
      const?: unknown;
    };
    if ($ref !== undefined) return of(schemas[$ref.split('/').at(-1)!]!);
    if (anyOf) return fc.oneof(...anyOf.map(of));
    if (rest.const !== undefined) return fc.constant(rest.const);
    if (rest.enum) return fc.constantFrom(...rest.enum);
    const { minimum = 0, maximum = 1000 } = rest;
    switch (type) {
      case 'object':
        return fc.record(
          Object.fromEntries(Object.entries(properties ?? {}).map(([name, field]) => [name, of(field)])),
          { requiredKeys: required ?? [] },
        );
      case 'array':
        return items ? fc.array(of(items), { maxLength: 3 }) : fc.constant([]);
      case 'integer':
        return fc.integer({ min: minimum, max: Math.min(maximum, minimum + 1000) });
      case 'number':
        return fc.double({ min: minimum, max: Math.min(maximum, minimum + 1000), noNaN: true });
      case 'boolean':
        return fc.boolean();
      case 'string':
        return fc.string({ maxLength: Math.min(rest.maxLength ?? 20, 20) });
      case 'null':
        return fc.constant(null);
      default:
        return anyValue;
    }
  };
  return of(schema);
}

/** The same value with one thing in it changed, gone or added; anything else one time in ten. */
export function spoiled(value: unknown): fc.Arbitrary<unknown> {
  const places: (string | number)[][] = [];
  const walk = (at: unknown, path: (string | number)[]): void => {
    places.push(path);
    if (typeof at !== 'object' || at === null) return;
    for (const key of Object.keys(at)) walk((at as Record<string, unknown>)[key], [...path, key]);
  };
  walk(value, []);
  const change = fc.record({
    place: fc.constantFrom(...places),
    how: fc.constantFrom('set', 'drop', 'add'),
    by: anyValue,
    name: hostileText,
  });
  return fc.oneof(
    { weight: 9, arbitrary: change.map((one) => changed(value, one)) },
    { weight: 1, arbitrary: anyValue },
  );
}

function changed(
  value: unknown,
  { place, how, by, name }: { place: (string | number)[]; how: string; by: unknown; name: string },
): unknown {
  if (place.length === 0) return how === 'add' && typeof value === 'object' ? { ...value, [name]: by } : by;
  const copy = structuredClone(value) as Record<string, unknown>;
  let at = copy;
  for (const key of place.slice(0, -1)) at = at[key] as Record<string, unknown>;
  const last = String(place.at(-1));
  if (how === 'drop') delete at[last];
  else at[how === 'set' ? last : name] = by;
  return copy;
}

/** A file nearly like a good one: cut off, with bytes changed, a piece doubled, put in or taken out. */
export function spoiledBytes(good: Uint8Array): fc.Arbitrary<Buffer> {
  const at = fc.nat(Math.max(0, good.length - 1));
  const piece = fc.oneof(
    hostileText.map((text) => Buffer.from(text)),
    fc.uint8Array({ maxLength: 64 }).map((bytes) => Buffer.from(bytes)),
    fc
      .constantFrom('{', '}', '[', ',', '"', ':', '\n', '\r', ';', '\t', '-', 'e9', '0', '9'.repeat(30))
      .map((text) => Buffer.from(text)),
  );
  const one = fc.record({
    from: at,
    to: at,
    by: piece,
    how: fc.constantFrom('cut', 'set', 'insert', 'drop', 'double'),
  });
  return fc.array(one, { minLength: 1, maxLength: 6 }).map((changes) => {
    let bytes = Buffer.from(good);
    for (const { from, to, by, how } of changes) {
      const [a, b] = [Math.min(from, to, bytes.length), Math.min(Math.max(from, to), bytes.length)];
      const parts = {
        cut: [bytes.subarray(0, b)],
        set: [bytes.subarray(0, a), by, bytes.subarray(a + by.length)],
        insert: [bytes.subarray(0, a), by, bytes.subarray(a)],
        drop: [bytes.subarray(0, a), bytes.subarray(Math.min(b, a + 200))],
        double: [bytes.subarray(0, b), bytes.subarray(a)],
      };
      bytes = Buffer.concat(parts[how]);
    }
    return bytes;
  });
}

/** What no sentence for people may hold: what programs say when they meet what they did not expect. */
const PROGRAM_WORDS =
  /undefined|\[object |\bNaN\b|TypeError|RangeError|ReferenceError|is not a function|^\s+at .+:\d+/m;

/** What is wrong with a sentence for people; null for nothing. What it quotes is theirs, and so is what they sent. */
export function sentenceFault(sentence: string, sent: readonly string[] = []): string | null {
  if (sentence.trim() === '') return 'says nothing';
  const words = PROGRAM_WORDS.exec(sentence.replace(/“[^”]*”/g, '“”'))?.[0];
  return words === undefined || sent.some((text) => text.includes(words)) ? null : `says “${words}”`;
}

/** Every text in a value, names too. */
export function textsIn(value: unknown): string[] {
  if (typeof value === 'string') return [value];
  if (typeof value !== 'object' || value === null) return [];
  return Object.entries(value).flatMap(([name, part]) => [name, ...textsIn(part)]);
}

/** Whether a text would do something to a terminal that shows it. */
export const holdsCodes = (text: string): boolean =>
  // eslint-disable-next-line no-control-regex -- They are what is looked for.
  /[\u0000-\u0008\u000b-\u001f\u007f-\u009f]/.test(text);
