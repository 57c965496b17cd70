import { existsSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { RunDocument } from '#core/run/run-document.ts';
import type { RunSummary } from '#core/supply/run-summary.ts';
import { removeFolder, startApp, temporaryFolder, callApi } from './support/app.ts';
import { tavrox } from './support/cli.ts';

let data: string;
let folder: string;
beforeAll(() => {
  data = temporaryFolder('cli-data');
  folder = temporaryFolder('cli');
});
afterAll(() => {
  removeFolder(data);
  removeFolder(folder);
});

describe('tavrox rate', () => {
  it('prints one JSON document with the three figures', async () => {
    const { code, stdout } = await tavrox(
      data,
      'rate',
      '--raster',
      '3840x2160',
      '--fps',
      '24000/1001',
      '--layout',
      'yuv422-10',
      '--json',
    );
    expect(code).toBe(0);
    const rate = JSON.parse(stdout) as Record<string, number>;
    expect(Object.keys(rate)).toEqual(['bytesPerFrame', 'bytesPerSecond', 'peakBytesPerSecond']);
    expect(rate['bytesPerSecond']! / 1e6).toBeCloseTo(530.311, 3);
  });

  it('lists every layout by its id', async () => {
    const { stdout } = await tavrox(data, 'rate', '--list', '--json');
    expect((JSON.parse(stdout) as { id: string }[]).map((layout) => layout.id)).toContain('exr-rgba-half');
  });

  it.each([
    [['--fps', '25', '--layout', 'rgb-8'], /raster: is missing/],
    [['--raster', '1920x1080', '--fps', '25', '--layout', 'nonsense'], /no layout “nonsense”/],
    [['--raster', 'big', '--fps', '25', '--layout', 'rgb-8'], /“big” is not a raster/],
    [['--raster', '1920x1080', '--fps', '25', '--layout', 'rgb-8', '--ratio', '0.5'], /ratio: 0.5/],
    [['--frobnicate'], /unknown option/],
  ])('refuses %j with one line and exit code 2', async (args, message) => {
    const { code, stdout, stderr } = await tavrox(data, 'rate', ...args);
    expect({ code, stdout }).toEqual({ code: 2, stdout: '' });
    expect(stderr).toMatch(message);
    expect(stderr.trim().split('\n')).toHaveLength(1);
  });
});

it('tavrox volumes lists real volumes and stand-ins with what is known of each', async () => {
  const { stdout } = await tavrox(data, 'volumes', '--json');
  const volumes = JSON.parse(stdout) as {
    kind: string;
    mountPoint: string;
    freeBytes: number;
    totalBytes: number;
    medium: string;
  }[];
  expect(volumes.filter((volume) => volume.kind === 'stand-in')).toHaveLength(2);
  for (const volume of volumes) expect(volume.freeBytes).toBeLessThanOrEqual(volume.totalBytes);
  if (process.platform === 'linux') expect(volumes.some((volume) => volume.mountPoint.startsWith('/'))).toBe(true);
});

describe('tavrox measure', () => {
  it('measures a real folder and leaves nothing behind', async () => {
    const { code, stdout, stderr } = await tavrox(
      data,
      'measure',
      folder,
      '--size',
      '64MB',
      '--passes',
      '2',
      '--block',
      '1MiB',
      '--json',
    );
    expect(code).toBe(0);
    const run = JSON.parse(stdout) as RunDocument & RunSummary;
    expect(run).toMatchObject({ tavrox: 'run/1', recipe: 'short-passes', state: 'finished', failure: null });
    expect(run.figures.write!.bytes).toBe(2 * 62 * 1024 * 1024);
    expect(run.figures.read!.medianBytesPerSecond).toBeGreaterThan(0);
    expect(run.conditions.verification.mismatches).toEqual([]);
    // At least one page of sixteen; every page where the disk leaves time for it.
    expect(run.conditions.verification.checkedBytes).toBeGreaterThanOrEqual((2 * 62 * 1024 * 1024) / 16);
    expect(stderr).toMatch(/pass 1 of 2, writing/);
    expect(readdirSync(folder)).toEqual([]);
    expect(readdirSync(join(data, 'scratch'))).toEqual([]);
  });

  it('measures a stand-in to its known truth', async () => {
    const { stdout } = await tavrox(data, 'measure', 'petrel-2t', '--fast', '--json');
    const { figures } = JSON.parse(stdout) as RunSummary;
    expect(figures.write!.medianBytesPerSecond / 5200e6).toBeCloseTo(1, 1);
    expect(figures.read!.medianBytesPerSecond / 6600e6).toBeCloseTo(1, 1);
  });

  it.each([
    [['/no/such/folder'], /\/no\/such\/folder does not exist/],
    [['.', '--size', '0'], /size: must be more than 0/],
    [['.', '--size', 'lots'], /“lots” is not an amount/],
    [['.', '--size', '10gb'], /bytes or bits/],
    [['.', '--block', '3MiB'], /power of two/],
    [['.', '--depth', '99'], /depth: must be a whole number from 1 to 32/],
    [['.', '--recipe', 'magic'], /no recipe “magic”/],
    [['/proc'], /not on the volume/],
    [['package.json'], /is a file/],
  ])('refuses %j with a sentence and exit code 2, before anything is made', async (args, message) => {
    const { code, stdout, stderr } = await tavrox(data, 'measure', ...args);
    expect({ code, stdout }).toEqual({ code: 2, stdout: '' });
    expect(stderr).toMatch(message);
  });

  it('refuses a pass that leaves no reserve, and leaves nothing behind', async () => {
    const { code, stderr } = await tavrox(data, 'measure', folder, '--size', '900TB');
    expect(code).toBe(2);
    expect(stderr).toMatch(/does not fit/);
    expect(readdirSync(folder)).toEqual([]);
  });

  it('goes through a running server, which keeps the run', async () => {
    const app = await startApp({ empty: true });
    try {
      const { code, stdout } = await tavrox(
        app.dataFolder,
        'measure',
        folder,
        '--size',
        '32MB',
        '--passes',
        '1',
        '--json',
      );
      expect(code).toBe(0);
      const { id } = JSON.parse(stdout) as RunDocument;
      const { status, document } = await callApi(app, 'GET', `/runs/${id}`);
      expect(status).toBe(200);
      expect(document).toMatchObject({ id, state: 'finished' });
    } finally {
      await app.stop();
      removeFolder(app.dataFolder);
    }
  });
});

it('a foreign folder of our own name is never taken over', async () => {
  const stranger = join(folder, 'tavrox-scratch-mine');
  writeFileSync(stranger, 'theirs');
  await tavrox(data, 'measure', folder, '--size', '32MB', '--passes', '1');
  expect(existsSync(stranger)).toBe(true);
});
