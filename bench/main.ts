import { cpus, totalmem } from 'node:os';
import { rmSync } from 'node:fs';
import { benchCopies, copyLine } from './copies.ts';
import { benchEngine, DEFAULT_FOLDER, engineLine, type BenchCase } from './engine.ts';
import { benchReading, benchStandIns } from './simulation.ts';
import { benchApplication } from './application.ts';
import { benchSizing } from './sizing.ts';
import { benchVerdicts } from './verdicts.ts';
import { makeBlockDevice, whyNot } from '../e2e/support/block-device.ts';
import { temporaryFolder } from '../e2e/support/app.ts';

const MIB = 1024 * 1024;
const GIB = 1024 * MIB;
const sequential = (blockBytes: number, depth: number, bytes: number): BenchCase => ({
  blockBytes,
  depth,
  order: 'sequential',
  bytes,
});
const random = (depth: number): BenchCase => ({ blockBytes: 4096, depth, order: 'random', bytes: 128 * MIB });
const CASES: readonly BenchCase[] = [
  random(1),
  random(4),
  random(16),
  sequential(64 * 1024, 1, 512 * MIB),
  sequential(64 * 1024, 4, 512 * MIB),
  sequential(MIB, 1, GIB),
  sequential(MIB, 4, GIB),
  sequential(8 * MIB, 1, GIB),
  sequential(8 * MIB, 4, GIB),
];

/** A table as docs/performance.md holds it: the first row is its head. */
const table = ([head = [], ...rows]: readonly (readonly string[])[]): string =>
  [head, head.map(() => '---'), ...rows].map((row) => `| ${row.join(' | ')} |`).join('\n');
const print = (...parts: string[]) => process.stdout.write(`${parts.join('\n\n')}\n\n`);

const machine = `${cpus().length} processors (${cpus()[0]?.model ?? 'unknown'}), ${Math.round(totalmem() / 1e9)} GB of memory, Node ${process.version}`;
print(`## ${new Date().toISOString().slice(0, 10)}: ${machine}`);

async function engine(): Promise<void> {
  const header = ['engine against bare loops', 'ratio', 'bare loop', 'processor, engine against bare'];
  const onDisk = await benchEngine(DEFAULT_FOLDER, CASES);
  print(`On the disk that holds ${DEFAULT_FOLDER}:`, table([header, ...onDisk.map(engineLine)]));
  if (whyNot('ext4') !== undefined) return;
  const folder = temporaryFolder('bench-device').replace(/^\/tmp/, '/dev/shm');
  const device = makeBlockDevice('ext4', folder, 5000);
  try {
    const onDevice = await benchEngine(device.mountPoint, CASES);
    print('On a block device in memory (ext4):', table([header, ...onDevice.map(engineLine)]));
  } finally {
    device.remove();
    rmSync(folder, { recursive: true, force: true });
  }
}

/** The tables by their names: `npm run bench -- verdicts application` prints two of them. */
const TABLES: Record<string, () => Promise<void>> = {
  engine,
  async copies() {
    const rows = await benchCopies(DEFAULT_FOLDER);
    print(table([['copies against a plain loop', 'ratio', 'plain loop', ''], ...rows.map(copyLine)]));
  },
  async traces() {
    print(table([['stand-ins and trace reading', 'measured'], ...benchReading(), ...(await benchStandIns())]));
  },
  async verdicts() {
    print(table([['verdicts', 'measured'], ...benchVerdicts()]));
  },
  async sizing() {
    print(table([['sizing', 'measured', 'asked for'], ...benchSizing()]));
  },
  async application() {
    print(table([['the application', 'measured', 'asked for'], ...(await benchApplication())]));
  },
};

const asked = process.argv.slice(2);
const unknown = asked.filter((name) => !Object.hasOwn(TABLES, name));
if (unknown.length > 0) throw new Error(`No table ${unknown.join(', ')}; there are ${Object.keys(TABLES).join(', ')}.`);
for (const [name, tableOf] of Object.entries(TABLES)) if (asked.length === 0 || asked.includes(name)) await tableOf();
