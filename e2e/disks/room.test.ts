import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, rmSync, statfsSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { VolumeEntry } from '#core/6-exchange/api/wire.ts';
import { parseStream } from '#core/2-trade/media/frame-stream.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { callApi, removeFolder, startApp, volumeOfFolder, type App } from '../support/app.ts';
import { whyNot } from '../support/block-device.ts';

const RESERVE = 2e9;

/** The room of a volume over all runs that wait, on a memory disk of which 0.7 GB may be used. */
describe.skipIf(whyNot('ext4') !== undefined)('room that several runs take', () => {
  let app: App;
  let folder: string;
  let volume: VolumeEntry;
  beforeAll(async () => {
    folder = mkdtempSync('/dev/shm/tavrox-room-');
    execFileSync('mount', ['-t', 'tmpfs', '-o', `size=${RESERVE + 700e6}`, 'tavrox-room', folder]);
    app = await startApp({ empty: true });
    volume = await volumeOfFolder(app, folder);
  });
  afterAll(async () => {
    await app.stop();
    execFileSync('umount', ['--lazy', folder]);
    rmSync(folder, { recursive: true });
    removeFolder(app.dataFolder);
  });

  const start = (recipeId: string, options: object) =>
    callApi(app, 'POST', '/runs', { volumeId: volume.id, folder, recipeId, options });
  const fill = (amountBytes: number, keepScratch: boolean) =>
    start('long-fill', { amountBytes, keepScratch, untilFloor: false, readBack: false });
  const idOf = ({ document }: { document: unknown }) => (document as RunDocument).id;

  it('is promised once: what a waiting run will keep is not there for the next', async () => {
    const before = await start('paced-frames', {
      streams: [parseStream('record 1MB 25')],
      seconds: 3,
    });
    expect(before.status).toBe(201);
    // Both asked at once: neither may overlook the other.
    const answers = await Promise.all([fill(400e6, true), fill(400e6, true)]);
    expect(answers.map(({ status }) => status).sort()).toEqual([201, 422]);
    const refused = answers.find(({ status }) => status === 422)!.document as { detail: string };
    expect(refused.detail).toMatch(
      /takes 403.MB, which does not fit: (29|30)\d.MB can be used there with the reserve and the 403.MB that runs asked for before it keep left alone/,
    );
    // What gives back what it takes may wait for its turn.
    const passing = await fill(250e6, false);
    expect(passing.status).toBe(201);
    const kept = answers.find(({ status }) => status === 201)!;
    for (const one of [before, kept, passing]) {
      const stateNow = async () => ((await callApi(app, 'GET', `/runs/${idOf(one)}`)).document as RunDocument).state;
      await expect.poll(stateNow, { timeout: 100_000 }).toBe('finished');
    }
    expect(readdirSync(folder)).toEqual([`tavrox-scratch-${idOf(kept)}`]);
    const { bavail, bsize } = statfsSync(folder);
    expect(bavail * bsize).toBeGreaterThanOrEqual(RESERVE);
  });
});
