import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import type { RunSummary } from '#core/4-runs/supply/run-summary.ts';
import { FILESYSTEMS, freeBytesAt, makeBlockDevice, whyNot, type BlockDevice } from '../support/block-device.ts';
import { tavrox } from '../support/cli.ts';

/** Small cards of which nothing is left alone: filled to their end, read back, given back. */
let folder: string;
beforeAll(() => {
  folder = mkdtempSync('/dev/shm/tavrox-card-');
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const ask = (...args: string[]) => tavrox(join(folder, 'data'), ...args);

for (const filesystem of FILESYSTEMS) {
  const reason = whyNot(filesystem);
  describe.skipIf(reason !== undefined)(`a card with ${filesystem}${reason ? ` (${reason})` : ''}`, () => {
    let card: BlockDevice;
    beforeAll(() => {
      card = makeBlockDevice(filesystem, folder, 700);
    });
    afterAll(() => card.remove());

    it('is left alone below its reserve, and filled to its end where nothing else is kept on it', async () => {
      const free = freeBytesAt(card.mountPoint);
      const fill = ['measure', card.mountPoint, '--recipe', 'long-fill', '--until-floor', 'no', '--read-back', 'yes'];
      const refused = await ask(...fill);
      expect(refused.code).toBe(2);
      expect(refused.stderr).toMatch(/always left alone/);
      const { code, stdout, stderr } = await ask(...fill, '--use-all', '--json');
      expect(code, stderr).toBe(0);
      const run = JSON.parse(stdout) as RunDocument & RunSummary;
      expect(run.state).toBe('finished');
      // 48 MB and 3 of each 1,000 bytes are the filesystem's own.
      expect(run.figures.write!.bytes).toBeGreaterThan(free - 48e6 - 0.003 * free - 2 * 16 * 1024 ** 2);
      expect(run.figures.read!.bytes).toBe(run.figures.write!.bytes);
      expect(run.conditions.verification.mismatches).toEqual([]);
      expect(readdirSync(card.mountPoint).filter((name) => name.startsWith('tavrox'))).toEqual([]);
      // What the filesystem took for its books it may keep.
      await expect.poll(() => freeBytesAt(card.mountPoint), { timeout: 60_000 }).toBeGreaterThan(free - 48e6);
    });
  });
}

it('is never the disk of the system', async () => {
  const { code, stderr } = await ask('measure', '/', '--use-all');
  expect(code).toBe(2);
  expect(stderr).toMatch(/may not be filled to its end/);
});
