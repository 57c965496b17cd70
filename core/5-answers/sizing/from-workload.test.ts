import { describe, expect, it } from 'vitest';
import { materialLinesOf } from '#core/5-answers/sizing/from-workload.ts';
import { parseMaterial } from '#core/5-answers/sizing/material.ts';
import { shoot } from '#core/testing/sizing-of.ts';
import { DEMO_WORKLOADS } from '#demo/workloads.ts';

describe('what a workload leaves, as lines of material', () => {
  it('is what its takes write, on the days of the first part of the project', () => {
    const [line] = materialLinesOf(shoot(), [{ name: 'Shooting', fromDay: 1, toDay: 30, daysAWeek: 7 }], 86);
    expect(line).toMatch(/^Three cameras: 40 min × [\d.]+ MB\/s a day, during Shooting$/);
    // 547 MB/s for forty minutes.
    expect(parseMaterial(line!).bytesPerDay / 1e12).toBeCloseTo(1.312, 2);
    expect(materialLinesOf(shoot(), [], 12)[0]).toContain('days 1–12');
  });

  it('of every example can be read again', () => {
    const lines = DEMO_WORKLOADS.flatMap((workload) => materialLinesOf(workload, [], 30));
    expect(lines.length).toBeGreaterThan(4);
    for (const line of lines) expect(parseMaterial(line).bytesPerDay, line).toBeGreaterThan(0);
    // What is only played leaves nothing.
    expect(lines.join('\n')).not.toContain('Rushes on the monitor');
  });
});
