import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { LiveMessage } from '#core/api/wire.ts';
import { createRunManager, type RunManager } from '#server/runs/run-manager.ts';
import { storeFiles } from '#server/store/files.ts';
import { readRun } from '#server/store/runs.ts';
import { openMemoryStore, type Store } from '#server/store/store.ts';

let store: Store;
let runs: RunManager;
const faults: unknown[] = [];
beforeAll(async () => {
  store = await openMemoryStore(storeFiles);
  runs = createRunManager(store.db, { journalFolder: '/nonexistent', pace: { speed: 200, seed: 3 } }, (fault) =>
    faults.push(fault),
  );
});
afterAll(async () => {
  await runs.close();
  await store.close();
});

const start = (volumeId: string, options: object = { passes: 2 }) =>
  runs.start({ volumeId, folder: '', recipeId: 'short-passes', options });

/** Messages until the run has ended. */
function messagesOf(runId: string): Promise<LiveMessage[]> {
  return new Promise((resolve) => {
    const heard: LiveMessage[] = [];
    const stop = runs.subscribe((message) => {
      heard.push(message);
      if (message.type === 'event' && message.runId === runId && message.event.type === 'ended') {
        stop();
        resolve(heard);
      }
    });
  });
}

describe('the queue of runs', () => {
  it('carries a run out, tells of it in order, and keeps the same as it told', async () => {
    const { id } = await start('stand-in-petrel-2t');
    const heard = await messagesOf(id);
    const samples = heard.flatMap((message) =>
      message.type === 'event' && message.event.type === 'samples' ? message.event.samples.atSeconds : [],
    );
    const kept = await readRun(store.db, id);
    expect(kept.state).toBe('finished');
    expect(kept.samples.atSeconds.slice(-samples.length)).toEqual(samples);
    const shares = heard.flatMap((message) => (message.type === 'progress' ? [message.progress.share ?? 0] : []));
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
    expect(shares.at(-1)).toBeCloseTo(1, 2);
  });

  it('lets one run at a time on a device, and others go on beside it', async () => {
    const first = await start('stand-in-petrel-2t', { passes: null });
    const second = await start('stand-in-petrel-2t');
    const elsewhere = await start('stand-in-anchor-16t');
    expect([first, second, elsewhere].map((run) => run.state)).toEqual(['running', 'queued', 'running']);
    const ended = messagesOf(second.id);
    runs.stop(first.id);
    await ended;
    expect((await readRun(store.db, first.id)).state).toBe('stopped');
    expect((await readRun(store.db, second.id)).state).toBe('finished');
  });

  it('takes a waiting run back without starting it', async () => {
    const first = await start('stand-in-anchor-16t', { passes: null });
    const second = await start('stand-in-anchor-16t');
    const ended = messagesOf(second.id);
    runs.stop(second.id);
    await ended;
    expect(runs.activeDocument(second.id)).toBeUndefined();
    runs.stop(first.id);
    expect(() => runs.stop('none')).toThrow(/not going on/);
  });

  it('refuses what cannot be measured before anything is kept', async () => {
    await expect(start('nowhere')).rejects.toThrow(/no volume “nowhere”/);
    await expect(start('stand-in-petrel-2t', { sizeBytes: 5e12 })).rejects.toThrow(/does not fit/);
    await expect(start('stand-in-petrel-2t', { depth: 0 })).rejects.toThrow(/depth/);
  });

  it('ends all runs when it closes, and keeps them', async () => {
    const going = await start('stand-in-petrel-2t', { passes: null });
    const waiting = await start('stand-in-petrel-2t');
    await runs.close();
    expect((await readRun(store.db, going.id)).state).toBe('stopped');
    expect((await readRun(store.db, waiting.id)).state).toBe('stopped');
    await expect(start('stand-in-petrel-2t')).rejects.toThrow(/being stopped/);
    expect(faults).toEqual([]);
  });
});
