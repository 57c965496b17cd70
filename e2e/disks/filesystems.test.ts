import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import type { RunSummary } from '#core/4-runs/supply/run-summary.ts';
import { FILESYSTEMS, makeBlockDevice, whyNot, type BlockDevice } from '../support/block-device.ts';
import { tavrox } from '../support/cli.ts';
import { system } from '#engine/system/this-system.ts';

/** The proof of the bypass on real block devices with the filesystems people use. */
let folder: string;
beforeAll(() => {
  folder = mkdtempSync('/dev/shm/tavrox-filesystems-');
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

async function measure(path: string): Promise<RunDocument & RunSummary> {
  const { code, stdout, stderr } = await tavrox(
    join(folder, 'data'),
    'measure',
    path,
    '--size',
    '96MB',
    '--passes',
    '2',
    '--block',
    '1MiB',
    '--json',
  );
  expect(code, stderr).toBe(0);
  return JSON.parse(stdout) as RunDocument & RunSummary;
}

/** Filesystems that keep direct requests out of the system's cache, overwriting what is allocated. */
const DIRECT = ['ext4', 'xfs', 'vfat', 'exfat'];

for (const filesystem of FILESYSTEMS) {
  const reason = whyNot(filesystem);
  describe.skipIf(reason !== undefined)(`on ${filesystem}${reason === undefined ? '' : ` (${reason})`}`, () => {
    let device: BlockDevice;
    beforeAll(() => {
      device = makeBlockDevice(filesystem, folder);
    });
    afterAll(() => device.remove());

    it('proves from the device’s own counters where the bytes went', async () => {
      const run = await measure(device.mountPoint);
      expect(run.volume.filesystem).toBe(filesystem);
      expect(run.conditions.verification.mismatches).toEqual([]);
      const rows = run.conditions.bypass.filter((row) => row.direction === 'write');
      expect(rows).toHaveLength(2);
      for (const row of rows) expect(row.deviceBytesAfterFlush! / row.ownBytes).toBeGreaterThan(0.95);
      const codes = run.doubts.map((doubt) => doubt.code);
      // What did not reach the device, or did not come from it, must have raised its doubt.
      for (const direction of ['write', 'read'] as const) {
        const own = run.conditions.bypass.filter((row) => row.direction === direction);
        const share =
          own.reduce((sum, row) => sum + row.deviceBytes!, 0) / own.reduce((sum, row) => sum + row.ownBytes, 0);
        if (DIRECT.includes(filesystem) && direction === 'read') expect(share).toBeGreaterThan(0.95);
        if (share < 0.95) expect(codes).toContain(direction === 'write' ? 'buffered' : 'memory-read');
        else expect(codes).not.toContain(direction === 'write' ? 'buffered' : 'memory-read');
      }
      expect(readdirSync(device.mountPoint).filter((name) => name.startsWith('tavrox'))).toEqual([]);
    });
  });
}

describe.skipIf(system.name !== 'Linux')('on a memory disk', () => {
  it('says that nothing reached a drive', async () => {
    const run = await measure(folder);
    expect(run.drive.medium).toBe('memory');
    expect(run.conditions.ioMode).toBe('memory');
  });
});
