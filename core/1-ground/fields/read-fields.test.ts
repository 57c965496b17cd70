import { describe, expect, it } from 'vitest';
import { PAYLOAD_FIELDS } from '#core/5-answers/copies/payload.ts';
import { FOOTAGE_FIELDS } from '#core/3-jobs/demand/footage/footage-form.ts';
import { GRID_FIELDS } from '#core/3-jobs/demand/series/series-form.ts';
import { DRIVE_FIELDS } from '#core/2-trade/drives/drive-details.ts';
import type { Field, FieldKind } from '#core/1-ground/fields/field.ts';
import { fieldTexts, readFields } from '#core/1-ground/fields/read-fields.ts';
import { RECIPE_KINDS } from '#core/3-jobs/recipes/registry.ts';
import { SIZING_FIELDS } from '#core/5-answers/sizing/sizing-fields.ts';
import { PHASES } from '#core/3-jobs/demand/loads/phase-line.ts';
import {
  BLOCK,
  BLOCKS,
  BUFFER,
  BYTES,
  COUNT,
  COUNTS,
  DURATIONS,
  FRAME_RATE,
  RATE,
  SECONDS,
  SHARE,
  SOME_SECONDS,
  SWITCH,
  TEXT,
  choiceOf,
  countFrom,
  numberSuchAs,
} from '#core/1-ground/fields/kinds.ts';
import { HOPS } from '#core/2-trade/links/hop-line.ts';
import { STREAMS } from '#core/2-trade/media/frame-stream.ts';
import { CALENDAR, DATE } from '#core/5-answers/sizing/calendar.ts';
import { DRIVE_CHOICE } from '#core/5-answers/sizing/drive-choice.ts';
import { MATERIALS } from '#core/5-answers/sizing/material.ts';
import { CONNECTIONS, ENCLOSURES } from '#core/5-answers/sizing/part-lines.ts';

const fieldOf = (kind: FieldKind, more: Partial<Field> = {}): Field => ({
  option: 'it',
  group: 'Group',
  label: 'It',
  help: 'What it is.',
  flag: 'it',
  kind,
  ...more,
});

/** Value of one text, or the sentence on what is wrong with it. */
function read(field: Field, text: string): { value?: unknown; error?: string } {
  const { values, errors } = readFields([field], { it: text });
  return errors.it === undefined ? { value: values.it } : { error: errors.it };
}

describe('a field', () => {
  it.each<[string, FieldKind, string, unknown]>([
    ['text', TEXT, 'Night shoot', 'Night shoot'],
    ['date', DATE, '2027-03-01', '2027-03-01'],
    ['count', COUNT, '12', 12],
    ['count from 0', countFrom(0), '0', 0],
    ['number', numberSuchAs('3'), '2.5', 2.5],
    ['bytes', BYTES, '400 GB', 400e9],
    ['block', BLOCK, '1 MiB', 1_048_576],
    ['block that is no power of two', BLOCK, '100 kB', 100_000],
    ['a very short span', SECONDS, '80 µs', 80e-6],
    ['seconds', SECONDS, '0 s', 0],
    ['some seconds', SOME_SECONDS, '1 h 30 min', 5400],
    ['rate', RATE, '547 MB/s', 547e6],
    ['frame rate', FRAME_RATE, '25', { numerator: 25, denominator: 1 }],
    ['buffer', BUFFER, '1 s', { unit: 'seconds', amount: 1 }],
    ['buffer', BUFFER, '512 MB', { unit: 'bytes', amount: 512e6 }],
    ['switch', SWITCH, 'yes', true],
    ['switch', SWITCH, 'no', false],
    ['choice', choiceOf([['a', 'A']]), 'a', 'a'],
    ['counts', COUNTS, '1, 4, 32', [1, 4, 32]],
    ['blocks', BLOCKS, '4 KiB, 1 MiB', [4096, 1_048_576]],
    ['durations', DURATIONS, '30 s, 2 min', [30, 120]],
    ['durations', DURATIONS, '60,300', [60, 300]],
    ['share', SHARE, '25 %', 0.25],
  ])('%s is read, and shown so that it is read again', (_name, kind, text, value) => {
    const field = fieldOf(kind);
    expect(read(field, text)).toEqual({ value });
    expect(read(field, `  ${text} `)).toEqual({ value });
    expect(read(field, fieldTexts([field], { it: value }).it!)).toEqual({ value });
  });

  it('asks where a comma may part two or be a decimal one', () => {
    expect(read(fieldOf(DURATIONS), '1,5 min').error).toMatch(/“1,5 min” can mean 1\.5 min, or 1 and 5 min/);
    expect(read(fieldOf(DURATIONS), '1, 5 min')).toEqual({ value: [1, 300] });
    expect(read(fieldOf(BLOCKS), '64KiB,1MiB')).toEqual({ value: [65_536, 1_048_576] });
  });

  it.each<[string, FieldKind, string[]]>([
    ['streams', STREAMS, ['record 8MiB 24 x2', 'play 8MiB 25']],
    ['hops', HOPS, ['Ethernet 10 Gb/s', 'SATA 6 Gb/s']],
    ['calendar', CALENDAR, ['Shooting: days 1–30', 'Finishing: days 31–86, 5 days a week']],
    ['drive choice', DRIVE_CHOICE, ['Anchor 16T: 4 there', 'Petrel 2T']],
    ['materials', MATERIALS, ['Cameras: 1 TB a day, days 1–30', 'Plates: 800 GB, day 12']],
    ['enclosures', ENCLOSURES, ['desk box: 4 slots, 240', 'tall box: 8 slots, 560']],
    ['connections', CONNECTIONS, ['1 Gb/s: 0 over Ethernet 1 Gb/s', 'none: 0 over nothing']],
    ['phases', PHASES, ['Check: 40 s processor, 38 GB in 1 MiB x4, 6000 files, overlap 90%, within 3 min']],
  ])('%s take a thing a line, pass over empty ones, and show each again', (_name, kind, lines) => {
    expect(kind.as).toBe('lines');
    const field = fieldOf(kind);
    const { value } = read(field, `\n${lines.join('\n\n')}\n`);
    expect(value).toHaveLength(lines.length);
    const shown = fieldTexts([field], { it: value }).it!;
    expect(shown.split('\n')).toHaveLength(lines.length);
    expect(read(field, shown)).toEqual({ value });
    expect(read(field, '\n \n')).toEqual({ value: [] });
  });

  it.each<[string, FieldKind, string, RegExp]>([
    ['count', COUNT, '0', /^it: /],
    ['count', COUNT, '2.5', /^it: /],
    ['number', numberSuchAs('3'), '', /is not a number\. Type one such as 3\./],
    ['number', numberSuchAs('3'), '-1', /is not a number\./],
    ['number', numberSuchAs('1.5', 1), '0.5', /is not a number of at least 1\./],
    ['bytes', BYTES, '10 gb', /bytes or bits/],
    ['some seconds', SOME_SECONDS, '0 s', /^it: must be more than nothing\./],
    ['rate', RATE, '0 MB/s', /^it: must be more than nothing\./],
    ['buffer', BUFFER, '5', /“5” of what\? Type seconds, such as 1 s, or bytes, such as 512 MB/],
    ['switch', SWITCH, 'maybe', /“maybe” is neither yes nor no/],
    ['counts', COUNTS, '1, few', /few/],
    ['blocks', BLOCKS, '4 KiB, large', /large/],
    ['share', SHARE, 'half', /half/],
    ['date', DATE, 'Monday', /no date/],
    ['hops', HOPS, 'Ethernet 10 Gb/s\nstring', /string/],
  ])('%s says what is wrong with it', (_name, kind, text, sentence) => {
    const { value, error } = read(fieldOf(kind), text);
    expect(value).toBeUndefined();
    expect(error).toMatch(sentence);
  });

  it('that may be empty is nothing then, and also where it says what empty means', () => {
    const field = fieldOf(numberSuchAs('5000'), { empty: 'none' });
    for (const text of ['', '  ', 'none']) expect(read(field, text)).toEqual({ value: null });
    expect(read(field, '5000')).toEqual({ value: 5000 });
    expect(fieldTexts([field], { it: null })).toEqual({ it: '' });
    expect(fieldTexts([field], {})).toEqual({ it: '' });
  });

  it('without a text gives nothing; of several all faults are told at once', () => {
    const fields = [fieldOf(COUNT), fieldOf(BYTES, { option: 'size', flag: 'size' })];
    expect(readFields(fields, { size: '1 GB' })).toEqual({ values: { size: 1e9 }, errors: {} });
    const { values, errors } = readFields(fields, { it: 'x', size: 'y' });
    expect(values).toEqual({});
    expect(Object.keys(errors)).toEqual(['it', 'size']);
  });
});

describe('every form', () => {
  const forms: [string, readonly Field[]][] = [
    ['footage', FOOTAGE_FIELDS],
    ['a grid', GRID_FIELDS],
    ['a drive', DRIVE_FIELDS],
    ['a payload', PAYLOAD_FIELDS],
    ['a project', SIZING_FIELDS],
    ...RECIPE_KINDS.map(({ id, fields }): [string, readonly Field[]] => [id, fields]),
  ];

  it.each(forms)('of %s has each name once, a label, and a sentence for help', (_name, fields) => {
    const options = fields.map(({ option }) => option);
    expect(new Set(options).size).toBe(options.length);
    for (const { label, help, flag, group } of fields) {
      expect(label).toMatch(/^[A-Z0-9]/);
      expect(group).not.toBe('');
      expect(help, label).toMatch(/[.!?)]$/);
      expect(flag, label).not.toMatch(/^-/);
    }
  });
});
