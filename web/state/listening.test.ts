import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { ActiveRun, Annotation } from '#core/6-exchange/api/wire.ts';
import { api } from '../api/client.ts';
import { startListening, stopListening } from './listening.ts';
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

  it('says nothing of two runs at once', async () => {
    useLive.setState({ active: [runAt(0), runAt(0, 'other')] });
    await hear(70, -40);
    useLive.setState({ active: [] });
    await hear(4, -60);
    expect(kept).toEqual([]);
  });
});
