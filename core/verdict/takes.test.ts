import { describe, expect, it } from 'vitest';
import type { Evidence } from '#core/supply/evidence.ts';
import { curveFrom, demandFrom, evidenceFrom, progressOf } from '#core/testing/curves.ts';
import { laterTakes } from '#core/verdict/takes.ts';

/** A cache of 1,000 bytes at 100 B/s, then 20 B/s for 50 s: 2,000 bytes in all. */
const cached = (more: Partial<Evidence> = {}): Evidence =>
  evidenceFrom([curveFrom([10, 100], [50, 20])], { kneeBytes: 1000, levelEnds: [1000, 2000], ...more });
const rested = (restSeconds: number, regainedBytes: number) => ({ restSeconds, regainedBytes, atLeast: false });
/** Takes of 300 bytes at 30 B/s, a minute apart, without a buffer. */
const takes = (count: number, more = {}) =>
  demandFrom({ bytesPerSecond: 30, takeSeconds: 10, takes: count, gapSeconds: 60, bufferBytes: 0, ...more });

describe('takes after the first', () => {
  it('are known when all of them fit into what was written without a gap', () => {
    expect(laterTakes(takes(3), cached())).toMatchObject({ known: true, take: 2, continued: false });
    expect(laterTakes(takes(3), cached({ provenBytes: 800 }))).toMatchObject({ known: true, continued: true });
    // The fourth runs past the knee, and no rest was seen that would give anything back.
    expect(laterTakes(takes(4), cached())).toEqual({ known: false });
  });

  it('begin with what the rest gives back, or with what the take before left', () => {
    const regaining = cached({ recovery: [rested(60, 200)] });
    // 1,000, 700, 400, then 200 from there on: the fourth is the first that is worst off, 200 bytes before the knee.
    const five = laterTakes(takes(5), regaining);
    expect(five).toMatchObject({ known: true, take: 4 });
    // Its last 100 bytes take five seconds, in which 150 come.
    expect(five.known && five.carried.leastBufferBytes).toBeCloseTo(50, 6);
    const plenty = laterTakes(takes(40), cached({ recovery: [rested(60, 400)] }));
    expect(plenty).toMatchObject({ known: true, carried: { broken: null } });
  });

  it('take the best rest that is no longer than the gap', () => {
    const runs = cached({ recovery: [rested(30, 250), rested(60, 900), rested(90, 1000)] });
    expect(laterTakes(takes(40), runs)).toMatchObject({ known: true, carried: { broken: null } });
    const shorter = laterTakes(takes(40, { gapSeconds: 59 }), runs);
    expect(shorter.known && shorter.carried.broken).not.toBeNull();
    expect(laterTakes(takes(40, { gapSeconds: 29 }), runs)).toEqual({ known: false });
  });

  it('are unknown beyond what was written, and along a curve', () => {
    const regaining = cached({ recovery: [rested(60, 100)] });
    expect(laterTakes(takes(40, { takeSeconds: 40 }), regaining)).toEqual({ known: false });
    expect(laterTakes(takes(2, { curve: progressOf([10, 30]) }), regaining)).toEqual({ known: false });
    expect(laterTakes(takes(40), cached({ recovery: [rested(60, 100)], kneeBytes: null }))).toEqual({ known: false });
  });

  it('are continued where the run itself was', () => {
    const regaining = cached({ recovery: [rested(60, 100)], provenBytes: 1150 });
    expect(laterTakes(takes(40), regaining)).toMatchObject({ known: true, continued: true });
    expect(laterTakes(takes(40), { ...regaining, provenBytes: 1250 })).toMatchObject({ continued: false });
  });
});
