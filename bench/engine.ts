import { closeSync, constants, fdatasyncSync, mkdtempSync, openSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import { build } from 'esbuild';
import { median } from '#core/1-ground/numbers/statistics.ts';
import { blockText } from '#core/1-ground/units/format.ts';
import { discoverVolumes } from '#engine/volumes/real/discovery.ts';
import { mountOf } from '#engine/system/filesystems.ts';
import { realVolume } from '#engine/volumes/real/real-volume.ts';
import { transferStep } from '#engine/recipes/recipe.ts';
import { createPauseSwitch, type Session, type StepControl } from '#engine/volumes/volume.ts';
import type { BareInit } from './bare-worker.ts';
import { root } from '../e2e/support/app.ts';

const PAIRS = 7;
const UNHINDERED: StepControl = { signal: new AbortController().signal, pause: createPauseSwitch() };
const MIB = 1024 * 1024;

interface Timing {
  bytesPerSecond: number;
  processorSecondsPerGigabyte: number;
}

async function timed(bytes: number, work: () => Promise<number>): Promise<Timing> {
  const before = process.cpuUsage();
  const seconds = await work();
  const { user, system } = process.cpuUsage(before);
  return { bytesPerSecond: bytes / seconds, processorSecondsPerGigabyte: (user + system) / 1e6 / (bytes / 1e9) };
}

async function bareRun(
  file: string,
  worker: string,
  direction: 'write' | 'read',
  { blockBytes, depth, order, bytes }: BenchCase,
): Promise<Timing> {
  const descriptor = openSync(file, constants.O_RDWR | constants.O_CREAT | constants.O_DIRECT, 0o600);
  const control = new SharedArrayBuffer(64);
  const words = new Int32Array(control);
  const workerData: BareInit = { control, descriptor, blockBytes, blocks: bytes / blockBytes, direction, order };
  const members = Array.from({ length: depth }, () => new Worker(worker, { workerData }));
  const all = () => Promise.all(members.map((member) => new Promise((resolve) => member.once('message', resolve))));
  await all();
  const ready = all();
  for (const member of members) member.postMessage('go');
  await ready;
  const result = await timed(bytes, async () => {
    const done = all();
    const begin = performance.now();
    Atomics.store(words, 0, 1);
    Atomics.notify(words, 0);
    await done;
    if (direction === 'write') fdatasyncSync(descriptor);
    return (performance.now() - begin) / 1000;
  });
  await Promise.all(members.map((member) => member.terminate()));
  closeSync(descriptor);
  return result;
}

async function engineRun(
  session: Session,
  direction: 'write' | 'read',
  { blockBytes, depth, order, bytes }: BenchCase,
): Promise<Timing> {
  const phase = direction === 'write' ? 'overwriting' : 'reading';
  const step = transferStep({
    direction,
    phase,
    pass: 1,
    bytes,
    blockBytes,
    depth,
    order,
    verify: order === 'sequential' && direction === 'read',
  });
  // Workers start and fill their pool with a first transfer that does not count.
  await session.execute({ ...step, bytes: blockBytes * depth }, () => undefined, UNHINDERED);
  return timed(bytes, async () => {
    const { transferSeconds, flushSeconds } = await session.execute(step, () => undefined, UNHINDERED);
    return transferSeconds + flushSeconds;
  });
}

/** One comparison: requests of a size, so many at a time, over so many bytes. */
export interface BenchCase {
  blockBytes: number;
  depth: number;
  order: 'sequential' | 'random';
  /** A power of two. */
  bytes: number;
}

export interface EngineRow extends BenchCase {
  direction: 'write' | 'read';
  /** Engine ÷ bare, median of the pairs. */
  ratio: number;
  bareBytesPerSecond: number;
  engineProcessor: number;
  bareProcessor: number;
}

/** Engine against bare loops, interleaved, on the disk that holds `folder`. */
export async function benchEngine(folder: string, cases: readonly BenchCase[]): Promise<EngineRow[]> {
  const home = mkdtempSync(join(folder, 'tavrox-bench-'));
  const worker = join(home, 'bare-worker.mjs');
  await build({
    entryPoints: [join(root, 'bench/bare-worker.ts')],
    outfile: worker,
    bundle: true,
    format: 'esm',
    platform: 'node',
  });
  const volumes = await discoverVolumes();
  const info = mountOf(home, volumes)!;
  const volume = realVolume(info, { all: volumes, journalFolder: join(home, 'journal') });
  const session = await volume.openSession({
    runId: 'bench',
    folder: home,
    readOnly: false,
    mayOnlyRead: false,
    readsFolder: false,
  });
  const rows: EngineRow[] = [];
  try {
    const bytes = Math.max(...cases.map((one) => one.bytes));
    const layOut: BenchCase = { blockBytes: 8 * MIB, depth: 2, order: 'sequential', bytes };
    await session.execute({ kind: 'allot', bytes }, () => undefined, UNHINDERED);
    const file = join(home, 'bare.bin');
    await bareRun(file, worker, 'write', layOut);
    await engineRun(session, 'write', layOut);
    for (const one of cases) {
      for (const direction of ['write', 'read'] as const) {
        const pairs: [Timing, Timing][] = [];
        for (let pair = 0; pair < PAIRS; pair += 1) {
          const bare = () => bareRun(file, worker, direction, one);
          const engine = () => engineRun(session, direction, one);
          // In turn first and second, so that a drift of the device favours neither.
          if (pair % 2 === 0) pairs.push([await bare(), await engine()]);
          else {
            const first = await engine();
            pairs.push([await bare(), first]);
          }
        }
        const of = (pick: (pair: [Timing, Timing]) => number) => median(pairs.map(pick));
        rows.push({
          ...one,
          direction,
          ratio: of(([bare, engine]) => engine.bytesPerSecond / bare.bytesPerSecond),
          bareBytesPerSecond: of(([bare]) => bare.bytesPerSecond),
          engineProcessor: of(([, engine]) => engine.processorSecondsPerGigabyte),
          bareProcessor: of(([bare]) => bare.processorSecondsPerGigabyte),
        });
      }
    }
  } finally {
    await session.close(false, () => undefined);
    rmSync(home, { recursive: true, force: true });
  }
  return rows;
}

export function engineLine({
  blockBytes,
  depth,
  order,
  direction,
  ratio,
  bareBytesPerSecond,
  engineProcessor,
  bareProcessor,
}: EngineRow): string[] {
  return [
    `${direction} ${blockText(blockBytes)}${order === 'random' ? ' random' : ''} depth ${depth}`,
    ratio.toFixed(3),
    `${Math.round(bareBytesPerSecond / 1e6)} MB/s`,
    `${engineProcessor.toFixed(2)} against ${bareProcessor.toFixed(2)} s/GB`,
  ];
}

export const DEFAULT_FOLDER = process.env['TAVROX_BENCH_FOLDER'] ?? tmpdir();
