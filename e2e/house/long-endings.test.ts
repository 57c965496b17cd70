import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import type { LiveMessage } from '#core/6-exchange/api/wire.ts';
import type { RunEvent } from '#core/4-runs/run/run-events.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { parseDriveLine } from '#core/2-trade/drives/drive-line.ts';
import { runOf } from '#core/testing/run-of.ts';
import { shareRuns } from '#server/runs/house-runs.ts';
import { createRunManager, type LocalRuns } from '#server/runs/run-manager.ts';
import { addDrive } from '#server/store/drives.ts';
import { insertWholeRun } from '#server/store/runs.ts';
import { TEST_POSTGRES, openTestStore } from '#server/testing/test-store.ts';
import type { Store } from '#server/store/store.ts';

/** What a notice of the database cannot hold. */
const LONG = 'It stopped. '.repeat(1000);

describe.skipIf(TEST_POSTGRES === undefined)('a run whose end is too long for a notice', () => {
  let store: Store;
  beforeAll(async () => {
    store = await openTestStore();
  });
  afterAll(() => store.close());

  it('is told of on the other machine all the same, whole', async () => {
    const machine = async (id: string) => {
      const listeners = new Set<(message: LiveMessage) => void>();
      const host = { id, name: id };
      const local: LocalRuns = {
        ...createRunManager(
          store.db,
          { journalFolder: '', pace: { speed: 1, seed: 1 }, faults: new Map(), usedWhole: () => Promise.resolve([]) },
          () => undefined,
          host,
        ),
        subscribe(listener) {
          listeners.add(listener);
          return () => listeners.delete(listener);
        },
      };
      const shared = await shareRuns(local, store.db, store.postgres!, host, () => undefined);
      return { shared, tell: (message: LiveMessage) => listeners.forEach((listener) => listener(message)) };
    };
    const [one, other] = [await machine('one'), await machine('other')];
    const card = await addDrive(store.db, parseDriveLine('Falcon: 2 TB flash, 900 MB/s'));
    const made = runOf([{ direction: 'write', rates: [100, 90] }]);
    const run: RunDocument = {
      ...made,
      drive: { ...made.drive, id: card.id },
      id: 'long',
      state: 'failed',
      failure: { code: 'failed', detail: LONG },
    };
    await insertWholeRun(store.db, run);
    const heard: RunEvent[] = [];
    other.shared.subscribe((message) => message.type === 'event' && heard.push(message.event));
    const end: RunEvent = {
      type: 'ended',
      state: 'failed',
      endedAt: run.endedAt!,
      freeBytes: null,
      connection: null,
      failure: run.failure,
    };
    one.tell({ type: 'event', runId: 'long', event: end });
    await vi.waitUntil(() => heard.length > 0, { timeout: 60_000 });
    expect(heard).toMatchObject([{ type: 'ended', state: 'failed', endedAt: run.endedAt, failure: { detail: LONG } }]);
    await one.shared.close();
    await other.shared.close();
  });
});
