import { describe, expect, it } from 'vitest';
import { busyShare, parseProcessorTimes, processorTimes } from '#engine/watch/processor-load.ts';

describe('processor load', () => {
  it('is the busy share between two readings, and nothing when no time passed', () => {
    expect(busyShare({ busy: 100, total: 1000 }, { busy: 175, total: 1100 })).toBe(0.75);
    expect(busyShare({ busy: 0, total: 0 }, { busy: 0, total: 0 })).toBeNull();
    expect(processorTimes().busy).toBeLessThanOrEqual(processorTimes().total);
  });

  it('takes a processor that waits for a drive for a free one, and one given to another machine for a busy one', () => {
    const text = (fields: string) => `cpu  ${fields}\ncpu0 1 1 1 1 1 1 1 1 0 0\nintr 5\n`;
    const before = parseProcessorTimes(text('1000 0 300 5000 2000 0 30 50 0 0'))!;
    const waiting = parseProcessorTimes(text('1010 0 310 5000 2980 0 30 50 0 0'))!;
    const stolen = parseProcessorTimes(text('1010 0 310 5000 2000 0 30 1030 0 0'))!;
    expect(busyShare(before, waiting)).toBeCloseTo(0.02, 12);
    expect(busyShare(before, stolen)).toBe(1);
    // Kernels before 2.6.11 kept no stolen time; another text is none of this.
    expect(parseProcessorTimes(text('10 0 10 70 10 0 0'))).toEqual({ busy: 20, total: 100 });
    expect(parseProcessorTimes('cpu  a b c d e f g')).toBeNull();
    expect(parseProcessorTimes('')).toBeNull();
  });
});
