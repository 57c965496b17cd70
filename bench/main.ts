import { cpus, totalmem } from 'node:os';
import { rmSync } from 'node:fs';
import { tableLines } from '#cli/output.ts';
import { benchEngine, DEFAULT_FOLDER, engineLine } from './engine.ts';
import { benchApplication } from './application.ts';
import { makeBlockDevice, whyNot } from '../e2e/support/block-device.ts';
import { temporaryFolder } from '../e2e/support/app.ts';

const MIB = 1024 * 1024;
const LARGE = [
  [MIB, 1],
  [MIB, 4],
  [8 * MIB, 1],
  [8 * MIB, 4],
] as const;

const print = (lines: string[]) => process.stdout.write(`${lines.join('\n')}\n\n`);

print([
  `${cpus().length} processors (${cpus()[0]?.model ?? 'unknown'}), ${Math.round(totalmem() / 1e9)} GB of memory, Node ${process.version}`,
]);

const header = ['engine against bare loops', 'ratio', 'bare loop', 'processor, engine against bare'];
const onDisk = await benchEngine(DEFAULT_FOLDER, 768 * MIB, LARGE);
print([`On the disk that holds ${DEFAULT_FOLDER}`, ...tableLines([header, ...onDisk.map(engineLine)])]);

if (whyNot('ext4') === undefined) {
  const folder = temporaryFolder('bench-device').replace(/^\/tmp/, '/dev/shm');
  const device = makeBlockDevice('ext4', folder, 5000);
  try {
    const onDevice = await benchEngine(device.mountPoint, 1024 * MIB, LARGE);
    print(['On a block device in memory (ext4)', ...tableLines([header, ...onDevice.map(engineLine)])]);
  } finally {
    device.remove();
    rmSync(folder, { recursive: true, force: true });
  }
}

print(['The application', ...tableLines([['what', 'measured', 'asked for'], ...(await benchApplication())])]);
