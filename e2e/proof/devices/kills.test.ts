import { spawn } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { once } from 'node:events';
import { mkdirSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { describe, expect, it } from 'vitest';
import { RECIPE_KINDS } from '#core/3-jobs/recipes/registry.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { journalFolderOf } from '#server/serve.ts';
import { callApi, removeFolder, root, startApp, temporaryFolder, volumeOfFolder } from '../../support/app.ts';
import { tavrox } from '../../support/cli.ts';
import { hashesIn } from '../../support/hashes.ts';
import { storeVariables } from '../../support/store.ts';
import { extent } from '../extent.ts';

/** In all: seven of ten of the command line, two of the server, one of copies of the server. */
const KILLS = extent(100, 20);
const [LINES, SERVERS, COPIES] = [0.7 * KILLS, 0.2 * KILLS, 0.1 * KILLS].map(Math.ceil) as [number, number, number];

/** A run of each recipe that goes on for longer than it is let, by what follows the folder. */
const RUNS: Record<string, (home: string) => [folder: string, ...args: string[]]> = {
  'short-passes': (home) => [home, '--passes', '90', '--size', '24MB', '--block', '1MiB'],
  'long-fill': (home) => [home, '--size', '900MB', '--block', '1MiB', '--read-back'],
  'paced-frames': (home) => [home, '--stream', 'record 1MB 30', '--stream', 'play 100kB 20 files', '--seconds', '20'],
  'block-ladder': (home) => [home, '--size', '32MB', '--seconds', '0.3'],
  'file-scatter': (home) => [home, '--files', '20000', '--file-size', '20KB'],
  replay: (home) => [home, '--phase', 'Stream: 1 MB in 64 KiB x2, every 100 ms for 20 s'],
  copy: (home) => [join(home, 'material'), '--to', join(home, 'target'), '--what', 'folder', '--verify', 'read-back'],
  'until-decided': (home) => [home, '20 MB/s', '--for', '45s'],
  // It makes no scratch to be met with: the last of them is killed the least often.
  'existing-material': (home) => [join(home, 'material'), '--passes', '900'],
};
/** So long after its scratch was there a run is killed at most; one in five at any moment from its start on. */
const MOST_SECONDS = 1.5;
/** A start and a kill take some seconds, on a busy machine twenty. */
const patience = (kills: number): number => 20_000 * kills + 120_000;
const IS_ANY_MOMENT = (kill: number): boolean => kill % 5 === 3;

describe('a command line killed at any moment of any recipe', () => {
  it(
    `${LINES} times over leaves nothing, takes nothing, and every copy that is there is whole`,
    async () => {
      expect(Object.keys(RUNS).sort()).toEqual(RECIPE_KINDS.map(({ id }) => id).sort());
      const home = temporaryFolder('line-kills');
      const data = temporaryFolder('line-kills-data');
      const store = await storeVariables(data);
      const [material, target] = [join(home, 'material'), join(home, 'target')];
      for (const one of [material, target]) mkdirSync(one);
      for (let file = 0; file < 400; file += 1)
        writeFileSync(join(material, `n-${file}`), randomBytes(file % 40 === 0 ? 2e6 : 20_000));
      const before = hashesIn(material);
      const met: Record<string, number> = {};
      const scratchIn = () =>
        [home, material, target]
          .flatMap((folder) => readdirSync(folder))
          .filter((one) => one.startsWith('tavrox-scratch'));
      try {
        for (let kill = 0; kill < LINES; kill += 1) {
          const [id, args] = Object.entries(RUNS)[kill % RECIPE_KINDS.length]!;
          const command =
            id === 'until-decided' ? ['check', ...args(home)] : ['measure', ...args(home), '--recipe', id];
          const child = spawn(process.execPath, ['bin/tavrox.js', ...command, '--json'], {
            cwd: root,
            env: { ...process.env, ...store, TAVROX_DATA: data, TAVROX_LOCKS: join(data, 'locks') },
            stdio: ['ignore', 'ignore', 'pipe'],
          });
          let said = '';
          child.stderr.on('data', (text: Buffer) => (said += text.toString()));
          const ended = once(child, 'exit');
          const left = new Set(scratchIn());
          const ownScratch = () => scratchIn().some((name) => !left.has(name));
          // What only reads makes no scratch to wait for.
          if (!IS_ANY_MOMENT(kill) && id !== 'existing-material')
            while (!ownScratch() && child.exitCode === null) await wait(5);
          // Any moment is as good as another: there is no condition to wait for.
          await Promise.race([wait(1000 * MOST_SECONDS * Math.random()), ended]);
          const isInScratch = ownScratch();
          child.kill('SIGKILL');
          await ended;
          expect(child.exitCode ?? 0, `${id}: ${said}`).toBe(0);
          met[id] = (met[id] ?? 0) + Number(isInScratch);
        }
        // The next run removes what those before it left.
        const { code, stderr } = await tavrox(data, 'measure', home, '--passes', '1', '--size', '24MB');
        expect(code, stderr).toBe(0);
        const copy = await tavrox(data, 'measure', ...RUNS['copy']!(home), '--recipe', 'copy');
        expect(copy.code, copy.stderr).toBe(0);
        console.log(`killed with scratch on the drive: ${JSON.stringify(met)}`);
        console.log(`copies that were there: ${readdirSync(target).length}`);
        expect(scratchIn()).toEqual([]);
        expect(readdirSync(journalFolderOf(data))).toEqual([]);
        expect(hashesIn(material)).toEqual(before);
        expect(readdirSync(home).sort()).toEqual(['material', 'target']);
        // A copy has its name only once it is whole.
        const copies = readdirSync(target).filter((one) => statSync(join(target, one)).isDirectory());
        expect(copies).toEqual(readdirSync(target));
        expect(copies.length).toBeGreaterThan(0);
        for (const copy of copies) {
          const inside = join(target, copy);
          const files = readdirSync(inside).filter((one) => statSync(join(inside, one)).isFile());
          expect(files.sort()).toEqual(Object.keys(before).sort());
          expect(hashesIn(inside, files)).toEqual(before);
        }
        // Those that write were met while they did, not only before or after.
        const writing = Object.keys(RUNS).filter((id) => id !== 'existing-material');
        for (const id of writing) expect(met[id], id).toBeGreaterThan(0);
      } finally {
        removeFolder(home);
        removeFolder(data);
      }
    },
    patience(LINES),
  );
});

describe('a server killed at any moment', () => {
  it(
    `${SERVERS} times over leaves no scratch and loses no run`,
    async () => {
      const folder = temporaryFolder('kills');
      const dataFolder = temporaryFolder('kills-data');
      const ids: string[] = [];
      try {
        for (let kill = 0; kill < SERVERS; kill += 1) {
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
          const enough = Math.floor(Math.random() * 30);
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
    },
    patience(SERVERS),
  );
});

describe('a copy whose server is killed', () => {
  it(
    `${COPIES} times over leaves no scratch and every byte of the source`,
    async () => {
      const home = temporaryFolder('copy-kills');
      const dataFolder = temporaryFolder('copy-kills-data');
      const [source, target] = [join(home, 'source'), join(home, 'target')];
      mkdirSync(source);
      mkdirSync(target);
      for (let file = 0; file < 300; file += 1) {
        writeFileSync(join(source, `n-${file}`), randomBytes(file % 20 === 0 ? 4e6 : 30_000));
      }
      const before = hashesIn(source);
      try {
        for (let kill = 0; kill < COPIES; kill += 1) {
          const app = await startApp({ dataFolder, empty: true });
          await expect.poll(() => readdirSync(target), { timeout: 20_000 }).toEqual([]);
          const { id: volumeId } = await volumeOfFolder(app, source);
          const options = { payload: 'folder', back: true, repeats: 20, keep: true, blockBytes: 65_536 };
          const { document } = await callApi(app, 'POST', '/runs', {
            volumeId,
            folder: source,
            recipeId: 'copy',
            options,
            targets: [{ volumeId, folder: target }],
          });
          const { id } = document as { id: string };
          const runNow = async () => (await callApi(app, 'GET', `/runs/${id}`)).document as RunDocument;
          await expect
            .poll(async () => (await runNow()).copy!.rows.atSeconds.length, { interval: 20, timeout: 30_000 })
            .toBeGreaterThan(Math.floor(Math.random() * 12));
          await app.stop('SIGKILL');
        }
        const app = await startApp({ dataFolder, empty: true });
        await expect.poll(() => readdirSync(target), { timeout: 20_000 }).toEqual([]);
        await expect.poll(() => readdirSync(home).sort(), { timeout: 20_000 }).toEqual(['source', 'target']);
        expect(hashesIn(source)).toEqual(before);
        await app.stop();
      } finally {
        removeFolder(home);
        removeFolder(dataFolder);
      }
    },
    patience(COPIES),
  );
});
