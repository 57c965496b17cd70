import { build } from 'esbuild';
import { randomBytes } from 'node:crypto';
import { once } from 'node:events';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Worker } from 'node:worker_threads';
import { checkOptions } from '#core/3-jobs/recipes/registry.ts';
import { median } from '#core/1-ground/numbers/statistics.ts';
import { recipeById } from '#engine/recipes/registry.ts';
import { carryOutRun } from '#engine/run/runner.ts';
import { discoverVolumes } from '#engine/volumes/real/discovery.ts';
import { mountOf } from '#engine/system/filesystems.ts';
import { realVolume } from '#engine/volumes/real/real-volume.ts';
import { createPauseSwitch } from '#engine/volumes/volume.ts';

const root = fileURLToPath(new URL('..', import.meta.url));
const PAIRS = 5;

interface CopyCase {
  label: string;
  files: number;
  fileBytes: number;
  blockBytes: number;
  parallel: number;
}

const CASES: readonly CopyCase[] = [
  { label: 'large files, one at a time', files: 4, fileBytes: 128 * 2 ** 20, blockBytes: 8 * 2 ** 20, parallel: 1 },
  { label: 'large files, two at a time', files: 4, fileBytes: 128 * 2 ** 20, blockBytes: 8 * 2 ** 20, parallel: 2 },
  { label: 'small files, one at a time', files: 3000, fileBytes: 20_000, blockBytes: 2 ** 20, parallel: 1 },
  { label: 'small files, four at a time', files: 3000, fileBytes: 20_000, blockBytes: 2 ** 20, parallel: 4 },
];

export interface CopyRow {
  label: string;
  /** Rate of the engine ÷ that of the plain loop, median of the pairs. */
  ratio: number;
  bareFilesPerSecond: number;
  bareBytesPerSecond: number;
}

/** The copy engine against a plain loop of reads and writes with as many files at a time, in turn on one disk. */
export async function benchCopies(folder: string): Promise<CopyRow[]> {
  const home = mkdtempSync(join(folder, 'tavrox-bench-'));
  try {
    const worker = join(home, 'bare-copy-worker.mjs');
    await build({
      entryPoints: [join(root, 'bench/bare-copy-worker.ts')],
      outfile: worker,
      bundle: true,
      format: 'esm',
      platform: 'node',
    });
    const rows: CopyRow[] = [];
    for (const [index, one] of CASES.entries()) rows.push(await benchCase(join(home, `case-${index}`), worker, one));
    return rows;
  } finally {
    rmSync(home, { recursive: true, force: true });
  }
}

async function benchCase(home: string, worker: string, one: CopyCase): Promise<CopyRow> {
  const source = join(home, 'source');
  mkdirSync(source, { recursive: true });
  const files = Array.from({ length: one.files }, (_, number) => ({ path: `n-${number}`, bytes: one.fileBytes }));
  const data = randomBytes(one.fileBytes);
  for (const { path } of files) writeFileSync(join(source, path), data);
  const pairs: { bare: number; engine: number }[] = [];
  for (let pair = 0; pair < PAIRS; pair += 1) {
    const bare = () => bareSeconds(join(home, `bare-${pair}`), source, worker, files, one);
    const engine = () => engineSeconds(home, source, one, pair);
    // In turn first and second, so that a drift of the device favours neither.
    if (pair % 2 === 0) pairs.push({ bare: await bare(), engine: await engine() });
    else {
      const first = await engine();
      pairs.push({ bare: await bare(), engine: first });
    }
  }
  const bareSecondsInTheMiddle = median(pairs.map(({ bare }) => bare));
  return {
    label: one.label,
    ratio: median(pairs.map(({ bare, engine }) => bare / engine)),
    bareFilesPerSecond: one.files / bareSecondsInTheMiddle,
    bareBytesPerSecond: (one.files * one.fileBytes) / bareSecondsInTheMiddle,
  };
}

async function bareSeconds(
  target: string,
  source: string,
  worker: string,
  files: readonly { path: string; bytes: number }[],
  { parallel, blockBytes }: CopyCase,
): Promise<number> {
  mkdirSync(target);
  const next = new SharedArrayBuffer(4);
  const workers = Array.from(
    { length: parallel },
    () => new Worker(worker, { workerData: { source, target, files, blockBytes, next } }),
  );
  await Promise.all(workers.map((each) => once(each, 'message')));
  const from = performance.now();
  const done = workers.map((each) => once(each, 'message'));
  workers.forEach((each) => each.postMessage('go'));
  await Promise.all(done);
  const seconds = (performance.now() - from) / 1000;
  await Promise.all(workers.map((each) => each.terminate()));
  rmSync(target, { recursive: true });
  return seconds;
}

async function engineSeconds(
  home: string,
  folder: string,
  { parallel, blockBytes }: CopyCase,
  pair: number,
): Promise<number> {
  const all = await discoverVolumes();
  const volume = realVolume(mountOf(home, all)!, { all, journalFolder: join(home, 'journal') });
  const recipe = recipeById('copy');
  const target = join(home, `engine-${pair}`);
  mkdirSync(target);
  const options = { payload: 'folder', verify: 'none', parallelFiles: parallel, depth: 1, blockBytes };
  let seconds = NaN;
  await carryOutRun(
    {
      runId: `bench-${pair}`,
      volume,
      folder,
      recipe,
      options: checkOptions(recipe.kind, options),
      targets: [{ volume, folder: target }],
    },
    (event) => {
      if (event.type === 'copy-leg') seconds = event.leg.copySeconds;
    },
    () => undefined,
    { signal: new AbortController().signal, pause: createPauseSwitch() },
  );
  rmSync(target, { recursive: true });
  return seconds;
}

export const copyLine = ({ label, ratio, bareFilesPerSecond, bareBytesPerSecond }: CopyRow): string[] => [
  `copy ${label}`,
  ratio.toFixed(3),
  `${Math.round(bareBytesPerSecond / 1e6)} MB/s`,
  `${Math.round(bareFilesPerSecond)} files/s`,
];
