import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Problem } from '#core/1-ground/problem.ts';
import { driveDetailsSchema, driveLabelSchema } from '#core/2-trade/drives/drive-details.ts';
import { parseDriveLine } from '#core/2-trade/drives/drive-line.ts';
import { parseHop } from '#core/2-trade/links/hop-line.ts';
import { parsePhase } from '#core/3-jobs/demand/loads/phase-line.ts';
import { readTypedGrid } from '#core/3-jobs/demand/series/typed-grid.ts';
import { FIRST_QUESTION } from '#core/5-answers/ask/question-texts.ts';
import { askedWorkload } from '#core/5-answers/ask/question.ts';
import { sortedQuestion } from '#core/5-answers/ask/sorted-question.ts';
import { parseCalendar, parseDate } from '#core/5-answers/sizing/calendar.ts';
import { materialSchema, parseMaterials } from '#core/5-answers/sizing/material.ts';
import { parseEnclosure, parseSizingConnection } from '#core/5-answers/sizing/part-lines.ts';

/** Words that lines are made of, in any order and with anything between. */
const WORDS = [
  ...[
    '2 TB',
    '400 MB/s',
    '4 Gb/s',
    '560/530 MB/s',
    '12 ms',
    '€329',
    '1 299 EUR',
    '600 TBW',
    '34 dB',
    '7200 rpm',
    'USB4',
  ],
  ...[
    'USB 3.2 Gen 2',
    '10GbE',
    'PCIe 4.0 x4',
    'PCIe 4.0 x99',
    'over',
    'after',
    'then',
    'reads',
    'write',
    'up to',
    'at',
  ],
  ...[
    'UHD',
    'ProRes 422 HQ',
    '25p',
    '3 cameras',
    '2 takes of',
    '1 h 20',
    '18:32',
    '1,000 frames',
    '5:1',
    '48 kHz',
    '24 bit',
  ],
  ...[
    'a day',
    'per day',
    'twice a week',
    'for 18 days',
    'days 1–18',
    'from day 3',
    'week 2',
    'during Shooting',
    '5 % of',
  ],
  ...[
    '8 slots',
    '12 bay NAS',
    'at most 3',
    '420 + rails 60',
    'Mon-Fri',
    '128k QD4',
    '16 threads',
    'under 8 s',
    '900 files of 2 MB',
  ],
  ...[
    '512x256x256',
    'density',
    '30%',
    'half float',
    ':',
    ',',
    ';',
    '×',
    '+',
    '-3',
    '1e99',
    '0',
    'name',
    '<5 s',
    '1.12.2026',
  ],
];
const anyLine = fc.oneof(
  fc.string({ maxLength: 60 }),
  fc.string({ unit: 'grapheme', maxLength: 40 }),
  fc
    .array(fc.tuple(fc.constantFrom(...WORDS), fc.constantFrom(' ', ', ', '', ': ', '; ')), { maxLength: 9 })
    .map((parts) => parts.flat().join('')),
);

const ask = (action: 'record' | 'simulate' | 'load') => (line: string) =>
  askedWorkload(sortedQuestion({ ...FIRST_QUESTION, action, what: line, frame: line, load: line }));

/** What is read can be kept: it is what its schema asks for. */
function drive(line: string): unknown {
  const read = parseDriveLine(line);
  driveDetailsSchema.validateSync(read.details, { strict: true });
  driveLabelSchema.validateSync(read.label);
  expect(read.capacityBytes).toBeGreaterThan(0);
  return read;
}
const material = (line: string): unknown =>
  parseMaterials([line]).map((one) => materialSchema.validateSync(one, { strict: true }));

describe('any line that is typed', () => {
  it('as a drive that has a size and a rate is one that can be kept, or is refused', () => {
    const more = fc.array(fc.constantFrom(...WORDS), { maxLength: 4 });
    let read = 0;
    fc.assert(
      fc.property(more, fc.constantFrom(' ', ', '), (parts, between) => {
        try {
          drive(['2 TB flash', ...parts].join(between));
          read += 1;
        } catch (error) {
          expect(error).toBeInstanceOf(Problem);
        }
      }),
      { numRuns: 2000, endOnFailure: true },
    );
    expect(read).toBeGreaterThan(50);
  });

  it.each<[string, (line: string) => unknown]>([
    ['a drive', drive],
    ['a link', parseHop],
    ['a load', parsePhase],
    ['a grid', (line) => readTypedGrid(line)],
    ['footage', ask('record')],
    ['a simulation', ask('simulate')],
    ['something loaded', ask('load')],
    ['material', material],
    ['a part of a project', (line) => parseCalendar([line])],
    ['a date', (line) => parseDate(line, 'first day')],
    ['an enclosure', parseEnclosure],
    ['a connection', parseSizingConnection],
  ])('as %s is read, or refused with a sentence', (_what, read) => {
    fc.assert(
      fc.property(anyLine, (line) => {
        try {
          expect(read(line)).not.toBe(undefined);
        } catch (error) {
          expect(error).toBeInstanceOf(Problem);
          expect((error as Problem).detail).toMatch(/\S.*[.?]/s);
          expect((error as Problem).detail).not.toMatch(/\b(?:undefined|NaN|null)\b|\[object/);
        }
      }),
      { numRuns: 400, endOnFailure: true },
    );
  });
});
