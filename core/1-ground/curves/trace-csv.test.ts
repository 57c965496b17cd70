import { describe, expect, it } from 'vitest';
import { runOfTrace } from '#core/4-runs/supply/bare-trace.ts';
import { evidenceOf } from '#core/4-runs/supply/evidence.ts';
import { randomFrom } from '#core/1-ground/random.ts';
import { summaryOf } from '#core/4-runs/supply/run-summary.ts';
import { finelySampled, parseTraceCsv } from '#core/1-ground/curves/trace-csv.ts';
import { bytesAt, type Progress } from '#core/1-ground/curves/progress.ts';

describe('a trace as CSV', () => {
  it('is counted from its first row', () => {
    expect(parseTraceCsv('seconds,bytes\n10,500\n12,700\n\n# pause\n15,700\r\n')).toEqual({
      seconds: [0, 2, 5],
      bytes: [0, 200, 200],
    });
    expect(parseTraceCsv('\uFEFF"Seconds", "Bytes"\n0,0\n1,5').bytes).toEqual([0, 5]);
    expect(parseTraceCsv('seconds;bytes\n0;0\n1,5;700\n').seconds).toEqual([0, 1.5]);
  });

  it.each([
    ['', /is empty/],
    ['0,0\n1,1', /line 1: “0,0” is not the header/],
    ['seconds,bytes\n0,0', /at least two rows/],
    ['seconds,bytes\n0,0\n1,x', /line 3: “1,x” is not two numbers/],
    ['seconds,bytes\n0,0\n1,1,1', /line 3/],
    ['seconds,bytes\n0,0\n2,5\n1,9', /line 4: time goes back/],
    ['seconds,bytes\n0,0\n2,5\n3,4', /line 4: bytes go back/],
    ['seconds,bytes\n0,0\n0,5', /some time between/],
    ['seconds,bytes\n0,0\n1,', /line 3/],
  ])('says what is wrong in which line: %#', (text, message) => {
    expect(() => parseTraceCsv(text)).toThrow(message);
  });

  it('of few rows keeps its line, and its levels are read', () => {
    const trace = parseTraceCsv('seconds,bytes\n0,0\n25,50000000000\n2025,230000000000');
    const fine = finelySampled(trace);
    expect(fine.seconds.length).toBeGreaterThan(400);
    for (const second of [1, 24.9, 25, 26, 1000]) expect(bytesAt(fine, second)).toBeCloseTo(bytesAt(trace, second), 0);
    const { figures } = summaryOf(runOfTrace(trace, 'write'));
    expect(figures.write!.reading).toMatchObject({ kneeBytes: 50e9, kneeSeconds: 25 });
    expect(figures.write!.reading!.floorBytesPerSecond! / 1e6).toBeCloseTo(90, 1);
  });

  it('with a floor of a minute and 20 GB is taken to go on for four times that', () => {
    const long = evidenceOf(
      runOfTrace(parseTraceCsv('seconds,bytes\n0,0\n25,50000000000\n325,80000000000'), 'write'),
      'write',
    )!;
    expect(long.provenBytes).toBe(80e9);
    expect(long.continuedBytes! / 1e9).toBeCloseTo(80 + 4 * 30, 0);
    const short = evidenceOf(
      runOfTrace(parseTraceCsv('seconds,bytes\n0,0\n25,50000000000\n75,55000000000'), 'write'),
      'write',
    )!;
    expect(short.continuedBytes).toBe(55e9);
  });

  it('of few rows that are samples is read as it is: noise is no knee', () => {
    for (let seed = 0; seed < 24; seed += 1) {
      const random = randomFrom(seed);
      const rows = 60 + Math.floor(random() * 300);
      const trace: Progress = { seconds: [0], bytes: [0] };
      const knee = seed % 2 === 0 ? rows / 3 : Infinity;
      for (let row = 1; row <= rows; row += 1) {
        trace.seconds.push(row);
        trace.bytes.push(trace.bytes.at(-1)! + (row <= knee ? 1000e6 : 300e6) * (0.85 + 0.3 * random()));
      }
      expect(finelySampled(trace)).toBe(trace);
      const { reading } = summaryOf(runOfTrace(trace, 'write')).figures.write!;
      if (knee === Infinity) expect(reading!.kneeBytes, `seed ${seed}`).toBeNull();
      else expect(reading!.kneeSeconds! / Math.floor(knee), `seed ${seed}`).toBeCloseTo(1, 1);
    }
  });
});
