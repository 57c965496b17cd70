import { describe, expect, it } from 'vitest';
import { PAYLOAD_FIELDS } from '#core/copies/payload.ts';
import { FOOTAGE_FIELDS } from '#core/demand/footage/footage-form.ts';
import { GRID_FIELDS } from '#core/demand/series/series-form.ts';
import { DRIVE_FIELDS } from '#core/drives/drive-details.ts';
import { isLines, type Field, type FieldKind } from '#core/fields/field.ts';
import { fieldTexts, readFields } from '#core/fields/read-fields.ts';
import { RECIPE_KINDS } from '#core/recipes/registry.ts';
import { SIZING_FIELDS } from '#core/sizing/sizing-form.ts';

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
  it.each<[FieldKind, string, unknown]>([
    [{ type: 'text' }, 'Night shoot', 'Night shoot'],
    [{ type: 'date' }, '2027-03-01', '2027-03-01'],
    [{ type: 'count' }, '12', 12],
    [{ type: 'count', least: 0 }, '0', 0],
    [{ type: 'number', example: '3' }, '2.5', 2.5],
    [{ type: 'bytes' }, '400 GB', 400e9],
    [{ type: 'block' }, '1 MiB', 1_048_576],
    [{ type: 'seconds' }, '0 s', 0],
    [{ type: 'seconds', positive: true }, '1 h 30 min', 5400],
    [{ type: 'rate' }, '547 MB/s', 547e6],
    [{ type: 'frame-rate' }, '25', { numerator: 25, denominator: 1 }],
    [{ type: 'buffer' }, '1 s', { unit: 'seconds', amount: 1 }],
    [{ type: 'buffer' }, '512 MB', { unit: 'bytes', amount: 512e6 }],
    [{ type: 'switch' }, 'yes', true],
    [{ type: 'switch' }, 'no', false],
    [{ type: 'choice', choices: [['a', 'A']] }, 'a', 'a'],
    [{ type: 'counts' }, '1, 4, 32', [1, 4, 32]],
    [{ type: 'blocks' }, '4 KiB, 1 MiB', [4096, 1_048_576]],
    [{ type: 'durations' }, '30 s, 2 min', [30, 120]],
    [{ type: 'share' }, '25 %', 0.25],
  ])('%j reads “%s”, and shows it so that it is read again', (kind, text, value) => {
    const field = fieldOf(kind);
    expect(read(field, text)).toEqual({ value });
    expect(read(field, `  ${text} `)).toEqual({ value });
    expect(read(field, fieldTexts([field], { it: value }).it!)).toEqual({ value });
  });

  it.each<[FieldKind, string[]]>([
    [{ type: 'streams' }, ['record 8MiB 24 x2', 'play 8MiB 25']],
    [{ type: 'hops' }, ['Ethernet 10 Gb/s', 'SATA 6 Gb/s']],
    [{ type: 'calendar' }, ['Shooting: days 1–30', 'Finishing: days 31–86, 5 days a week']],
    [{ type: 'drive-choice' }, ['Anchor 16T: 4 there', 'Petrel 2T']],
    [{ type: 'materials' }, ['Cameras: 1 TB a day, days 1–30', 'Plates: 800 GB, day 12']],
    [{ type: 'enclosures' }, ['desk box: 4 slots, 240', 'tall box: 8 slots, 560']],
    [{ type: 'connections' }, ['1 Gb/s: 0 over Ethernet 1 Gb/s', 'none: 0 over nothing']],
    [{ type: 'phases' }, ['Check: 40 s processor, 38 GB in 1 MiB x4, 6000 files, overlap 90%, within 3 min']],
  ])('%j takes a thing a line, passes over empty ones, and shows each again', (kind, lines) => {
    expect(isLines(kind)).toBe(true);
    const field = fieldOf(kind);
    const { value } = read(field, `\n${lines.join('\n\n')}\n`);
    expect(value).toHaveLength(lines.length);
    const shown = fieldTexts([field], { it: value }).it!;
    expect(shown.split('\n')).toHaveLength(lines.length);
    expect(read(field, shown)).toEqual({ value });
    expect(read(field, '\n \n')).toEqual({ value: [] });
  });

  it.each<[FieldKind, string, RegExp]>([
    [{ type: 'count' }, '0', /^it: /],
    [{ type: 'count' }, '2.5', /^it: /],
    [{ type: 'number', example: '3' }, '', /is not a number\. Type one such as 3\./],
    [{ type: 'number', example: '3' }, '-1', /is not a number\./],
    [{ type: 'number', example: '1.5', least: 1 }, '0.5', /is not a number of at least 1\./],
    [{ type: 'bytes' }, '10 gb', /bytes or bits/],
    [{ type: 'seconds', positive: true }, '0 s', /^it: must be more than nothing\./],
    [{ type: 'rate' }, '0 MB/s', /^it: must be more than nothing\./],
    [{ type: 'buffer' }, '5', /“5” of what\? Type seconds, such as 1 s, or bytes, such as 512 MB/],
    [{ type: 'switch' }, 'maybe', /“maybe” is neither yes nor no/],
    [{ type: 'counts' }, '1, few', /few/],
    [{ type: 'blocks' }, '4 KiB, large', /large/],
    [{ type: 'share' }, 'half', /half/],
    [{ type: 'date' }, 'Monday', /no date/],
    [{ type: 'hops' }, 'Ethernet 10 Gb/s\nstring', /string/],
  ])('%j says what is wrong with “%s”', (kind, text, sentence) => {
    const { value, error } = read(fieldOf(kind), text);
    expect(value).toBeUndefined();
    expect(error).toMatch(sentence);
  });

  it('that may be empty is nothing then, and also where it says what empty means', () => {
    const field = fieldOf({ type: 'number', example: '5000' }, { empty: 'none' });
    for (const text of ['', '  ', 'none']) expect(read(field, text)).toEqual({ value: null });
    expect(read(field, '5000')).toEqual({ value: 5000 });
    expect(fieldTexts([field], { it: null })).toEqual({ it: '' });
    expect(fieldTexts([field], {})).toEqual({ it: '' });
  });

  it('without a text gives nothing; of several all faults are told at once', () => {
    const fields = [fieldOf({ type: 'count' }), fieldOf({ type: 'bytes' }, { option: 'size', flag: 'size' })];
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
