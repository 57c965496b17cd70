import { describe, expect, it } from 'vitest';
import { system } from '#engine/system/this-system.ts';
import { busyShare } from '#engine/watch/processor-load.ts';

describe('processor load', () => {
  it('is the busy share between two readings, and nothing when no time passed', () => {
    expect(busyShare({ busy: 100, total: 1000 }, { busy: 175, total: 1100 })).toBe(0.75);
    expect(busyShare({ busy: 0, total: 0 }, { busy: 0, total: 0 })).toBeNull();
    expect(system.processorTimes().busy).toBeLessThanOrEqual(system.processorTimes().total);
  });
});
