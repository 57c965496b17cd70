import { execFileSync, spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';
import {
  appendFileSync,
  existsSync,
  mkdtempSync,
  readdirSync,
  rmSync,
  statfsSync,
  truncateSync,
  unlinkSync,
} from 'node:fs';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import type { RunSummary } from '#core/4-runs/supply/run-summary.ts';
import { removeFolder, root, temporaryFolder } from '../../support/app.ts';
import { makeBlockDevice, whyNot } from '../../support/block-device.ts';
import { tavrox } from '../../support/cli.ts';
import { cleanUpScratch } from '#engine/scratch/left.ts';
import { mountPointsNow } from '#engine/volumes/real/discovery.ts';
import { journalFolderOf } from '#server/serve.ts';
import { canHold, makeThrottledDevice } from '../../support/throttled-device.ts';
import { system } from '#engine/system/this-system.ts';

/** Faults as they happen: full, gone and failing under the run. */
let data: string;
beforeAll(() => {
  data = temporaryFolder('faults-data');
});
afterAll(() => removeFolder(data));

async function measure(
  folder: string,
  ...args: string[]
): Promise<{ code: number | null; run: RunDocument & RunSummary }> {
  const { code, stdout } = await tavrox(data, 'measure', folder, '--json', ...args);
  return { code, run: JSON.parse(stdout) as RunDocument & RunSummary };
}

async function untilThere(path: () => string | undefined): Promise<string> {
  for (;;) {
    const found = path();
    if (found !== undefined && existsSync(found)) return found;
    await wait(10);
  }
}

const freeBytesOn = (folder: string): number => {
  const { bavail, bsize } = statfsSync(folder);
  return bavail * bsize;
};

const scratchIn = (folder: string): string | undefined => {
  const name = readdirSync(folder).find((one) => one.startsWith('tavrox-scratch-'));
  return name === undefined ? undefined : join(folder, name);
};

describe.skipIf(whyNot('ext4') !== undefined)('a volume that somebody else fills under the run', () => {
  it('ends it before the reserve is used, keeps what was measured and leaves nothing', async () => {
    const folder = mkdtempSync('/dev/shm/tavrox-full-');
    execFileSync('mount', ['-t', 'tmpfs', '-o', 'size=2600M', 'tavrox-full', folder]);
    try {
      const stream = ['--stream', 'record 1MB 50', '--seconds', '10'];
      const going = measure(folder, '--recipe', 'paced-frames', ...stream);
      const scratch = await untilThere(() => scratchIn(folder));
      await untilThere(() => join(scratch, 'data-0.bin'));
      await wait(1500);
      // Somebody else takes what the run may use, a little at a time, until the run has given back its own.
      let least = Infinity;
      while (existsSync(scratch)) {
        if (freeBytesOn(folder) > 2e9) appendFileSync(join(folder, 'other.bin'), Buffer.alloc(8e6));
        least = Math.min(least, freeBytesOn(folder));
        await wait(5);
      }
      const { code, run } = await going;
      expect(code).toBe(1);
      expect(run.failure!.detail).toMatch(/^Something else was written to .* are free, and 2.GB have to stay so\./);
      expect(least).toBeGreaterThan(1.9e9);
      expect(run.frames.dueSeconds.length).toBeGreaterThan(25);
      expect(readdirSync(folder)).toEqual(['other.bin']);
    } finally {
      execFileSync('umount', ['--lazy', folder]);
      rmSync(folder, { recursive: true });
    }
  });
});

describe.skipIf(system.name !== 'Linux')('a file that goes under the run', () => {
  it('ends it with a sentence and leaves nothing', async () => {
    const folder = temporaryFolder('gone');
    try {
      const going = measure(folder, '--recipe', 'paced-frames', '--stream', 'play 100kB 20 files', '--seconds', '6');
      const file = await untilThere(() => {
        const scratch = scratchIn(folder);
        return scratch === undefined ? undefined : join(scratch, 'frames-0', 'n-110.bin');
      });
      unlinkSync(file);
      const { code, run } = await going;
      expect(code).toBe(1);
      expect(run.failure!.detail).toMatch(/^A file is gone while reading/);
      expect(readdirSync(folder)).toEqual([]);
    } finally {
      removeFolder(folder);
    }
  });
});

describe.skipIf(whyNot('ext4') !== undefined)('a volume that is taken off under the run', () => {
  it('ends it with a sentence, and leaves nothing on it once it is back, at whatever device', async () => {
    const folder = mkdtempSync('/dev/shm/tavrox-taken-off-');
    const device = makeBlockDevice('ext4', folder);
    const journal = journalFolderOf(data);
    const cleanUp = () => cleanUpScratch(journal, () => false);
    let spare: string | undefined;
    try {
      const stream = ['--stream', 'record 100kB 25', '--seconds', '4'];
      const going = measure(device.mountPoint, '--recipe', 'paced-frames', ...stream);
      const scratch = await untilThere(() => scratchIn(device.mountPoint));
      await untilThere(() => join(scratch, 'data-0.bin'));
      execFileSync('umount', ['--lazy', device.mountPoint]);
      const { code, run } = await going;
      expect(code).toBe(1);
      expect(run.failure!.detail).toMatch(/was taken off \(unmounted\) while the run went on/);
      const [identity, medium] = [run.drive.identity, run.drive.medium];
      expect(identity.kind).toBe('filesystem');
      // A device that is a file in memory is as quick as that.
      expect(medium).toBe('memory');
      // What it left is waited for while its mount point is an empty folder.
      expect((await cleanUp())[0]?.removal.is).toBe('absent');
      // Back at another device node.
      spare = execFileSync('losetup', ['--find', '--show', join(folder, 'ext4.img')], { encoding: 'utf8' }).trim();
      execFileSync('mount', [spare, device.mountPoint]);
      expect((await cleanUp())[0]?.removal.is).toBe('removed');
      expect(readdirSync(device.mountPoint)).toEqual(['lost+found']);
      const again = await measure(device.mountPoint, '--recipe', 'paced-frames', ...stream);
      expect(again.run.drive.identity).toEqual(identity);
    } finally {
      if (spare) execFileSync('umount', [device.mountPoint]);
      const attached = execFileSync('losetup', ['-j', join(folder, 'ext4.img'), '-n', '-O', 'NAME'], {
        encoding: 'utf8',
      });
      for (const loop of attached.split('\n').filter(Boolean)) execFileSync('losetup', ['-d', loop.trim()]);
      rmSync(folder, { recursive: true, force: true });
    }
  });
});

describe.skipIf(whyNot('ext4') !== undefined)('a volume whose run was killed, and that comes back elsewhere', () => {
  it('is cleaned up there, from its top folder', async () => {
    const folder = mkdtempSync('/dev/shm/tavrox-killed-');
    const device = makeBlockDevice('ext4', folder);
    const elsewhere = mkdtempSync('/dev/shm/tavrox-elsewhere-');
    const attached = ['-j', join(folder, 'ext4.img'), '-n', '-O', 'NAME'];
    const loop = execFileSync('losetup', attached, { encoding: 'utf8' }).trim();
    const cleanUp = async () =>
      (await cleanUpScratch(journalFolderOf(data), () => false, mountPointsNow)).map(({ removal }) => removal.is);
    try {
      const args = ['measure', device.mountPoint, '--recipe', 'paced-frames', '--stream', 'record 1MB 50'];
      const child = spawn(process.execPath, ['bin/tavrox.js', ...args, '--seconds', '20'], {
        cwd: root,
        env: { ...process.env, TAVROX_DATA: data, TAVROX_LOCKS: join(data, 'locks') },
        stdio: 'ignore',
      });
      const scratch = await untilThere(() => scratchIn(device.mountPoint));
      await untilThere(() => join(scratch, 'data-0.bin'));
      child.kill('SIGKILL');
      await once(child, 'exit');
      execFileSync('umount', [device.mountPoint]);
      // Its mount point is an empty folder now.
      expect(await cleanUp()).toEqual(['absent']);
      execFileSync('mount', [loop, elsewhere]);
      expect(await cleanUp()).toEqual(['removed']);
      expect(readdirSync(elsewhere)).toEqual(['lost+found']);
      expect(await cleanUp()).toEqual([]);
    } finally {
      // One of them is mounted, whatever failed.
      for (const one of [device.mountPoint, elsewhere]) spawnSync('umount', [one]);
      execFileSync('losetup', ['-d', loop]);
      for (const one of [folder, elsewhere]) rmSync(one, { recursive: true, force: true });
    }
  });
});

describe.skipIf(!canHold)('a device that fails under the run', () => {
  it('ends it with a sentence and keeps what was measured', async () => {
    const rig = makeThrottledDevice('failing');
    try {
      rig.limit(100e6);
      const before = rig.readBytes();
      const going = rig.measure('--recipe', 'long-fill', '--size', '600MB', '--read-back', '--block', '1MiB');
      while (rig.readBytes() - before < 100e6) await wait(20);
      // The image behind the device is cut off: reads beyond it fail.
      truncateSync(rig.image, 20e6);
      const run = await going;
      expect(run.failure!.detail).toMatch(/reported a read or write error|ended early/);
      expect(run.figures.write!.bytes).toBeGreaterThanOrEqual(600e6);
      expect(run.figures.read!.bytes).toBeGreaterThan(50e6);
    } finally {
      rig.remove();
    }
  });
});
