import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Demand } from '#core/demand/demand.ts';
import type { Evidence } from '#core/supply/evidence.ts';
import { curveFrom, demandFrom, evidenceFrom, progressOf, steady } from '#core/testing/curves.ts';
import { bytesAt, progressBytes, progressDuration, type Progress } from '#core/trace/progress.ts';
import { exactCurve, longestCurve } from '#core/trace/supply-curve.ts';
import { carriedFrom, carriedOfTake, takeBytesOf } from '#core/verdict/carried.ts';

/** A demand of so many bytes a second, or along a curve, with a buffer in bytes. */
const asking = (rate: number, bufferBytes: number, more: Partial<Demand> = {}): Demand =>
  demandFrom({
    bytesPerSecond: rate,
    peakBytesPerSecond: rate,
    burstBytes: 0,
    takeSeconds: 10,
    bufferBytes,
    ...more,
  });
const along = (curve: Progress, bufferBytes: number, more: Partial<Demand> = {}): Demand => {
  const average = progressBytes(curve) / progressDuration(curve);
  const peak = Math.max(
    ...curve.seconds.slice(1).map((second, row) => {
      const took = second - curve.seconds[row]!;
      return took > 0 ? (curve.bytes[row + 1]! - curve.bytes[row]!) / took : 0;
    }),
  );
  return asking(average, bufferBytes, {
    curve,
    peakBytesPerSecond: peak,
    takeSeconds: progressDuration(curve),
    ...more,
  });
};

describe('the first take', () => {
  it('is as bad as the worst of its curves', () => {
    const both = carriedOfTake(asking(100, 0), evidenceFrom([steady(20, 200), steady(20, 80)]));
    expect(both.guaranteedBytesPerSecond).toBeCloseTo(80, 6);
    // Over the 12.5 s that the drive takes for the take's bytes: on the safe side.
    expect(both.leastBufferBytes).toBeCloseTo(250, 6);
    expect(both.broken!.seconds).toBeCloseTo(0, 6);
    // 20 B/s too few fill 100 B in 5 s; 60 too few in 1.67 s.
    const two = carriedOfTake(asking(100, 100), evidenceFrom([steady(20, 80), steady(20, 40)]));
    expect(two.broken!.seconds).toBeCloseTo(100 / 60, 6);
  });

  it('is over when it ends: what still waits in the buffer then does not overflow it', () => {
    const evidence = evidenceFrom([steady(20, 80)]);
    // 20 B/s too few for ten seconds come to 200 B.
    expect(carriedOfTake(asking(100, 201), evidence)).toMatchObject({ broken: null, guaranteedBytesPerSecond: 100 });
    const broken = carriedOfTake(asking(100, 199), evidence).broken!;
    expect(broken.seconds).toBeCloseTo(9.95, 6);
  });

  it('leaves less of the buffer to a demand that has peaks of its own', () => {
    const curve = curveFrom([4, 200], [1, 0], [20, 200]);
    const calm = carriedOfTake(asking(100, 100), evidenceFrom([curve]));
    const bursting = carriedOfTake(asking(100, 100, { burstBytes: 30 }), evidenceFrom([curve]));
    expect(calm).toMatchObject({ broken: null });
    expect(calm.leastBufferBytes).toBeCloseTo(100, 6);
    expect(bursting.leastBufferBytes).toBeCloseTo(130, 6);
    expect(bursting.broken).not.toBeNull();
    expect(bursting.guaranteedBytesPerSecond).toBeCloseTo(70, 6);
  });

  it('counts the bytes of one take', () => {
    expect(takeBytesOf(asking(100, 0, { takeSeconds: 12 }))).toBe(1200);
    expect(takeBytesOf(along(progressOf([2, 100], [3, 50]), 0))).toBe(350);
  });
});

describe('a later stretch', () => {
  it('begins after so many bytes of the longest curve', () => {
    const evidence = evidenceFrom([steady(2, 500), curveFrom([10, 1000], [90, 100])]);
    expect(longestCurve(evidence.curves)).toBe(evidence.curves[1]);
    expect(carriedFrom(asking(150, 0), evidence, 0, 10_000).guaranteedBytesPerSecond).toBeCloseTo(1000, 6);
    expect(carriedFrom(asking(150, 0), evidence, 10_000, 1000).guaranteedBytesPerSecond).toBeCloseTo(100, 6);
    // From 1,000 bytes before the knee on: then 50 B/s too few fill 200 B in 4 s.
    const broken = carriedFrom(asking(150, 200), evidence, 9000, 5000).broken!;
    expect(broken.seconds).toBeCloseTo(1000 / 150 + 4, 6);
    expect(broken.bytes).toBeCloseTo(1000 + 400, 6);
  });
});

describe('a dip that comes by time', () => {
  /** Steady but for a stall of two seconds after forty. */
  const dipping = curveFrom([40, 200], [2, 0], [40, 200]);
  const slow = asking(100, 100, { takeSeconds: 60 });

  it('strikes a slow demand at its moment, though its own bytes end before', () => {
    const carried = carriedOfTake(slow, evidenceFrom([dipping]));
    expect(carried.leastBufferBytes).toBeCloseTo(200, 6);
    expect(carried.broken!.seconds).toBeCloseTo(41, 6);
    expect(carried.broken!.bytes).toBeCloseTo(4000, 6);
    expect(carriedOfTake({ ...slow, bufferBytes: 201 }, evidenceFrom([dipping])).broken).toBeNull();
  });

  it('does not strike a take that is over by then, nor beyond the end of the level', () => {
    expect(carriedOfTake({ ...slow, takeSeconds: 39 }, evidenceFrom([dipping])).broken).toBeNull();
    const levels = (...levelEnds: number[]): Evidence => evidenceFrom([dipping], { levelEnds });
    expect(carriedOfTake(slow, levels(7000, 16_000)).broken).toBeNull();
    expect(carriedOfTake(slow, levels(1000, 16_000)).broken!.seconds).toBeCloseTo(41, 6);
    // The first level is one as any other, and what lies behind the last that was read is one, too.
    expect(carriedOfTake(slow, levels(16_000)).broken!.seconds).toBeCloseTo(41, 6);
    expect(carriedOfTake(slow, levels(5000)).broken).toBeNull();
  });

  it('is no level: one below the demand comes by bytes, however soon the take ends in it', () => {
    // 350 B/s for 1,500 B, then 120 B/s; 200 B/s are asked for with 200 B of buffer, so it is full at 10 s.
    const knee = evidenceFrom([curveFrom([1500 / 350, 350], [10, 120])], { levelEnds: [1500, 2700] });
    const take = (takeSeconds: number) => carriedOfTake(asking(200, 200, { takeSeconds }), knee).broken;
    expect(take(9.9)).toBeNull();
    expect(take(10.1)!.seconds).toBeCloseTo(10, 6);
    // A dip beyond the job's own 20,000 bytes, two seconds from the 96th on: it strikes by the clock where the
    // level carries the demand as a whole, and is none where the level does not.
    const dipping = (after: number) =>
      carriedOfTake(
        asking(200, 100, { takeSeconds: 100 }),
        evidenceFrom([curveFrom([1, 900], [95, 215], [2, 0], [900, after])], {
          levelEnds: [900, 900 + 95 * 215 + 900 * after],
        }),
      ).broken;
    expect(dipping(215)!.seconds).toBeCloseTo(96.5, 6);
    expect(dipping(150)).toBeNull();
  });

  it('may be met anywhere in playing', () => {
    const played = carriedOfTake({ ...slow, direction: 'read', takeSeconds: 5 }, evidenceFrom([dipping]));
    expect(played.broken!.seconds).toBeCloseTo(1, 6);
  });
});

describe('a floor that swings', () => {
  const swinging = curveFrom([10, 1000], [10, 300], [10, 50], [10, 300], [10, 50], [10, 300]);
  const demand = asking(200, 500, { takeSeconds: 90 });

  it('does so by the clock from where it begins, if that is sooner', () => {
    // By bytes: 10,000 in the cache, 3,000 in the good swing, then 150 B/s too few fill 500 B in 3.33 s.
    const byBytes = carriedOfTake(demand, evidenceFrom([swinging])).broken!;
    expect(byBytes.bytes).toBeCloseTo(13_000 + 500 / 3, 4);
    expect(byBytes.seconds).toBeCloseTo((13_000 + 500 / 3 + 500) / 200, 4);
    // By the clock the good swing is over after ten seconds.
    const swingsFrom = { bytes: 10_000, seconds: 10 };
    const byClock = carriedOfTake(demand, evidenceFrom([swinging], { swingsFrom })).broken!;
    expect(byClock.seconds).toBeCloseTo(50 + 10 + 10 / 3, 4);
    expect(byClock.bytes).toBeCloseTo(byClock.seconds * 200 - 500, 4);
    // A take that begins within the swings goes by the clock from its first byte.
    const later = carriedFrom(demand, evidenceFrom([swinging], { swingsFrom }), 10_000, 5000).broken!;
    expect(later.seconds).toBeCloseTo(10 + 10 / 3, 4);
  });
});

describe('a demand that changes', () => {
  it('of one rate is the same as a constant one', () => {
    const curve = curveFrom([5, 300], [1, 0], [5, 80], [20, 300]);
    const rate = 120;
    for (const direction of ['write', 'read'] as const) {
      const constant = carriedOfTake(asking(rate, 90, { direction, takeSeconds: 20 }), evidenceFrom([curve]));
      const changing = carriedOfTake(along(progressOf([20, rate]), 90, { direction }), evidenceFrom([curve]));
      expect(changing.leastBufferBytes).toBeCloseTo(constant.leastBufferBytes, 0);
      if (direction === 'write') expect(changing.broken!.seconds).toBeCloseTo(constant.broken!.seconds, 6);
      expect(changing.broken).not.toBeNull();
    }
  });

  it('needs a buffer for its peak, played from a steady drive', () => {
    const peaky = progressOf([10, 100], [1, 500], [10, 100]);
    const evidence = evidenceFrom([steady(100, 200)]);
    const enough = carriedOfTake(along(peaky, 301, { direction: 'read' }), evidence);
    expect(enough.broken).toBeNull();
    expect(enough.leastBufferBytes).toBeCloseTo(300, 0);
    const scant = carriedOfTake(along(peaky, 150, { direction: 'read' }), evidence);
    expect(scant.broken!.seconds).toBeGreaterThan(10);
    expect(scant.broken!.seconds).toBeLessThanOrEqual(10.5);
  });

  it('needs more where its peak may meet a stall of the drive', () => {
    const peaky = progressOf([10, 100], [1, 500], [10, 100]);
    const stalling = evidenceFrom([curveFrom([30, 200], [1, 0], [30, 200])]);
    const met = carriedOfTake(along(peaky, 400, { direction: 'read' }), stalling);
    expect(met.leastBufferBytes).toBeCloseTo(500, 0);
    expect(met.broken!.seconds).toBeGreaterThan(10);
    expect(met.broken!.seconds).toBeLessThan(11);
    // Recorded from the beginning the two never meet.
    expect(carriedOfTake(along(peaky, 310), stalling).broken).toBeNull();
  });

  it('could grow by what the drive has to spare', () => {
    const evidence = evidenceFrom([steady(1000, 300)]);
    const carried = carriedOfTake(along(progressOf([10, 100]), 0), evidence);
    expect(carried.guaranteedBytesPerSecond).toBeGreaterThan(299);
    expect(carried.guaranteedBytesPerSecond).toBeLessThanOrEqual(300.001);
  });

  it('breaks when a simulation in small steps does', () => {
    const anyPieces = fc.array(
      fc.tuple(fc.double({ min: 0.5, max: 4, noNaN: true }), fc.constantFrom(0, 20, 60, 150, 400)),
      { minLength: 1, maxLength: 6 },
    );
    fc.assert(
      fc.property(anyPieces, anyPieces, fc.double({ min: 20, max: 600, noNaN: true }), (asks, gives, buffer) => {
        const demand = progressOf(...(asks as [number, number][]));
        const supply = progressOf(...(gives as [number, number][]), [60, 500]);
        fc.pre(progressBytes(demand) > 1);
        const { broken } = carriedOfTake(along(demand, buffer), evidenceFrom([exactCurve(supply)]));
        const [least, most] = [0.97, 1.03].map((share) => simulatedBreak(demand, supply, buffer * share));
        // What just fills the buffer may be told either way.
        if ((least === null) !== (most === null)) return;
        expect(broken === null).toBe(least === null);
        if (!broken) return;
        expect(broken.seconds).toBeGreaterThan(least! - 0.02);
        expect(broken.seconds).toBeLessThan(most! + 0.02);
      }),
      { numRuns: 400 },
    );
  });
});

/** Recording in steps: what is asked for waits, and the drive goes along its curve while something does. */
function simulatedBreak(demand: Progress, supply: Progress, buffer: number): number | null {
  const step = 0.002;
  let [clock, waiting, done, stalled] = [0, 0, 0, 0];
  while (clock < progressDuration(demand)) {
    const comes = bytesAt(demand, clock + step) - bytesAt(demand, clock);
    waiting += comes;
    // The drive stands where it has given `done`; a stall passes with the clock, whatever waits.
    const row = supply.bytes.findIndex((bytes) => bytes > done + 1e-9);
    const standsAtRow = row > 1 && Math.abs(supply.bytes[row - 1]! - done) < 1e-9;
    const isStall = standsAtRow && supply.bytes[row - 2] === supply.bytes[row - 1];
    const stallFrom = isStall ? supply.bytes.indexOf(supply.bytes[row - 1]!) : 0;
    const stallSeconds = isStall ? supply.seconds[row - 1]! - supply.seconds[stallFrom]! : 0;
    if (row === 1 || !isStall || stalled >= stallSeconds - 1e-9) {
      if (!isStall) stalled = 0;
      const rate = (supply.bytes[row]! - supply.bytes[row - 1]!) / (supply.seconds[row]! - supply.seconds[row - 1]!);
      const gives = Math.min(waiting, rate * step, supply.bytes[row]! - done);
      done += gives;
      waiting -= gives;
    } else stalled += step;
    if (waiting > buffer) return clock + step;
    clock += step;
  }
  return null;
}
