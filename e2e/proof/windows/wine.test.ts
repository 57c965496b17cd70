import { execFileSync, spawn } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, mkdirSync, readFileSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import type { VolumeEntry } from '#core/6-exchange/api/wire.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { RECIPE_KINDS } from '#core/3-jobs/recipes/registry.ts';
import { removeFolder, temporaryFolder } from '../../support/app.ts';
import { bundleTests } from '../../support/bundle-tests.ts';
import { hashesIn } from '../../support/hashes.ts';
import type { Outcome } from '../../support/tests-alone.ts';
import { hasWine, installPackage, openWindows, type Windows } from '../../support/wine.ts';
import { extent } from '../extent.ts';

/** All of the engine; of core what numbers and texts rest on, in the long proof all of it. */
const ROOMS = extent(['core', 'engine'], ['core/1-ground', 'engine']);
const LEAST_TESTS = extent(1000, 300);

/** The package as somebody installs it, in an empty folder: on this system, and on Windows’ own Node. */

let folder: string;
beforeAll(() => {
  folder = temporaryFolder('package');
  installPackage(folder);
}, 600_000);
afterAll(() => removeFolder(folder));

describe('a package in an empty folder', () => {
  it('starts without building, and holds nothing but what it runs on', async () => {
    const installed = join(folder, 'node_modules', 'tavrox');
    expect(readdirSync(installed).sort()).toEqual(['LICENSE', 'README.md', 'bin', 'dist', 'package.json', 'scripts']);
    const data = temporaryFolder('package-data');
    const environment = { ...process.env, TAVROX_DATA: data, TAVROX_LOCKS: join(data, 'locks') };
    const version = execFileSync('npx', ['tavrox', '--version'], { cwd: folder, env: environment, encoding: 'utf8' });
    expect(version).toMatch(/^\d+\.\d+\.\d+\n$/);
    const server = spawn(process.execPath, ['node_modules/tavrox/bin/tavrox.js', 'serve', '--port', '0', '--json'], {
      cwd: folder,
      env: environment,
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    let [said, errors] = ['', ''];
    server.stdout.on('data', (text: Buffer) => (said += text.toString()));
    server.stderr.on('data', (text: Buffer) => (errors += text.toString()));
    await vi.waitUntil(() => said.includes('"address"'), { timeout: 100_000 });
    const { origin } = new URL((JSON.parse(said) as { address: string }).address);
    expect((await fetch(`${origin}/healthz`)).status).toBe(200);
    expect(await (await fetch(origin)).text()).toContain('<div id="root">');
    expect(errors).toBe('');
    const over = once(server, 'exit');
    server.kill();
    await over;
    removeFolder(data);
  });
});

describe.skipIf(!hasWine())('on Windows’ own Node, by Wine', () => {
  let windows: Windows;
  const here = (...names: string[]) => join(windows.drive, ...names);
  beforeAll(() => {
    windows = openWindows(folder);
    for (const name of ['target', 'material', 'copies']) mkdirSync(here(name));
    for (let file = 0; file < 20; file += 1)
      writeFileSync(here('material', `n-${file}`), Buffer.alloc(300_000 + file, file));
  }, 600_000);
  afterAll(() => windows.close());

  const measured = async (...args: string[]): Promise<RunDocument> => {
    const { code, stdout, stderr } = await windows.tavrox(...args, '--json');
    expect(code, stderr).toBe(0);
    return JSON.parse(stdout) as RunDocument;
  };

  it('finds C: and what is known of it, and nothing wrong with itself', async () => {
    const { stdout } = await windows.tavrox('volumes', '--json');
    const volumes = JSON.parse(stdout) as VolumeEntry[];
    expect(volumes.find(({ mountPoint }) => mountPoint === 'C:\\')).toMatchObject({
      kind: 'real',
      filesystem: 'ntfs',
      readOnly: false,
      // Wine says nothing of what lies below: nothing is made up.
      medium: 'unknown',
      connection: { hops: [] },
    });
    const found = JSON.parse((await windows.tavrox('doctor', '--json')).stdout) as {
      what: string;
      verdict: string;
      text: string;
    }[];
    expect(found.filter(({ verdict }) => verdict === 'wrong' || verdict === 'unknown')).toEqual([]);
    expect(found.find(({ what }) => what === 'System')!.text).toMatch(/on Windows x64/);
    expect(found.find(({ what }) => what === 'Facts')!.text).toMatch(
      /C:\\: ntfs, medium not known, link not known, identity by /,
    );
  });

  const RUNS: Record<string, string[]> = {
    'short-passes': ['C:\\target', '--passes', '2', '--size', '24MB'],
    'long-fill': ['C:\\target', '--size', '60MB', '--read-back'],
    'paced-frames': ['C:\\target', '--stream', 'record 1MB 25', '--stream', 'play 100kB 20 files', '--seconds', '2'],
    'block-ladder': ['C:\\target', '--size', '16MB', '--seconds', '0.2'],
    'file-scatter': ['C:\\target', '--files', '60', '--file-size', '20KB'],
    replay: ['C:\\target', '--phase', 'Stream: 1 MB in 64 KiB x2, every 100 ms for 2 s'],
    'existing-material': ['C:\\material', '--passes', '1'],
  };

  it.each(Object.keys(RUNS))('measures by %s, and leaves nothing', async (recipe) => {
    const run = await measured('measure', ...RUNS[recipe]!, '--recipe', recipe);
    expect(run).toMatchObject({ state: 'finished', failure: null, volume: { mountPoint: 'C:\\' } });
    expect(run.samples.cumulativeBytes.at(-1) ?? run.files.seconds.length).toBeGreaterThan(0);
    expect(run.conditions.software.platform).toMatch(/win/i);
    expect(readdirSync(here('target'))).toEqual([]);
    expect(readdirSync(here('data', 'scratch'))).toEqual([]);
  });

  it('decides a question, copies with a hash list, and finds what was changed since', async () => {
    const before = hashesIn(here('material'));
    const copied = await measured(
      ...['measure', 'C:\\material', '--recipe', 'copy', '--to', 'C:\\copies', '--what', 'folder'],
      ...['--verify', 'read-back', '--keep'],
    );
    expect(copied.state).toBe('finished');
    const [name, ...others] = readdirSync(here('copies'));
    expect(others).toEqual([]);
    const files = Object.keys(before);
    expect(hashesIn(here('copies', name!), files)).toEqual(before);
    const whole = await windows.tavrox('verify', `C:\\copies\\${name}`);
    expect(whole.code, whole.stdout + whole.stderr).toBe(0);
    writeFileSync(here('copies', name!, 'n-3'), Buffer.alloc(300_003, 9));
    const changed = await windows.tavrox('verify', `C:\\copies\\${name}`);
    expect(changed.code).not.toBe(0);
    expect(changed.stdout).toContain('n-3');
    const asked = await windows.tavrox('check', 'C:\\target', '1 MB/s', '--for', '5s');
    // What it says of Wine’s disk is no matter: it comes to an answer.
    expect([0, 3, 4], asked.stderr).toContain(asked.code);
    expect([...Object.keys(RUNS), 'copy', 'until-decided'].sort()).toEqual(RECIPE_KINDS.map(({ id }) => id).sort());
  });

  it('passes the tests of the engine and of what it computes with', async () => {
    const file = join('node_modules', 'tavrox', 'dist', 'tests.mjs');
    await bundleTests(ROOMS, join(folder, file));
    const { stdout, stderr } = await windows.node(file);
    const outcome = JSON.parse(stdout.trim().split('\n').at(-1) ?? '') as Outcome;
    console.log(`${outcome.passed} passed, ${outcome.skipped} that only Linux can be asked`);
    expect(outcome.failed, stderr).toEqual([]);
    expect(outcome.passed).toBeGreaterThan(LEAST_TESTS);
    expect(outcome.skipped).toBeLessThan(60);
  });

  it('serves, is killed in the middle of a run, and cleans up when it starts again', async () => {
    const note = here('data', 'server.json');
    const serve = async () => {
      const server = windows.start('serve', '--port', '0', '--empty');
      await vi.waitUntil(() => existsSync(note) && statSync(note).size > 0, { timeout: 200_000, interval: 100 });
      const { port, secret } = JSON.parse(readFileSync(note, 'utf8')) as { port: number; secret: string };
      const origin = `http://127.0.0.1:${port}`;
      const call = async (method: string, path: string, body?: unknown) => {
        const answer = await fetch(`${origin}/api${path}`, {
          method,
          headers: {
            Authorization: `Bearer ${secret}`,
            Origin: origin,
            'X-Tavrox': '1',
            'Content-Type': 'application/json',
          },
          ...(body === undefined ? {} : { body: JSON.stringify(body) }),
        });
        return (await answer.json()) as unknown;
      };
      expect((await fetch(`${origin}/healthz`)).status).toBe(200);
      return { server, call };
    };
    const first = await serve();
    const volumes = (await first.call('GET', '/volumes')) as VolumeEntry[];
    const { id: volumeId } = volumes.find(({ mountPoint }) => mountPoint === 'C:\\')!;
    const { id } = (await first.call('POST', '/runs', {
      volumeId,
      folder: 'C:\\target',
      recipeId: 'short-passes',
      options: { passes: null, sizeBytes: 24e6 },
    })) as RunDocument;
    const samples = async () => ((await first.call('GET', `/runs/${id}`)) as RunDocument).samples.atSeconds.length;
    // It is kept a second at a time.
    await vi.waitUntil(async () => (await samples()) > 60, { timeout: 100_000, interval: 100 });
    const gone = once(first.server, 'exit');
    windows.close();
    await gone;
    expect(readdirSync(here('target'))).toEqual([`tavrox-scratch-${id}`]);
    writeFileSync(note, '');
    const second = await serve();
    await vi.waitUntil(() => readdirSync(here('target')).length === 0, { timeout: 100_000, interval: 100 });
    const kept = (await second.call('GET', `/runs/${id}`)) as RunDocument;
    expect(kept.state).toBe('interrupted');
    // What was kept before: a second’s worth at a time.
    expect(kept.samples.atSeconds.length).toBeGreaterThan(0);
    const over = once(second.server, 'exit');
    windows.close();
    await over;
  });
});
