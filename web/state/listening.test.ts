import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { ActiveRun, Annotation } from '#core/6-exchange/api/wire.ts';
import { heardIn } from '#core/4-runs/run/loudness.ts';
import { api } from '../api/client.ts';
import { startListening, stopListening, useListening } from './listening.ts';
import { useLive } from './live.ts';

const runAt = (elapsedSeconds: number, runId = 'long'): ActiveRun =>
  ({ runId, host: null, state: 'running', progress: { elapsedSeconds } }) as unknown as ActiveRun;

describe('listening', () => {
  let tell: (level: { atSeconds: number; decibels: number }) => void;
  let kept: Annotation[];
  beforeEach(async () => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'performance'] });
    kept = [];
    vi.spyOn(api, 'annotateRun').mockImplementation((_runId, change) => {
      kept.push(change);
      return Promise.resolve({});
    });
    useLive.setState({ active: [] });
    await startListening((toTell) => {
      tell = toTell;
      return Promise.resolve({ name: 'made', stepSeconds: 0.5, close: () => undefined });
    });
  });
  afterEach(() => {
    stopListening();
    useLive.setState({ active: [] });
    vi.restoreAllMocks();
    vi.useRealTimers();
  });

  async function hear(seconds: number, decibels: number): Promise<void> {
    for (let step = 0; step < seconds * 2; step += 1) {
      await vi.advanceTimersByTimeAsync(500);
      tell({ atSeconds: performance.now() / 1000, decibels });
    }
  }

  it('keeps all of a run that is longer than what is held before one, to its end', async () => {
    await hear(20, -60);
    useLive.setState({ active: [runAt(0)] });
    await hear(180, -40);
    useLive.setState({ active: [] });
    await hear(4, -60);
    const { fromSeconds, levels, stepSeconds } = kept.at(-1)!.loudness!;
    expect(fromSeconds).toBeCloseTo(-20, 0);
    expect(levels.length * stepSeconds).toBeGreaterThan(20 + 180);
    expect(levels.filter((level) => level === -40).length).toBeGreaterThanOrEqual(359);
  });

  it('says once the room was heard for so long that a run can be told from it, and no more while one goes on', async () => {
    await hear(2.5, -60);
    expect(useListening.getState().isRoomKnown).toBe(false);
    await hear(0.5, -60);
    expect(useListening.getState().isRoomKnown).toBe(true);
    useLive.setState({ active: [runAt(0)] });
    await hear(60, -40);
    expect(useListening.getState().isRoomKnown).toBe(false);
    const { loudness } = kept.at(-1)!;
    expect(heardIn(loudness!, [0, 60])).toMatchObject({ before: -60, underLoad: -40 });
  });

  it('says nothing of two runs at once', async () => {
    useLive.setState({ active: [runAt(0), runAt(0, 'other')] });
    await hear(70, -40);
    useLive.setState({ active: [] });
    await hear(4, -60);
    expect(kept).toEqual([]);
  });
});
