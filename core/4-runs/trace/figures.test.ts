import { describe, expect, it } from 'vitest';
import { bucketOf, bucketUpperSeconds } from '#core/4-runs/run/histogram.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { runOf, type MadePass } from '#core/testing/run-of.ts';
import { summaryOf } from '#core/4-runs/supply/run-summary.ts';
import { figuresOf } from '#core/4-runs/trace/figures.ts';

const steady = (rate: number, seconds: number) => Array<number>(seconds).fill(rate);
const write = (rates: number[], more: Partial<MadePass> = {}): MadePass => ({ direction: 'write', rates, ...more });
const read = (rates: number[]): MadePass => ({ direction: 'read', rates });

describe('figures of both directions', () => {
  it('take bytes, seconds and flushes of the passes that count, and the longest of them', () => {
    const { write: figures } = figuresOf(
      runOf([
        write(steady(999, 4), { phase: 'sizing' }),
        write(steady(130, 10), { flushSeconds: 2 }),
        write(steady(120, 12), { flushSeconds: 1 }),
        write(steady(110, 11)),
      ]),
    );
    expect(figures).toMatchObject({
      bytes: 1300 + 1440 + 1210,
      seconds: 10 + 12 + 11 + 3,
      flushSeconds: 3,
      longestPassBytes: 1440,
      passes: 3,
      highestPassBytesPerSecond: 1440 / 13,
    });
    expect(figures!.lowestPassBytesPerSecond).toBeCloseTo(1300 / 12, 9);
    // The levels are those of the longest pass, timed from where it began.
    expect(figures!.readingFromSeconds).toBe(4 + 12);
  });

  it('are those of as many passes as a run of days has', () => {
    const pass = write([100]);
    const run = runOf(Array<MadePass>(150_000).fill(pass));
    expect(summaryOf(run).figures.write).toMatchObject({ passes: 150_000, lowestPassBytesPerSecond: 100 });
  });

  it('have the worst windows of any pass, where a pass is as long as the window', () => {
    const short = figuresOf(runOf([write([100, 40, 100]), write([90, 90, 90])])).write!;
    expect(short).toMatchObject({ worstSecondBytesPerSecond: 40, worstTenSecondsBytesPerSecond: null });
    const long = figuresOf(runOf([write([...steady(100, 9), 50, 100]), write(steady(90, 11))])).write!;
    expect(long).toMatchObject({ worstSecondBytesPerSecond: 50, worstTenSecondsBytesPerSecond: 90 });
  });

  it('read levels of a pass that is long enough for any', () => {
    expect(figuresOf(runOf([write(steady(100, 5))])).write!.reading).toBeNull();
    expect(figuresOf(runOf([write(steady(100, 20))])).write!.reading).not.toBeNull();
  });

  it('know the longest wait at the start of a pass of their direction', () => {
    const figures = figuresOf(runOf([write([0, 0, 0, 100, 100]), read([0, 100, 100]), write([0, 100, 100, 100])]));
    expect(figures.write!.spinUpSeconds).toBe(3);
    expect(figures.read!.spinUpSeconds).toBe(1);
  });

  it('take latencies from their own requests and nobody else’s', () => {
    const run: RunDocument = runOf([
      write(steady(100, 3), { phase: 'sizing' }),
      write(steady(100, 3)),
      read(steady(100, 3)),
    ]);
    const rows: [direction: 'write' | 'read', pass: number, seconds: number, count: number][] = [
      ['write', 0, 1, 1000],
      ['write', 1, 0.001, 990],
      ['write', 1, 0.05, 9],
      ['write', 1, 0.2, 1],
      ['read', 1, 0.004, 500],
    ];
    run.latency = {
      atSeconds: rows.map(() => 1),
      direction: rows.map(([direction]) => direction),
      pass: rows.map(([, pass]) => pass),
      rung: rows.map(() => 0),
      buckets: rows.map(([, , seconds]) => [bucketOf(seconds)]),
      counts: rows.map(([, , , count]) => [count]),
    };
    run.samples.latencyMaxSeconds = run.samples.pass.map((pass, row) =>
      pass === 0 ? 9 : run.samples.direction[row] === 'read' ? 0.006 : row === 5 ? 0.25 : 0.04,
    );
    // A row in which nothing was completed tells of no request.
    run.samples.latencyMaxSeconds[4] = 7;
    run.samples.operations[4] = 0;
    const { write: writing, read: reading } = figuresOf(run);
    const upper = (seconds: number) => bucketUpperSeconds(bucketOf(seconds));
    expect(writing).toMatchObject({
      latencyP50Seconds: upper(0.001),
      latencyP99Seconds: upper(0.001),
      latencyP999Seconds: upper(0.05),
      latencyMaxSeconds: 0.25,
    });
    expect(reading).toMatchObject({ latencyP50Seconds: upper(0.004), latencyMaxSeconds: 0.006 });
    run.samples.operations = run.samples.operations.map(() => 0);
    expect(figuresOf(run).read!.latencyMaxSeconds).toBeNull();
  });
});

describe('what rests regained', () => {
  const rested = (fills: number[]) => {
    const run = runOf([write(fills), write([...steady(1e9, 10), ...steady(1e8, 20)], { phase: 'recovery' })]);
    const rest = { kind: 'rest', seconds: 60, direction: null, pass: null, phase: null, note: '' } as const;
    run.markers.push({ ...rest, atSeconds: fills.length - 1 });
    return figuresOf({ ...run, recipe: 'long-fill' });
  };

  it('is told of a drive that has a cache to regain, and of no other', () => {
    expect(rested([...steady(1e9, 30), ...steady(1e8, 90)]).recovery).toEqual([
      { restSeconds: 60, regainedBytes: 10e9, atLeast: false },
    ]);
    expect(rested(steady(1e9, 120)).recovery).toBeNull();
  });

  it('is none where the run made no rest', () => {
    expect(figuresOf(runOf([write([...steady(1e9, 30), ...steady(1e8, 90)])])).recovery).toBeNull();
  });
});

describe('recipes with figures of their own', () => {
  it('have these and no rates of a direction', () => {
    const run = runOf([]);
    const of = (recipe: string, options: object) => {
      const figures = figuresOf({ ...run, recipe, options: options as Record<string, unknown> });
      return Object.entries(figures).flatMap(([name, value]) => (value === null ? [] : [name]));
    };
    expect(of('block-ladder', {})).toEqual(['ladder']);
    expect(of('file-scatter', {})).toEqual(['files']);
    expect(of('replay', {})).toEqual(['phases']);
    expect(of('short-passes', {})).toEqual([]);
  });
});
