import {
  mkdirSync,
  mkdtempSync,
  readdirSync,
  realpathSync,
  rmSync,
  statSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { checkOptions } from '#core/3-jobs/recipes/registry.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { applyRunEvent, type RunEvent, type RunProgress } from '#core/4-runs/run/run-events.ts';
import { summaryOf } from '#core/4-runs/supply/run-summary.ts';
import { passesOf } from '#core/4-runs/trace/passes.ts';
import { recipeById } from '#engine/recipes/registry.ts';
import { NO_HISTORY, carryOutRun, checkRun, openRunDocument, type RunRequest } from '#engine/run/runner.ts';
import { cleanUpScratch, listKept, removeKept } from '#engine/scratch/left.ts';
import { discoverVolumes } from '#engine/volumes/real/discovery.ts';
import { mountOf } from '#engine/system/filesystems.ts';
import { realVolume } from '#engine/volumes/real/real-volume.ts';
import { createPauseSwitch, type StepControl } from '#engine/volumes/volume.ts';
import { system } from '#engine/system/this-system.ts';

const MB = 1e6;

let home: string;
let journalFolder: string;
beforeEach(() => {
  home = realpathSync(mkdtempSync(join(tmpdir(), 'recipes-test-')));
  journalFolder = mkdtempSync(join(tmpdir(), 'recipes-journal-'));
});
afterEach(() => {
  rmSync(home, { recursive: true, force: true });
  rmSync(journalFolder, { recursive: true, force: true });
});

interface Measured {
  run: RunDocument;
  progress: RunProgress[];
}

async function measure(
  recipeId: string,
  options: object,
  control?: Partial<StepControl>,
  onEvent?: (event: RunEvent) => void,
): Promise<Measured> {
  const all = await discoverVolumes();
  const volume = realVolume(mountOf(home, all)!, { all, journalFolder });
  const recipe = recipeById(recipeId);
  const request: RunRequest = {
    runId: 'unit',
    volume,
    folder: home,
    recipe,
    options: checkOptions(recipe.kind, options),
    targets: [],
  };
  await checkRun(request);
  const { info } = volume;
  const drive = { id: 'd', label: info.label, medium: info.medium, identity: info.identity };
  const run = openRunDocument(request, [drive], NO_HISTORY, 'running', '2026-03-02T09:00:00.000Z');
  const progress: RunProgress[] = [];
  await carryOutRun(
    request,
    (event) => {
      applyRunEvent(run, event);
      onEvent?.(event);
    },
    (one) => progress.push({ ...one }),
    { signal: new AbortController().signal, pause: createPauseSwitch(), ...control },
  );
  return { run, progress };
}

const finished = (run: RunDocument) =>
  expect(run, run.failure?.detail).toMatchObject({ state: 'finished', failure: null });

describe.skipIf(system.name !== 'Linux')('on a real folder', () => {
  it('short passes go one way, and write zeros when asked to', async () => {
    const { run } = await measure('short-passes', { passes: 2, sizeBytes: 16 * MB, direction: 'read', data: 'zeros' });
    finished(run);
    expect(summaryOf(run).figures).toMatchObject({ write: null, read: { passes: 2 } });
    // Zeros carry no stamps: nothing is claimed to have been verified.
    expect(run.conditions.verification.checkedBytes).toBe(0);
    expect(readdirSync(home)).toEqual([]);
  });

  it('a long fill writes its amount, flushes on the way, reads back and compares', async () => {
    const options = { amountBytes: 400 * MB, readBack: true, flushEverySeconds: 0.1, blockBytes: 1 << 20 };
    const { run, progress } = await measure('long-fill', options);
    finished(run);
    const [write, read] = passesOf(run);
    expect(write!.bytes).toBeGreaterThanOrEqual(400 * MB);
    expect(read!.bytes).toBe(write!.bytes);
    expect(run.conditions.verification).toMatchObject({ mismatches: [] });
    expect(run.conditions.verification.checkedBytes).toBeGreaterThan(read!.bytes / 20);
    expect(run.markers.filter((marker) => marker.kind === 'flush').length).toBeGreaterThan(1);
    expect(progress.at(-1)!.share).toBeCloseTo(1, 1);
    expect(readdirSync(home)).toEqual([]);
  });

  it('a held run stands still and goes on where it was', async () => {
    const pause = createPauseSwitch();
    // In requests so small that no drive is through with them before the first look at it.
    const options = { amountBytes: 200 * MB, readBack: true, blockBytes: 4096, depth: 1 };
    let bytesSeen = 0;
    const { run, progress } = await measure('long-fill', options, { pause }, (event) => {
      if (event.type !== 'samples' || bytesSeen > 0) return;
      bytesSeen = event.samples.cumulativeBytes.at(-1) ?? 0;
      if (bytesSeen === 0) return;
      pause.set(true);
      setTimeout(() => pause.set(false), 200);
    });
    finished(run);
    const held = run.markers.filter((marker) => marker.kind === 'pause');
    expect(held.length).toBeGreaterThan(0);
    expect(progress.some((one) => one.paused)).toBe(true);
    const [write, read] = passesOf(run);
    expect(write!.pausedSeconds).toBeGreaterThan(0.05);
    expect(read!.bytes).toBe(write!.bytes);
    expect(run.conditions.verification.mismatches).toEqual([]);
  });

  it('a kept scratch file stays, is read again as existing material, and is given back', async () => {
    const kept = await measure('long-fill', { amountBytes: 40 * MB, keepScratch: true });
    finished(kept.run);
    const [entry] = await listKept(journalFolder);
    expect(entry).toMatchObject({ runId: 'unit' });
    expect(statSync(join(entry!.folder, 'data-0.bin')).size).toBe(entry!.bytes);
    await cleanUpScratch(journalFolder, () => false);
    expect(readdirSync(home)).toEqual(['tavrox-scratch-unit']);
    const { run } = await measure('existing-material', {});
    finished(run);
    expect(passesOf(run)[0]!.bytes).toBe(entry!.bytes);
    expect(await removeKept(journalFolder, 'unit')).toEqual({ is: 'removed' });
    expect(readdirSync(home)).toEqual([]);
    await expect(removeKept(journalFolder, 'unit')).rejects.toThrow(/No scratch file/);
    await expect(removeKept(journalFolder, '../../etc/passwd')).rejects.toThrow(/No scratch file/);
  });

  it('existing material is read, sparse files are passed over with a word, and nothing changes', async () => {
    mkdirSync(join(home, 'reel'));
    writeFileSync(join(home, 'reel', 'a.mov'), Buffer.alloc(9 * 1024 * 1024, 5));
    writeFileSync(join(home, 'note.txt'), 'short');
    writeFileSync(join(home, 'sparse.mov'), '');
    truncateSync(join(home, 'sparse.mov'), 64 * MB);
    const before = readdirSync(home);
    const { run } = await measure('existing-material', { passes: 2, blockBytes: 1 << 20 });
    finished(run);
    expect(passesOf(run).map((pass) => pass.bytes)).toEqual([9 * 1024 * 1024, 9 * 1024 * 1024]);
    expect(run.markers.find((marker) => marker.kind === 'skipped')!.note).toMatch(/^1 file with holes.*64.MB/);
    expect(readdirSync(home)).toEqual(before);
    expect(run.samples.direction).not.toContain('write');
  });

  it('an empty folder has nothing to read, and says so', async () => {
    const { run } = await measure('existing-material', {});
    expect(run).toMatchObject({ state: 'failed', failure: { code: 'nothing-to-read' } });
  });

  it('a block ladder measures each rung, in order and at random', async () => {
    const options = { blocks: [4096, 65_536], depths: [1, 4], seconds: 0.2, areaBytes: 32 * MB };
    const { run } = await measure('block-ladder', options);
    finished(run);
    const ladder = summaryOf(run).figures.ladder!;
    expect(ladder).toHaveLength(2 * 2 * 2 * 2);
    for (const rung of ladder) {
      expect(rung.operationsPerSecond).toBeGreaterThan(0);
      expect(rung.latencyP50Seconds).not.toBeNull();
    }
    expect(readdirSync(home)).toEqual([]);
  });

  it('paced frames record and play at their rate, from one file and from many', async () => {
    const stream = { name: 'S', frameRate: { numerator: 50, denominator: 1 }, frameBytes: 100_000, count: 1 };
    const streams = [
      { ...stream, action: 'record', files: 'container' },
      { ...stream, action: 'record', files: 'sequence' },
      { ...stream, action: 'play', files: 'sequence' },
      { ...stream, action: 'play', files: 'container' },
    ];
    const { run } = await measure('paced-frames', { streams, seconds: 2, depth: 2 });
    finished(run);
    const { frames } = summaryOf(run).figures;
    expect(frames!.streams.map((one) => one.frames)).toEqual([100, 100, 100, 100]);
    expect(frames!.dropped).toBe(0);
    // Each frame was due a fiftieth of a second after the one before.
    expect(frames!.seconds).toBeCloseTo(2, 1);
    const played = passesOf(run).find((pass) => pass.direction === 'read')!;
    expect(played.bytes).toBe(2 * 100 * 102_400);
    // What is recorded counts as no request of what is played: each frame of its way is one or a few.
    const { samples } = run;
    const requests = (way: 'write' | 'read') =>
      samples.operations.reduce((sum, one, row) => sum + (samples.direction[row] === way ? one : 0), 0);
    const moved = (way: 'write' | 'read') =>
      Math.max(...samples.cumulativeBytes.map((bytes, row) => (samples.direction[row] === way ? bytes : 0)));
    expect(moved('write') / requests('write')).toBeGreaterThan(75_000);
    expect(moved('read') / requests('read')).toBeGreaterThan(75_000);
    expect(readdirSync(home)).toEqual([]);
  });

  it('a file scatter creates, reads, lists and deletes every file', async () => {
    const { run } = await measure('file-scatter', { files: 450, distribution: 'even', fileBytes: 5000, parallel: 3 });
    finished(run);
    expect(summaryOf(run).figures.files!.map(({ action, files, bytes }) => [action, files, bytes])).toEqual([
      ['create', 450, 450 * 8192],
      ['read', 450, 450 * 8192],
      ['list', 450, 0],
      ['delete', 450, 0],
    ]);
    expect(readdirSync(home)).toEqual([]);
  });

  it('a file scatter takes after the folder', async () => {
    for (const [name, size] of [
      ['a', 3000],
      ['b', 9000],
    ] as const)
      writeFileSync(join(home, name), Buffer.alloc(size));
    const { run } = await measure('file-scatter', { files: 10, distribution: 'folder' });
    finished(run);
    expect(summaryOf(run).figures.files![0]!.bytes).toBe(5 * 4096 + 5 * 12_288);
    expect(readdirSync(home)).toEqual(['a', 'b']);
  });

  it('each recipe stops when told to, with nothing left', async () => {
    for (const [recipeId, options] of [
      ['long-fill', { amountBytes: 1500 * MB }],
      ['paced-frames', { seconds: 20 }],
      ['block-ladder', { seconds: 5, areaBytes: 32 * MB }],
      ['file-scatter', { files: 50_000 }],
    ] as const) {
      const abort = new AbortController();
      setTimeout(() => abort.abort(), 400);
      const { run } = await measure(recipeId, options, { signal: abort.signal });
      expect(run.state, recipeId).toBe('stopped');
      expect(readdirSync(home), recipeId).toEqual([]);
    }
  });
});
