import { existsSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { parseRecording, recordingTotals, type Recording } from '#core/3-jobs/recording/recording.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { madeClip } from '#core/testing/made-clips.ts';
import type { RunSummary } from '#core/4-runs/supply/run-summary.ts';
import { removeFolder, root, startApp, temporaryFolder, callApi } from '../support/app.ts';
import { tavrox } from '../support/cli.ts';
import { system } from '#engine/system/this-system.ts';

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
    [['--raster', '1920x1080', '--fps', '25', '--layout', 'rgb-8', '--ratio', '0.5'], /ratio: “0.5” is no ratio/],
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
  expect(volumes.filter((volume) => volume.kind === 'stand-in')).toHaveLength(9);
  for (const volume of volumes) expect(volume.freeBytes).toBeLessThanOrEqual(volume.totalBytes);
  if (system.name === 'Linux') expect(volumes.some((volume) => volume.mountPoint.startsWith('/'))).toBe(true);
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
    ['long-fill', ['--size', '64MB', '--read-back', '--block', '1MiB'], 'write'],
    ['paced-frames', ['--stream', 'record 100kB 50 x2 files', '--stream', 'play 100kB 50', '--seconds', '1'], 'frames'],
    ['block-ladder', ['--blocks', '4KiB,64KiB', '--depths', '1,2', '--seconds', '0.2', '--size', '32MB'], 'ladder'],
    ['file-scatter', ['--files', '100', '--sizes', 'even', '--file-size', '8kB'], 'files'],
    ['existing-material', ['--size', '1GB'], 'read'],
  ] as const)('carries out %s on a real folder and on a stand-in', async (recipe, args, says) => {
    if (recipe === 'existing-material') writeFileSync(join(folder, 'reel.mov'), Buffer.alloc(4e6, 3));
    const names = readdirSync(folder);
    for (const place of [[folder], ['skerry-512', '--fast']]) {
      const { code, stdout, stderr } = await tavrox(data, 'measure', ...place, '--recipe', recipe, ...args, '--json');
      expect(code, stderr).toBe(0);
      const run = JSON.parse(stdout) as RunDocument & RunSummary;
      expect(run).toMatchObject({ recipe, state: 'finished', failure: null });
      expect(run.figures[says]).not.toBeNull();
    }
    expect(readdirSync(folder)).toEqual(names);
    rmSync(join(folder, 'reel.mov'), { force: true });
    const { stdout } = await tavrox(data, 'measure', 'skerry-512', '--fast', '--recipe', recipe, ...args);
    expect(stdout.trim().split('\n').length).toBeGreaterThan(1);
  });

  it('switches faults on in stand-ins only, and fails with exit code 1 when one strikes', async () => {
    const broken = [
      'measure',
      'petrel-2t',
      '--fast',
      '--recipe',
      'long-fill',
      '--size',
      '90GB',
      '--fault',
      'unplugged=5',
    ];
    const { code, stderr } = await tavrox(data, ...broken);
    expect({ code, last: stderr.trim().split('\n').at(-1) }).toMatchObject({
      code: 1,
      last: expect.stringMatching(/The drive is gone/) as string,
    });
    expect(await tavrox(data, 'measure', folder, '--fault', 'stall')).toMatchObject({
      code: 2,
      stderr: expect.stringMatching(/only stand-ins/) as string,
    });
  });

  it.each([
    [['.', '--recipe', 'paced-frames', '--files', '3'], /files: Paced frames has no such option/],
    [['.', '--recipe', 'paced-frames', '--stream', 'burn 3MB 25'], /must begin with record or play/],
    [['petrel-2t', '--fault', 'gremlins'], /no “gremlins”/],
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

describe('tavrox analyse and fit', () => {
  const cache = 'seconds,bytes\n0,0\n25,50000000000\n2025,230000000000\n';
  const file = (name: string, text: string) => {
    const path = join(folder, name);
    writeFileSync(path, text);
    return path;
  };
  const fit = (...args: string[]) => tavrox(data, 'fit', '--direction', 'write', ...args);

  it('reads the levels of a CSV', async () => {
    const { code, stdout } = await tavrox(data, 'analyse', file('cache.csv', cache), '--json');
    expect(code).toBe(0);
    expect(JSON.parse(stdout)).toMatchObject({
      openingBytesPerSecond: 2e9,
      kneeBytes: 50e9,
      floorBytesPerSecond: 90e6,
      levels: [{ fromBytes: 0, toBytes: 50e9 }, { toBytes: 230e9 }],
      doubts: [],
    });
  });

  it('gives the verdict of the closed form, with its sentence', async () => {
    const demand = ['--demand', '530MB/s', '--buffer', '530MB', '--duration', '2h'];
    const { code, stdout } = await fit('--trace', file('cache.csv', cache), ...demand, '--json');
    expect(code, 'what breaks ends with a code of its own').toBe(3);
    const verdict = JSON.parse(stdout) as Record<string, number | string>;
    expect(verdict).toMatchObject({ verdict: 'breaks', continued: false });
    expect(verdict['breaksAtSeconds']).toBeCloseTo(95.544, 2);
    expect(Number(verdict['breaksAtBytes']) / 1e9).toBeCloseTo(50.108, 2);
    expect(verdict['sentence']).toMatch(/after at least 1 min 36 s/);
  });

  it('counts takes, gaps, headroom and the free space', async () => {
    const trace = ['--trace', file('cache.csv', cache), '--demand', '60MB/s', '--duration', '1h'];
    expect((await fit(...trace)).stdout).toMatch(/^holds:/);
    expect((await fit(...trace, '--headroom', '60%')).stdout).toMatch(/^tight:/);
    expect((await fit(...trace, '--free', '100GB')).stdout).toMatch(/^breaks: Is full after 27 min/);
    // 18 takes of an hour are 3.9 TB; the floor is taken to go on as far as 950 GB, which is four of them.
    const many = await fit(...trace, '--takes', '18');
    expect(many.stdout).toMatch(/^not-proven: The first four takes of 1 h hold at 60.MB\/s; the 14 after them are not/);
    expect(many.code).toBe(4);
  });

  it('judges a workload on a profile, as the program exports them', async () => {
    const app = await startApp();
    try {
      const drives = (await callApi(app, 'GET', '/drives')).document as { id: string; label: string }[];
      const petrel = drives.find((drive) => drive.label.startsWith('Petrel'))!;
      const [profile] = (await callApi(app, 'GET', `/drives/${petrel.id}/profiles`)).document as object[];
      const workloads = (await callApi(app, 'GET', '/workloads')).document as { id: string }[];
      const night = workloads.find((one) => one.id === 'demo-night-shoot');
      const files = [
        '--profile',
        file('p.json', JSON.stringify(profile)),
        '--workload',
        file('w.json', JSON.stringify(night)),
      ];
      const { code, stdout } = await tavrox(data, 'fit', ...files, '--json');
      // Sound and proxies hold on it, and what goes on at once is not proven in every take.
      expect(code).toBe(4);
      const { items, together } = JSON.parse(stdout) as {
        items: { name: string; verdict: string }[];
        together: object;
      };
      expect(items[0]).toMatchObject({ name: 'Three cameras', verdict: 'holds' });
      expect(together).toMatchObject({ name: 'All at once' });
    } finally {
      await app.stop();
      removeFolder(app.dataFolder);
    }
  });

  it.each([
    [['analyse', 'nowhere.csv'], /no file nowhere\.csv/],
    [['fit', '--demand', '5MB/s'], /trace: is missing/],
    [['fit', '--profile', 'x'], /workload: is missing/],
    [['material', 'nowhere'], /there is no nowhere/],
  ])('refuses %j with one line and exit code 2', async (args, message) => {
    const { code, stdout, stderr } = await tavrox(data, ...args);
    expect({ code, stdout }).toEqual({ code: 2, stdout: '' });
    expect(stderr).toMatch(message);
    expect(stderr.trim().split('\n')).toHaveLength(1);
  });

  it('says of an empty workload that it asks for nothing', async () => {
    const example = join(root, 'docs', 'formats', 'examples');
    const workload = JSON.parse(readFileSync(join(example, 'workload-1.json'), 'utf8')) as object;
    const empty = { ...workload, items: [] };
    const args = [
      '--profile',
      join(example, 'profile-1.json'),
      '--workload',
      file('empty.json', JSON.stringify(empty)),
    ];
    const { code, stderr } = await tavrox(data, 'fit', ...args);
    expect([code, stderr]).toEqual([2, expect.stringMatching(/asks for nothing\. Add an item to it/)]);
  });

  it('names the line at which a CSV goes back', async () => {
    const { code, stderr } = await tavrox(data, 'analyse', file('back.csv', 'seconds,bytes\n0,0\n2,9\n1,12\n'));
    expect(code).toBe(2);
    expect(stderr).toMatch(/line 4: time goes back/);
  });

  it('tells what a clip asks for', async () => {
    const path = join(folder, 'clip.mkv');
    writeFileSync(path, await madeClip('mkv', Array<number>(50).fill(40_000), 25));
    const { stdout } = await tavrox(data, 'material', path, '--json');
    const { essence, rates } = JSON.parse(stdout) as { essence: { bytesPerSecond: number }; rates: { frames: number } };
    expect(rates.frames).toBe(50);
    expect(essence.bytesPerSecond).toBeCloseTo(1e6, -4);
  });
});

describe('tavrox record and replay', () => {
  it('records a command, cold and warm, as phases of a load that can be kept', async () => {
    const file = join(folder, 'data.bin');
    writeFileSync(file, Buffer.alloc(20_000_000, 3));
    const out = join(folder, 'cat.json');
    const script = `require('node:fs').readFileSync(${JSON.stringify(file)})`;
    const args = ['--repeat', '2', '--out', out, '--json', '--', process.execPath, '-e', script];
    const { code, stdout } = await tavrox(data, 'record', ...args);
    expect(code).toBe(0);
    const runs = JSON.parse(stdout) as (Recording & { tookSeconds: number; isWarm: boolean })[];
    expect(runs.map(({ isWarm }) => isWarm)).toEqual([false, true]);
    for (const { rows } of runs) {
      const read = recordingTotals(rows).askedReadBytes;
      expect(read).toBeGreaterThan(20_000_000);
      expect(read).toBeLessThan(26_000_000);
    }
    expect(parseRecording(JSON.parse(readFileSync(out, 'utf8')))).toMatchObject({ tavrox: 'recording/1' });
    // What is there already stays.
    const again = await tavrox(data, 'record', '--out', out, '--', 'true');
    expect(again).toMatchObject({ code: 2 });
    expect(again.stderr).toMatch(/there already/);
    rmSync(file);
  });

  it('says what cannot be recorded', async () => {
    expect((await tavrox(data, 'record')).stderr).toMatch(/command: is missing/);
    expect(await tavrox(data, 'record', '--pid', '99999999')).toMatchObject({ code: 2 });
    expect((await tavrox(data, 'record', '--', 'no-such-command')).stderr).toMatch(/no command no-such-command/);
  });

  it('replays a load on a real folder, its requests and pauses, and leaves nothing behind', async () => {
    const flags = ['--recipe', 'replay', '--phase', 'Launch: 500 ms processor, 24 MB in 64 KiB x4, overlap 0%'];
    const more = ['--phase', 'Stream: 1 MB in 64 KiB x2, every 100 ms for 1 s', '--json'];
    const before = readdirSync(folder);
    const { code, stdout } = await tavrox(data, 'measure', folder, ...flags, ...more);
    expect(code).toBe(0);
    const { figures } = JSON.parse(stdout) as RunDocument & RunSummary;
    const [launch, stream] = figures.phases!;
    expect(launch).toMatchObject({ name: 'Launch', bytes: 367 * 65_536 });
    expect(launch!.processorSeconds).toBeGreaterThan(0.49);
    expect(launch!.processorSeconds).toBeLessThan(0.7);
    expect(stream).toMatchObject({ chunks: 10, bytes: 10 * 16 * 65_536 });
    expect(readdirSync(folder)).toEqual(before);
  });
});
