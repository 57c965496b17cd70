import { describe, expect, it } from 'vitest';
import type { Demand } from '#core/3-jobs/demand/demand.ts';
import { demandFrom } from '#core/testing/curves.ts';
import { inTurn } from '#core/5-answers/verdict/in-turn.ts';

const GB = 1e9;
/** Takes of 100 GB: 100 s at 1,000 MB/s. */
const item = (name: string, more: Partial<Demand> = {}): Demand =>
  demandFrom({ name, bytesPerSecond: GB, takeSeconds: 100, takes: 1, ...more });

describe('items one after the other', () => {
  it('fill a volume on which each of them fits alone', () => {
    const found = inTurn([item('A'), item('B', { takes: 2 })], 250 * GB)!;
    // 100 GB of A, 100 of the first take of B, and 50 of the second.
    expect(found.verdict).toMatchObject({ verdict: 'breaks', reason: 'full', breaksAtSeconds: 50, breaksInTake: 2 });
    expect(found.short).toBe('Full during B');
    expect(found.sentence.replaceAll('\u202f', ' ')).toBe(
      'One after the other, what is recorded does not fit: it is full 50 s into take 2 of B. 100 GB lie there by then of the 250 GB that can be used, and it needs 200 GB, all of them staying on the drive.',
    );
    expect(inTurn([item('A'), item('B', { takes: 2 })], 300 * GB)).toBeNull();
  });

  it('leave no trace of what is taken off', () => {
    const off = (name: string) => item(name, { between: 'take-off', takes: 3, gapSeconds: 200 });
    expect(inTurn([off('A'), off('B')], 110 * GB)).toBeNull();
    expect(inTurn([item('A'), off('B')], 150 * GB)).toMatchObject({ short: 'Full during B' });
  });

  it('say nothing where one alone does not fit, where there is but one, or where the room is not known', () => {
    expect(inTurn([item('A'), item('B')], 90 * GB)).toBeNull();
    expect(inTurn([item('A')], 90 * GB)).toBeNull();
    expect(inTurn([item('A'), item('B', { direction: 'read' })], 150 * GB)).toBeNull();
    expect(inTurn([item('A'), item('B')], null)).toBeNull();
  });
});
