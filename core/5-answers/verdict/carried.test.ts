import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Demand } from '#core/3-jobs/demand/demand.ts';
import { takeBytesOf } from '#core/3-jobs/demand/demand.ts';
import { MB, demandFrom, evidenceOfTrace, progressOf, samplesOf } from '#core/testing/curves.ts';
import { progressBytes, progressDuration, type Progress } from '#core/1-ground/curves/progress.ts';
import { askedOf } from '#core/5-answers/verdict/asked.ts';
import { carriedOf } from '#core/5-answers/verdict/carried.ts';
import { judgeRun } from '#core/5-answers/verdict/judge.ts';
import { summedDemand } from '#core/5-answers/verdict/together.ts';
import { DEFAULT_POLICY } from '#core/5-answers/verdict/verdict.ts';

/** Recording so many MB/s for a time, with a buffer of so many MB. */
const asking = (rate: number, takeSeconds: number, buffer: number, more: Partial<Demand> = {}): Demand =>
  demandFrom({
    bytesPerSecond: rate * MB,
    burstBytes: 0,
    streams: 1,
    takeSeconds,
    bufferBytes: buffer * MB,
    ...more,
  });
const along = (curve: Progress, buffer: number, more: Partial<Demand> = {}): Demand => {
  const average = progressBytes(curve) / progressDuration(curve) / MB;
  return asking(average, progressDuration(curve), buffer, { curve, peakBytesPerSecond: 10 * average * MB, ...more });
};
const say = (demand: Demand, trace: Progress, more = {}) =>
  judgeRun(demand, evidenceOfTrace(trace, more), DEFAULT_POLICY);

const stalled = samplesOf([10, 1000], [2, 0], [88, 1000]);
const knee = samplesOf([50, 1000], [200, 200]);
const dipped = samplesOf(
  [15, 1000],
  ...Array<[number, number][]>(8)
    .fill([
      [2, 100],
      [18, 1000],
    ])
    .flat(),
);

describe('a recording', () => {
  it('needs what a stop may leave waiting, whenever it comes', () => {
    const { leastBufferBytes } = carriedOf([askedOf(asking(400, 50, 800))], 'write', evidenceOfTrace(stalled));
    expect(leastBufferBytes / MB).toBeCloseTo(800, 0);
    expect(say(asking(400, 50, 801), stalled).verdict).toBe('tight');
    expect(say(asking(400, 50, 790), stalled)).toMatchObject({ verdict: 'not-proven', reason: 'worst-moment' });
    expect(say(asking(400, 50, 1001), stalled).verdict).toBe('holds');
    expect(say(asking(400, 50, 801), stalled).guaranteedBytesPerSecond! / MB).toBeCloseTo(400, 0);
  });

  it('of frames that are all alike, as of an uncompressed sequence, asks for its rate and for one frame at once', () => {
    // Each frame comes whole: 3 MB more than the rate, in no time.
    const frames = asking(72, 40, 72, { burstBytes: 3 * MB, peakBytesPerSecond: 72 * MB });
    expect(say(frames, samplesOf([60, 150]))).toMatchObject({ verdict: 'holds' });
    const carried = carriedOf([askedOf(frames)], 'write', evidenceOfTrace(samplesOf([60, 150])));
    expect(carried.leastBufferBytes / MB).toBeCloseTo(3, 3);
    // 1 GB at 72 MB/s, then what a frame leaves of the buffer at 32 MB/s.
    const broken = say(frames, samplesOf([4, 250], [40, 40]));
    expect(broken).toMatchObject({ verdict: 'breaks', reason: 'too-slow' });
    const moments = [1000 / 72 + (72 - 3) / 32, 1000 / 72 + 72 / 32];
    expect(broken.breaksAtSeconds).toBeGreaterThan(0.98 * moments[0]!);
    expect(broken.breaksAtLatestSeconds ?? broken.breaksAtSeconds).toBeLessThan(1.02 * moments[1]!);
    expect(broken.guaranteedBytesPerSecond! / MB).toBeGreaterThan(39);
  });

  it('breaks behind a knee when its buffer is full', () => {
    // 166.67 s to the knee, then 100 MB/s too many fill 300 MB in three.
    const broken = say(asking(300, 200, 300), knee);
    expect(broken).toMatchObject({ verdict: 'breaks', reason: 'too-slow', breaksAtLatestSeconds: null });
    expect(broken.breaksAtSeconds).toBeCloseTo(169.667, 2);
    expect(broken.leastBufferBytes! / MB).toBeCloseTo(3333.33, 0);
    // What waits in the buffer when the take ends does not run over.
    expect(say(asking(300, 169.6, 300), knee).verdict).not.toBe('breaks');
    expect(say(asking(300, 169.8, 300), knee).verdict).toBe('breaks');
  });

  it('needs what dips that come again leave waiting', () => {
    const { leastBufferBytes } = carriedOf([askedOf(asking(400, 60, 600))], 'write', evidenceOfTrace(dipped));
    expect(leastBufferBytes / MB).toBeGreaterThan(599);
    expect(leastBufferBytes / MB).toBeLessThan(612);
  });

  it('is never said to hold where a stop behind the knee may come before it', () => {
    const behind = samplesOf([10, 1000], [10, 400], [4, 0], [80, 400]);
    expect(say(asking(300, 30, 300), behind).verdict).toBe('not-proven');
    const stops = samplesOf(
      [15, 1000],
      ...Array<[number, number][]>(7)
        .fill([
          [0, 0],
          [2, 0],
          [18, 1000],
        ])
        .flat(),
    );
    expect(['not-proven', 'breaks']).toContain(say(asking(400, 30, 60), stops).verdict);
  });

  it('is told to break between two moments where the clock decides', () => {
    // Stops so close that every take meets one, whenever it begins.
    const stops = samplesOf(
      ...Array<[number, number][]>(30)
        .fill([
          [3, 900],
          [2, 0],
        ])
        .flat(),
    );
    const broken = say(asking(300, 60, 100), stops);
    expect(broken).toMatchObject({ verdict: 'breaks' });
    expect(broken.breaksAtSeconds).toBeLessThan(0.6);
    // By bytes the first stop comes after 2.7 GB, nine seconds into the take.
    expect(broken.breaksAtLatestSeconds).toBeCloseTo(9 + 1 / 3, 1);
  });

  it('leaves less of the buffer to a demand that has peaks of its own', () => {
    const steady = samplesOf([20, 1000]);
    const bursting = asking(600, 10, 150, { burstBytes: 300 * MB, peakBytesPerSecond: 1500 * MB });
    // 900 MB/s above for a third of a second, of which the drive takes 400: 167 MB wait.
    const { leastBufferBytes } = carriedOf([askedOf(bursting)], 'write', evidenceOfTrace(steady));
    expect(leastBufferBytes / MB).toBeCloseTo((300 / 900) * 500, 0);
    expect(say({ ...bursting, bufferBytes: 170 * MB }, steady).verdict).not.toBe('breaks');
  });

  it('counts the bytes of one take', () => {
    expect(takeBytesOf(asking(100, 12, 0))).toBe(1200 * MB);
    expect(takeBytesOf(along(progressOf([2, 100], [3, 50]), 0))).toBe(350);
    const both = summedDemand([asking(100, 12, 0), asking(50, 4, 0)], 'write')!;
    expect(takeBytesOf(both)).toBe(1400 * MB);
  });

  it('is not told to carry more than the drive ever did', () => {
    const short = samplesOf([3, 900]);
    const told = say(asking(700, 2, 6000), short, { mayProveHolds: true });
    expect(told.verdict).toBe('holds');
    expect(told.guaranteedBytesPerSecond! / MB).toBeCloseTo(900, 3);
    expect(told.rateSeenBytesPerSecond! / MB).toBeCloseTo(900, 3);
  });
});

describe('several items', () => {
  const together = (...parts: Demand[]) => say(summedDemand(parts, 'write')!, stalled);

  it('have each a buffer of its own, the most urgent first', () => {
    expect(together(asking(100, 20, 201), asking(300, 20, 601)).verdict).toBe('tight');
    expect(together(asking(100, 20, 195), asking(300, 20, 600)).verdict).toBe('not-proven');
    // A large buffer of one is none of the other.
    expect(together(asking(100, 20, 0), asking(300, 20, 2000)).verdict).toBe('not-proven');
  });

  it('last as long as each of them does', () => {
    // 100 MB/s throughout and 300 for the first minute: behind the knee only the first is left.
    const long = asking(100, 200, 150);
    const short = asking(300, 60, 450);
    expect(say(long, knee).verdict).toBe('holds');
    expect(say(summedDemand([long, short], 'write')!, knee).verdict).toBe('holds');
    expect(say(summedDemand([long, { ...short, takeSeconds: 200 }], 'write')!, knee).verdict).toBe('breaks');
  });

  it('break where one alone does', () => {
    const lone = asking(300, 200, 300);
    const both = say(summedDemand([lone, asking(10, 200, 1e5)], 'write')!, knee);
    expect(both.verdict).toBe('breaks');
    expect(both.breaksAtSeconds!).toBeLessThanOrEqual(say(lone, knee).breaksAtSeconds!);
  });
});

describe('a demand that changes', () => {
  it('of one rate is the same as a constant one', () => {
    fc.assert(
      fc.property(fc.integer({ min: 100, max: 900 }), fc.integer({ min: 50, max: 900 }), (rate, buffer) => {
        const constant = say(asking(rate, 120, buffer), knee);
        const changing = say(along(progressOf([40, rate * MB], [80, rate * MB]), buffer), knee);
        expect(changing.verdict).toBe(constant.verdict);
        if (constant.breaksAtSeconds !== null) {
          expect(changing.breaksAtSeconds! / constant.breaksAtSeconds).toBeCloseTo(1, 2);
        }
      }),
      { numRuns: 30 },
    );
  });

  it('meets a stop at its peak', () => {
    // 9 GB in the first ten seconds, 2.9 GB, 3.1 GB, 3 GB: the worst ten of the trace of four seconds of stop.
    const trace = samplesOf([10, 1000], [4, 0], [40, 1000]);
    const curve = { seconds: [0, 10, 20, 30], bytes: [0, 2.9e9, 6e9, 9e9] };
    expect(say(along(curve, 1245), trace).verdict).toBe('tight');
    expect(say(along(curve, 1230), trace).verdict).toBe('not-proven');
    expect(say(asking(300, 30, 300), trace).verdict).toBe('not-proven');
  });

  it('of many points is thinned on the safe side', () => {
    const wavy: Progress = { seconds: [0], bytes: [0] };
    for (let frame = 1; frame <= 1500; frame += 1) {
      wavy.seconds.push(frame / 25);
      wavy.bytes.push(wavy.bytes.at(-1)! + (12 + 6 * Math.sin(frame / 40)) * MB);
    }
    const needs = (buffer: number) => say(along(wavy, buffer), samplesOf([200, 350])).verdict;
    // 450 MB/s at its peak: what it asks above 350 comes to about 200 MB a wave.
    expect(needs(20)).not.toBe('holds');
    expect(needs(2000)).not.toBe('breaks');
  });
});

describe('playing', () => {
  const read = { direction: 'read' } as const;
  it('may begin anywhere on the trace', () => {
    const trace = samplesOf([40, 200], [2, 0], [40, 200]);
    const broken = say(asking(100, 5, 100, read), trace, read);
    expect(broken).toMatchObject({ verdict: 'breaks' });
    // From where it stands still a second of buffer lasts a second.
    expect(broken.breaksAtSeconds).toBeCloseTo(1, 1);
    expect(say(asking(100, 5, 260, read), trace, read).verdict).toBe('holds');
  });

  it('needs a buffer for its peak', () => {
    const peaky = progressOf([10, 100 * MB], [1, 500 * MB], [10, 100 * MB]);
    expect(say(along(peaky, 305, read), samplesOf([100, 200]), read).verdict).toBe('tight');
    const scant = say(along(peaky, 150, read), samplesOf([100, 200]), read);
    expect(scant.verdict).toBe('breaks');
    expect(scant.breaksAtSeconds).toBeCloseTo(10.5, 1);
  });
});
