import { closeSync, constants, fdatasyncSync, mkdtempSync, openSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import { build } from 'esbuild';
import { median } from '#core/trace/spread.ts';
import { blockText } from '#core/units/format.ts';
import { discoverVolumes } from '#engine/volumes/real/discovery.ts';
import { mountOf } from '#engine/volumes/real/mounts.ts';
import { realVolume } from '#engine/volumes/real/real-volume.ts';
import type { Session, TransferStep } from '#engine/volumes/volume.ts';
import type { BareInit } from './bare-worker.ts';
import { root } from '../e2e/support/app.ts';

const PAIRS = 7;
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
  blockBytes: number,
  depth: number,
  bytes: number,
): Promise<Timing> {
  const descriptor = openSync(file, constants.O_RDWR | constants.O_CREAT | constants.O_DIRECT, 0o600);
  const control = new SharedArrayBuffer(64);
  const words = new Int32Array(control);
  const workerData: BareInit = { control, descriptor, blockBytes, blocks: bytes / blockBytes, direction };
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
  blockBytes: number,
  depth: number,
  bytes: number,
): Promise<Timing> {
  const step: TransferStep = {
    kind: 'transfer',
    direction,
    phase: direction === 'write' ? 'overwriting' : 'reading',
    pass: 1,
    fromByte: 0,
    bytes,
    blockBytes,
    depth,
    untilSeconds: null,
    flush: direction === 'write',
    verify: direction === 'read',
    sampleSeconds: 0.1,
  };
  const signal = new AbortController().signal;
  // Workers start and fill their pool with a first transfer that does not count.
  await session.execute({ ...step, bytes: blockBytes * depth }, () => undefined, signal);
  return timed(bytes, async () => {
    const { transferSeconds, flushSeconds } = await session.execute(step, () => undefined, signal);
    return transferSeconds + flushSeconds;
  });
}

export interface EngineRow {
  blockBytes: number;
  depth: number;
  direction: 'write' | 'read';
  /** Engine ÷ bare, median of the pairs. */
  ratio: number;
  bareBytesPerSecond: number;
  engineProcessor: number;
  bareProcessor: number;
}

/** Engine against bare loops, interleaved, on the disk that holds `folder`. */
export async function benchEngine(
  folder: string,
  bytes: number,
  cases: readonly (readonly [number, number])[],
): Promise<EngineRow[]> {
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
  const session = await volume.openSession({ runId: 'bench', folder: home });
  const rows: EngineRow[] = [];
  try {
    await session.execute({ kind: 'allot', bytes }, () => undefined, new AbortController().signal);
    const file = join(home, 'bare.bin');
    await bareRun(file, worker, 'write', 8 * MIB, 2, bytes);
    await engineRun(session, 'write', 8 * MIB, 2, bytes);
    for (const [blockBytes, depth] of cases) {
      for (const direction of ['write', 'read'] as const) {
        const pairs: [Timing, Timing][] = [];
        for (let pair = 0; pair < PAIRS; pair += 1) {
          const bare = () => bareRun(file, worker, direction, blockBytes, depth, bytes);
          const engine = () => engineRun(session, direction, blockBytes, depth, bytes);
          // In turn first and second, so that a drift of the device favours neither.
          if (pair % 2 === 0) pairs.push([await bare(), await engine()]);
          else {
            const first = await engine();
            pairs.push([await bare(), first]);
          }
        }
        const of = (pick: (pair: [Timing, Timing]) => number) => median(pairs.map(pick));
        rows.push({
          blockBytes,
          depth,
          direction,
          ratio: of(([bare, engine]) => engine.bytesPerSecond / bare.bytesPerSecond),
          bareBytesPerSecond: of(([bare]) => bare.bytesPerSecond),
          engineProcessor: of(([, engine]) => engine.processorSecondsPerGigabyte),
          bareProcessor: of(([bare]) => bare.processorSecondsPerGigabyte),
        });
      }
    }
  } finally {
    await session.close();
    rmSync(home, { recursive: true, force: true });
  }
  return rows;
}

export function engineLine({
  blockBytes,
  depth,
  direction,
  ratio,
  bareBytesPerSecond,
  engineProcessor,
  bareProcessor,
}: EngineRow): string[] {
  return [
    `${direction} ${blockText(blockBytes)} depth ${depth}`,
    ratio.toFixed(3),
    `${Math.round(bareBytesPerSecond / 1e6)} MB/s`,
    `${engineProcessor.toFixed(2)} against ${bareProcessor.toFixed(2)} s/GB`,
  ];
}

export const DEFAULT_FOLDER = process.env['TAVROX_BENCH_FOLDER'] ?? tmpdir();
