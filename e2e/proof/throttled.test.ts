import { spawn } from 'node:child_process';
import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { RunDocument } from '#core/run/run-document.ts';
import type { RunSummary } from '#core/supply/run-summary.ts';
import { callApi, removeFolder, root, startApp, temporaryFolder, volumeOfFolder } from '../support/app.ts';
import {
  canThrottle,
  makeBlockDevice,
  makeThrottle,
  whyNot,
  type BlockDevice,
  type Throttle,
} from '../support/block-device.ts';

/** Truth from the kernel: a block device that it holds to an exact rate. */
const possible = whyNot('ext4') === undefined && canThrottle();

describe.skipIf(!possible)('a device held to a rate by the kernel', () => {
  let folder: string;
  let device: BlockDevice;
  let throttle: Throttle;
  beforeAll(() => {
    folder = mkdtempSync('/dev/shm/tavrox-throttled-');
    device = makeBlockDevice('ext4', folder);
    throttle = makeThrottle(`tavrox-proof-${process.pid}`);
  });
  afterAll(() => {
    throttle.remove();
    device.remove();
    rmSync(folder, { recursive: true, force: true });
  });

  /** Measures with the process under the limits from its first instruction on. */
  function measure(...args: string[]): Promise<RunDocument & RunSummary> {
    return new Promise((resolve, reject) => {
      const child = spawn(
        '/bin/sh',
        ['-c', 'read go; exec "$0" bin/tavrox.js measure "$@"', process.execPath, device.mountPoint, '--json', ...args],
        {
          cwd: root,
          env: { ...process.env, TAVROX_DATA: join(folder, 'data'), TAVROX_LOCKS: join(folder, 'locks') },
          stdio: ['pipe', 'pipe', 'ignore'],
        },
      );
      throttle.add(child.pid!);
      child.stdin.end('go\n');
      let output = '';
      child.stdout.on('data', (text: Buffer) => (output += text.toString()));
      child.once('exit', (code) =>
        code === 0 ? resolve(JSON.parse(output) as RunDocument & RunSummary) : reject(new Error(`ended with ${code}`)),
      );
    });
  }

  it.each([60e6, 180e6])(
    'of %d bytes a second is measured to within 2 % writing and 3 % reading over six seconds',
    async (limit) => {
      throttle.setLimit(device.deviceNumber, limit);
      const run = await measure('--passes', '2', '--block', '1MiB', '--seconds', '6');
      expect(run.figures.write!.medianBytesPerSecond / limit).toBeGreaterThan(0.98);
      expect(run.figures.write!.medianBytesPerSecond / limit).toBeLessThan(1.02);
      // The kernel lets reading run about two per cent over its limit.
      expect(run.figures.read!.medianBytesPerSecond / limit).toBeGreaterThan(0.98);
      expect(run.figures.read!.medianBytesPerSecond / limit).toBeLessThan(1.03);
      expect(run.doubts.map((doubt) => doubt.code)).not.toContain('buffered');
    },
  );
});

describe('a server killed at any moment', () => {
  it('five times over leaves no scratch and loses no run', async () => {
    const folder = temporaryFolder('kills');
    const dataFolder = temporaryFolder('kills-data');
    const ids: string[] = [];
    try {
      for (let kill = 0; kill < 5; kill += 1) {
        const app = await startApp({ dataFolder, empty: true });
        await expect.poll(() => readdirSync(folder), { timeout: 20_000 }).toEqual([]);
        const volume = await volumeOfFolder(app, folder);
        const options = { passes: null, sizeBytes: 48e6, blockBytes: 1 << 20 };
        const { document } = await callApi(app, 'POST', '/runs', {
          volumeId: volume.id,
          folder,
          recipeId: 'short-passes',
          options,
        });
        ids.push((document as { id: string }).id);
        const enough = 3 * kill;
        await expect
          .poll(
            async () =>
              ((await callApi(app, 'GET', `/runs/${ids.at(-1)}`)).document as RunDocument).samples.atSeconds.length,
            {
              interval: 20,
              timeout: 30_000,
            },
          )
          .toBeGreaterThanOrEqual(enough);
        await app.stop('SIGKILL');
      }
      const app = await startApp({ dataFolder, empty: true });
      await expect.poll(() => readdirSync(folder), { timeout: 20_000 }).toEqual([]);
      for (const id of ids) {
        const run = (await callApi(app, 'GET', `/runs/${id}`)).document as RunDocument;
        expect(['interrupted', 'stopped']).toContain(run.state);
      }
      await app.stop();
    } finally {
      removeFolder(folder);
      removeFolder(dataFolder);
    }
  });
});
