import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import type { LiveMessage } from '#core/6-exchange/api/wire.ts';
import type { Fault } from '#core/4-runs/stand-ins/faults.ts';
import { summaryOf } from '#core/4-runs/supply/run-summary.ts';
import { NONE_WHOLE } from '#engine/volumes/registry.ts';
import { createRunManager, type RunManager } from '#server/runs/run-manager.ts';
import { annotateRun, closeInterruptedRuns, readRun, runIdsOfDrive } from '#server/store/runs.ts';
import type { Database } from '#server/store/database.ts';
import type { Store } from '#server/store/store.ts';
import { TEST_POSTGRES, openTestStore } from '#server/testing/test-store.ts';

const HOST = { id: 'h-own', name: 'own' };
let store: Store;
let runs: RunManager;
const faults: unknown[] = [];
const faultsOn = new Map<string, readonly Fault[]>();
beforeAll(async () => {
  store = await openTestStore();
  runs = createRunManager(
    store.db,
    { journalFolder: '/nonexistent', pace: { speed: 200, seed: 3 }, faults: faultsOn, usedWhole: NONE_WHOLE },
    (fault) => faults.push(fault),
    HOST,
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

  it('holds a run and lets it go on, and the pause is kept with it', async () => {
    const run = await start('stand-in-petrel-2t', { passes: null });
    const paused = new Promise<void>((resolve) => {
      const leave = runs.subscribe((message) => {
        if (message.type !== 'progress' || message.runId !== run.id || !message.progress.paused) return;
        leave();
        resolve();
      });
    });
    runs.setPaused(run.id, true);
    await paused;
    expect(runs.active()[0]!.progress!.paused).toBe(true);
    // A run that was let go on before it looked was never held: it is held again until it was.
    let isHeld = true;
    const heldOrLetGo = () => {
      isHeld = !isHeld;
      runs.setPaused(run.id, isHeld);
      return run.markers.some((marker) => marker.kind === 'pause');
    };
    await expect.poll(heldOrLetGo).toBe(true);
    runs.setPaused(run.id, false);
    const ended = messagesOf(run.id);
    runs.stop(run.id);
    await ended;
    expect((await readRun(store.db, run.id)).markers.some((marker) => marker.kind === 'pause')).toBe(true);
    expect(() => runs.setPaused(run.id, true)).toThrow(/not going on/);
    const frames = await runs.start({ volumeId: 'stand-in-spray', folder: '', recipeId: 'paced-frames', options: {} });
    expect(() => runs.setPaused(frames.id, true)).toThrow(/cannot be held/);
    const over = messagesOf(frames.id);
    runs.stop(frames.id);
    await over;
  });

  it('carries out every recipe, and what is kept is what was measured', async () => {
    for (const [recipeId, options] of [
      ['long-fill', { amountBytes: 30e9, readBack: true }],
      ['paced-frames', { seconds: 30 }],
      ['block-ladder', { blocks: [4096], depths: [1], seconds: 1 }],
      ['file-scatter', { files: 50 }],
      ['existing-material', { amountBytes: 10e9 }],
    ] as const) {
      const run = await runs.start({ volumeId: 'stand-in-skerry-512', folder: '', recipeId, options });
      await messagesOf(run.id);
      const kept = await readRun(store.db, run.id);
      expect(kept, recipeId).toMatchObject({ recipe: recipeId, state: 'finished' });
      expect(summaryOf(kept).figures).toEqual(summaryOf(run).figures);
      expect(kept.frames.dueSeconds).toHaveLength(run.frames.dueSeconds.length);
    }
  });

  it('measures with the faults that are switched on', async () => {
    faultsOn.set('spray', [{ kind: 'unplugged', at: 2 }]);
    const run = await start('stand-in-spray', { passes: null });
    await messagesOf(run.id);
    expect(await readRun(store.db, run.id)).toMatchObject({ state: 'failed', failure: { code: 'drive-failed' } });
    faultsOn.clear();
  });

  it('keeps notes and tags of a run, while it goes on and after', async () => {
    const run = await start('stand-in-spray', { passes: null });
    runs.annotate(run.id, { note: 'Going on.', tags: ['lobby'] });
    const ended = messagesOf(run.id);
    runs.stop(run.id);
    await ended;
    expect(await readRun(store.db, run.id)).toMatchObject({ note: 'Going on.', tags: ['lobby'] });
    await annotateRun(store.db, run.id, { note: 'After.' });
    expect(await readRun(store.db, run.id)).toMatchObject({ note: 'After.', tags: ['lobby'] });
    await expect(annotateRun(store.db, 'none', { note: '' })).rejects.toThrow(/no run “none”/);
    // What a person leaves out stays, and testifies nothing about its drive.
    const testifying = () => runIdsOfDrive(store.db, run.drive.id, 100);
    expect(await testifying()).toContain(run.id);
    await annotateRun(store.db, run.id, { leftOut: true });
    expect(await testifying()).not.toContain(run.id);
    expect(await readRun(store.db, run.id)).toMatchObject({ leftOut: true, note: 'After.' });
    await annotateRun(store.db, run.id, { leftOut: false });
    expect(await testifying()).toContain(run.id);
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

describe('a store that refuses', () => {
  const place = TEST_POSTGRES === undefined ? 'the data folder' : 'the database server';
  /** The store, refusing what is written to it for as long as it is told to. */
  function refusing(): { db: Database; set: (refuses: boolean) => void } {
    let refuses = false;
    const refuse = () => {
      throw new Error('Failed query', { cause: new Error('could not extend file: No space left on device') });
    };
    const db = new Proxy(store.db, {
      get: (target, key) =>
        refuses && (key === 'insert' || key === 'update') ? refuse : (Reflect.get(target, key) as unknown),
    });
    return { db, set: (next) => (refuses = next) };
  }

  const isMeasured = (own: RunManager, id: string) => typeof own.activeDocument(id)?.endedAt === 'string';

  it('costs nothing of a run: it is told, tried again in order, and kept whole', async () => {
    const { db, set } = refusing();
    const told: unknown[] = [];
    const own = createRunManager(
      db,
      { journalFolder: '/nonexistent', pace: { speed: 50, seed: 3 }, faults: new Map(), usedWhole: NONE_WHOLE },
      (fault) => told.push(fault),
      HOST,
    );
    const ask = () =>
      own.start({ volumeId: 'stand-in-petrel-2t', folder: '', recipeId: 'short-passes', options: { passes: 2 } });
    const { id } = await ask();
    set(true);
    await vi.waitUntil(() => isMeasured(own, id) && typeof own.active()[0]?.unkept === 'string', 100_000);
    const [going] = own.active();
    expect(going!.unkept).toMatch(/held in memory and not kept yet/);
    expect(going!.unkept).toContain(`The disk of ${place} is full. Free some`);
    expect(told).toHaveLength(1);
    // Another is not begun that could not be kept either.
    await expect(ask()).rejects.toThrow(`was not started, since it could not be kept. The disk of ${place}`);
    const measured = structuredClone(own.activeDocument(id)!);
    set(false);
    await vi.waitUntil(() => own.active().length === 0, 100_000);
    const kept = await readRun(store.db, id);
    expect(kept.state).toBe('finished');
    expect(kept.samples).toEqual(measured.samples);
    expect(kept.markers).toEqual(measured.markers);
    await own.close();
  });

  it('until the end leaves a run that says it was cut off', async () => {
    const { db, set } = refusing();
    const own = createRunManager(
      db,
      { journalFolder: '/nonexistent', pace: { speed: 50, seed: 3 }, faults: new Map(), usedWhole: NONE_WHOLE },
      () => undefined,
      HOST,
    );
    const { id } = await own.start({
      volumeId: 'stand-in-petrel-2t',
      folder: '',
      recipeId: 'short-passes',
      options: { passes: 2 },
    });
    set(true);
    await vi.waitUntil(() => isMeasured(own, id), 100_000);
    await own.close();
    expect(await closeInterruptedRuns(store.db)).toContain(id);
    expect((await readRun(store.db, id)).state).toBe('interrupted');
  });
});
