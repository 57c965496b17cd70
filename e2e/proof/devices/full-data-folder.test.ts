import { execFileSync } from 'node:child_process';
import { closeSync, mkdtempSync, openSync, rmSync, statfsSync, writeSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { LiveMessage, RunListEntry } from '#core/6-exchange/api/wire.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { WORKLOAD_VERSION, type Workload } from '#core/3-jobs/demand/workload.ts';
import { hasPostgres, startPostgres, type TestPostgres } from '#server/testing/postgres-server.ts';
import { callApi, startApp, temporaryFolder, type App } from '../../support/app.ts';
import { whyNot } from '../../support/block-device.ts';

const PLACES = hasPostgres() ? ['data folder', 'database server'] : ['data folder'];

/** The disk of the store becomes full while a run goes on, and has room again later. */
describe.skipIf(whyNot('ext4') !== undefined).each(PLACES)('a %s without room', (place) => {
  let folder: string;
  let dataFolder: string;
  let postgres: TestPostgres | null = null;
  let app: App;
  const startAgain = async () => {
    app = await startApp({ dataFolder, empty: true, databaseUrl: postgres?.url ?? null });
  };
  beforeAll(async () => {
    folder = mkdtempSync('/dev/shm/tavrox-full-data-');
    execFileSync('mount', ['-t', 'tmpfs', '-o', 'size=260M', 'tavrox-full-data', folder]);
    dataFolder = join(folder, 'data');
    if (place === 'database server') {
      postgres = await startPostgres(folder);
      dataFolder = temporaryFolder('beside-full');
    }
    await startAgain();
  });
  afterAll(async () => {
    await app.stop();
    await postgres?.remove();
    execFileSync('umount', ['--lazy', folder]);
    for (const one of [folder, dataFolder]) rmSync(one, { recursive: true, force: true });
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
    // A database server without room for its own journal ends, and is not to be reached.
    const { status, document } = refused;
    if (status !== 503 || place === 'data folder') {
      expect(status).toBe(507);
      expect(document).toMatchObject({
        detail: `This was not kept. The disk of the ${place} is full. Free some space on it.`,
      });
    }
    await expect
      .poll(async () => (await activeNow())[0]?.unkept)
      .toMatch(/held in memory and not kept yet.*(?:is full|does not answer)/);
    // It still reads, and still measures.
    if (place === 'data folder') expect((await callApi(app, 'GET', '/workloads')).status).toBe(200);
    const seen = (await run(id)).samples.atSeconds.length;
    await expect.poll(async () => (await run(id)).samples.atSeconds.length).toBeGreaterThan(seen + 10);

    rmSync(filler());
    await postgres?.resume();
    await expect.poll(async () => (await activeNow())[0]?.unkept).toBeNull();
    expect((await save(workload('after', long))).status).toBe(204);
    await callApi(app, 'POST', `/runs/${id}/stop`, {});
    await expect.poll(async () => (await run(id)).state).toBe('stopped');
    const { samples } = await run(id);
    await app.stop();
    await startAgain();
    expect((await run(id)).samples).toEqual(samples);
    const names = ((await callApi(app, 'GET', '/workloads')).document as Workload[]).map(({ name }) => name);
    expect(names).toContain('before');
    expect(names).toContain('after');
    expect((await callApi(app, 'GET', '/runs')).document as RunListEntry[]).toHaveLength(1);
  });
});
