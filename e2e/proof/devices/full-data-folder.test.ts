import { execFileSync } from 'node:child_process';
import { closeSync, mkdtempSync, openSync, rmSync, statfsSync, writeSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { LiveMessage, RunListEntry } from '#core/6-exchange/api/wire.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { WORKLOAD_VERSION, type Workload } from '#core/3-jobs/demand/workload.ts';
import { callApi, startApp, type App } from '../../support/app.ts';
import { whyNot } from '../../support/block-device.ts';

/** The disk of the data folder becomes full while a run goes on, and has room again later. */
describe.skipIf(whyNot('ext4') !== undefined)('a data folder without room', () => {
  let folder: string;
  let app: App;
  beforeAll(async () => {
    folder = mkdtempSync('/dev/shm/tavrox-full-data-');
    execFileSync('mount', ['-t', 'tmpfs', '-o', 'size=260M', 'tavrox-full-data', folder]);
    app = await startApp({ dataFolder: join(folder, 'data'), empty: true });
  });
  afterAll(async () => {
    await app.stop();
    execFileSync('umount', ['--lazy', folder]);
    rmSync(folder, { recursive: true });
  });

  const filler = () => join(folder, 'other.bin');
  /** Somebody else takes all that is left. */
  function fillUp(): void {
    const file = openSync(filler(), 'a');
    const piece = Buffer.alloc(65_536, 1);
    try {
      for (;;) if (writeSync(file, piece) < piece.length) break;
    } catch (error) {
      expect((error as NodeJS.ErrnoException).code).toBe('ENOSPC');
    } finally {
      closeSync(file);
    }
    expect(statfsSync(folder).bavail).toBe(0);
  }
  const workload = (id: string, note: string): Workload => ({
    tavrox: WORKLOAD_VERSION,
    id,
    name: id,
    note,
    example: false,
    items: [],
  });
  const save = (one: Workload) => callApi(app, 'PUT', `/workloads/${one.id}`, one);
  const start = (seconds: number) =>
    callApi(app, 'POST', '/runs', {
      volumeId: 'stand-in-petrel-2t',
      folder: '',
      recipeId: 'short-passes',
      options: { passes: null, seconds },
    });
  const run = async (id: string) => (await callApi(app, 'GET', `/runs/${id}`)).document as RunDocument;

  /** The runs that go on, as a page that opens now is told. */
  async function activeNow() {
    const leave = new AbortController();
    const response = await fetch(`${app.origin}/api/live`, {
      headers: { Authorization: `Bearer ${app.key}` },
      signal: leave.signal,
    });
    const { value } = await response.body!.getReader().read();
    leave.abort();
    const [first] = JSON.parse(
      Buffer.from(value!)
        .toString('utf8')
        .replace(/^data: /, ''),
    ) as LiveMessage[];
    return first!.type === 'active' ? first!.active : [];
  }

  it('says so of what cannot be kept, goes on measuring, and keeps all of it once there is room', async () => {
    expect((await save(workload('before', 'kept while there was room'))).status).toBe(204);
    const { id } = (await start(0.5)).document as { id: string };
    await expect.poll(async () => (await run(id)).samples.atSeconds.length).toBeGreaterThan(5);
    fillUp();
    // A note long enough to need room of its own.
    const long = 'x'.repeat(4000);
    let refused = { status: 204, document: undefined as unknown };
    for (let tries = 0; tries < 200 && refused.status === 204; tries += 1)
      refused = await save(workload(`during-${tries}`, long));
    expect(refused).toMatchObject({
      status: 507,
      document: { detail: 'This was not kept. The disk of the data folder is full. Free some space on it.' },
    });
    await expect.poll(async () => (await activeNow())[0]?.unkept).toMatch(/held in memory and not kept yet.*is full/);
    // It still reads, and still measures.
    expect((await callApi(app, 'GET', '/workloads')).status).toBe(200);
    const seen = (await run(id)).samples.atSeconds.length;
    await expect.poll(async () => (await run(id)).samples.atSeconds.length).toBeGreaterThan(seen + 10);

    rmSync(filler());
    await expect.poll(async () => (await activeNow())[0]?.unkept).toBeNull();
    expect((await save(workload('after', long))).status).toBe(204);
    await callApi(app, 'POST', `/runs/${id}/stop`, {});
    await expect.poll(async () => (await run(id)).state).toBe('stopped');
    const { samples } = await run(id);
    await app.stop();
    app = await startApp({ dataFolder: join(folder, 'data'), empty: true });
    expect((await run(id)).samples).toEqual(samples);
    const names = ((await callApi(app, 'GET', '/workloads')).document as Workload[]).map(({ name }) => name);
    expect(names).toContain('before');
    expect(names).toContain('after');
    expect((await callApi(app, 'GET', '/runs')).document as RunListEntry[]).toHaveLength(1);
  });
});
