import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { progressBytes, progressDuration } from '#core/1-ground/curves/progress.ts';
import {
  DATA_UNITS,
  TIME_UNITS,
  openQuestions,
  readTraceTable,
  traceOfTable,
  type DataUnit,
  type TimeUnit,
  type TraceColumns,
} from '#core/1-ground/curves/table-trace.ts';

/** What a table says by itself, read. */
function read(text: string) {
  const table = readTraceTable(text);
  expect(openQuestions(table.plain)).toEqual([]);
  return traceOfTable(table, table.plain as TraceColumns);
}

describe('a table that says what it holds', () => {
  it.each([
    ['seconds,bytes\n0,0\n1,100\n2,300', 300, 2],
    ['Time (ms);Written MB\n0;0\n500;50,5\n1000;100', 100e6, 1],
    ['elapsed_s\tWrite MB/s\n1\t200\n2\t100\n3\t300', 600e6, 3],
    ['timestamp,throughput (Mbit/s)\n12:00:00,80\n12:00:01,160\n12:00:02,80', 40e6, 3],
    ['date,bytes_written\n2026-03-02T23:59:59Z,0\n2026-03-03T00:00:01Z,500', 500, 2],
    ['clock,MiB/s\n23:59:58.5,1\n23:59:59.5,1\n00:00:00.5,1', 3 * 1024 ** 2, 3],
    ['Uhrzeit;Geschrieben MB/s\n09:00:02;1200,0\n09:00:04;600,0', 3600e6, 4],
    ['t [s],kB per second\n10,1\n20,1', 20e3, 20],
    ['frame,time_us,bytes\n1,0,10\n2,1000000,20\n3,2000000,5', 35, 3],
  ])('is read without a question: %s', (text, bytes, seconds) => {
    const progress = read(text);
    expect(progressBytes(progress)).toBeCloseTo(bytes, 3);
    expect(progressDuration(progress)).toBeCloseTo(seconds, 9);
  });

  it.each([
    ['time,mb/s\n0,1\n1,2', ['in which unit the time is', 'in which unit that is']],
    ['s,value\n0,1\n1,2', ['whether that is all so far, since the row before, or a rate', 'in which unit that is']],
    ['time s,read MB/s,write MB/s\n0,1,1\n1,2,2', ['which column says how much was moved']],
    ['a,b,c\n0,1,1\n1,2,2', ['which column says the time', 'which column says how much was moved']],
    ['seconds,bytes\n0,100\n1,100\n2,100', ['whether that is all so far, since the row before, or a rate']],
  ])('is asked about where it is not plain: %s', (text, questions) => {
    const open = openQuestions(readTraceTable(text).plain);
    for (const question of questions) expect(open).toContain(question);
  });
});

describe('a trace by a table', () => {
  it('is the same whichever way and in whatever units it is written', () => {
    const steps = fc.array(
      fc.tuple(fc.double({ min: 0.01, max: 100, noNaN: true }), fc.double({ min: 0, max: 1e6, noNaN: true })),
      {
        minLength: 3,
        maxLength: 40,
      },
    );
    const units = fc.tuple(
      fc.constantFrom(...(Object.keys(TIME_UNITS) as Exclude<TimeUnit, 'moment'>[])),
      fc.constantFrom(...(Object.keys(DATA_UNITS) as DataUnit[])),
    );
    fc.assert(
      fc.property(steps, units, (rows, [timeUnit, unit]) => {
        // Rows that are apart alike: the first is taken to be as long as the others.
        const gap = rows[0]![0];
        const lines = (value: (row: number) => number, from = 1) =>
          rows.map((_, row) => `${((row + from) * gap) / TIME_UNITS[timeUnit]};${value(row) / DATA_UNITS[unit]}`);
        const totals = rows.map((_, row) => rows.slice(0, row + 1).reduce((sum, [, bytes]) => sum + bytes, 0));
        const common = { time: 0, timeUnit, value: 1, unit };
        const of = (kind: TraceColumns['kind'], text: string[]) =>
          traceOfTable(readTraceTable(['a;b', ...text].join('\n')), { ...common, kind });
        const step = of(
          'step',
          lines((row) => rows[row]![1]),
        );
        const rate = of(
          'rate',
          lines((row) => rows[row]![1] / gap),
        );
        const total = of('total', [`0;0`, ...lines((row) => totals[row]!)]);
        for (const one of [rate, total]) {
          expect(one.seconds).toHaveLength(step.seconds.length);
          one.bytes.forEach((bytes, index) => expect(bytes).toBeCloseTo(step.bytes[index]!, 0));
          one.seconds.forEach((second, index) =>
            expect(Math.abs(second - step.seconds[index]!)).toBeLessThan(1e-6 * (1 + second)),
          );
        }
      }),
      { numRuns: 60 },
    );
  });

  const columns: TraceColumns = { time: 0, timeUnit: 's', value: 1, kind: 'total', unit: 'B' };
  it.each([
    ['s,b\n0,0\n1,x', 'line 3', 'under b is no number'],
    ['s,b\n0,0\nx,1', 'line 3', 'under s is no time'],
    ['s,b\n1,0\n0,1', 'line 3', 'time goes back'],
    ['s,b\n0,5\n1,1', 'line 3', 'counted by row'],
    ['s,b\n0,0\n1,-1', 'line 3', 'less than nothing'],
    ['s;b\n0;0\n1;1,500', 'line 3', 'can mean 1500 or 1.500'],
  ])('names the line at fault: %s', (text, line, words) => {
    const reading = () => traceOfTable(readTraceTable(text, 'log.csv'), columns, 'log.csv');
    expect(reading).toThrow(line);
    expect(reading).toThrow(words);
  });

  it.each(['', 'one\n1\n2', 'seconds,bytes\n0,0', '<html></html>'])('needs a table: %s', (text) => {
    expect(() => readTraceTable(text, 'log.csv')).toThrow('log.csv');
  });
});
