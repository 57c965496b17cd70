import { readdirSync } from 'node:fs';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import type { RunSummary } from '#core/4-runs/supply/run-summary.ts';
import { removeFolder, temporaryFolder } from '../../support/app.ts';
import { tavrox } from '../../support/cli.ts';
import { canFail, makeFailingDisk, type FailingDisk } from '../../support/failing-disk.ts';
import { cleanUpScratch } from '#engine/scratch/left.ts';
import { journalFolderOf } from '#server/serve.ts';

const [EIO, ENOSPC] = [5, 28];

/** A disk that fails in the middle of a run, as disks do: what is said, what is kept, and what stays. */
describe.skipIf(!canFail)('a disk that fails under the run', () => {
  let data: string;
  let disk: FailingDisk;
  beforeAll(() => {
    data = temporaryFolder('failing-data');
  });
  beforeEach(async () => {
    disk = await makeFailingDisk();
  });
  afterEach(() => disk.remove());
  afterAll(() => removeFolder(data));

  async function fill(...args: string[]): Promise<{ code: number; run: RunDocument & RunSummary }> {
    const flags = ['--recipe', 'long-fill', '--size', '150MB', '--block', '1MiB', '--until-floor', 'no', '--json'];
    const { code, stdout } = await tavrox(data, 'measure', disk.mountPoint, ...flags, ...args);
    return { code, run: JSON.parse(stdout) as RunDocument & RunSummary };
  }

  const cleanUp = async () => (await cleanUpScratch(journalFolderOf(data), () => false)).map(({ removal }) => removal);

  it('writing: says so, keeps what was measured and leaves nothing', async () => {
    disk.fail({ after: { written: 100e6 }, then: { write: EIO } });
    const { code, run } = await fill();
    expect(code).toBe(1);
    expect(run.failure!.detail).toMatch(/^The drive reported a read or write error while writing at byte \d+ on /);
    expect(run.figures.write!.bytes).toBeGreaterThan(60e6);
    expect(run.figures.write!.bytes).toBeLessThanOrEqual(102e6);
    expect(readdirSync(disk.mountPoint)).toEqual([]);
  });

  it('reading: the same, and what was written stands; what cannot be looked at stays until it can', async () => {
    disk.fail({ after: { read: 60e6 }, then: { read: EIO } });
    const { code, run } = await fill('--read-back');
    expect(code).toBe(1);
    expect(run.failure!.detail).toMatch(/read or write error while reading/);
    expect(run.figures.write!.bytes).toBeGreaterThanOrEqual(150e6);
    expect(run.figures.read!.bytes).toBeLessThanOrEqual(62e6);
    // The scratch's own marker cannot be read either.
    expect(await cleanUp()).toEqual([{ is: 'failed', why: 'The drive reported a read or write error.' }]);
    disk.fail(null);
    expect(await cleanUp()).toEqual([{ is: 'removed' }]);
    expect(readdirSync(disk.mountPoint)).toEqual([]);
  });

  it('when it is asked whether all has arrived: nothing of that counts as written', async () => {
    disk.fail({ after: { written: 100e6 }, then: { flush: EIO } });
    const { code, run } = await fill();
    expect(code).toBe(1);
    expect(run.failure!.detail).toMatch(/The drive reported a read or write error/);
    expect(readdirSync(disk.mountPoint)).toEqual([]);
  });

  it('by being full although it said that it has room', async () => {
    disk.fail({ after: { written: 100e6 }, then: { write: ENOSPC } });
    const { code, run } = await fill();
    expect(code).toBe(1);
    expect(run.failure!.detail).toMatch(/^The volume is full while writing .*; free some space, or measure less\.$/);
    expect(readdirSync(disk.mountPoint)).toEqual([]);
  });

  it('by letting nothing be changed any more: what stays is listed with why, and goes once it can', async () => {
    // Kernels do so on their own when a filesystem has an error.
    disk.fail({ after: { written: 60e6 }, then: { readOnly: true } });
    const { code, run } = await fill();
    expect(code).toBe(1);
    expect(run.failure!.detail).toMatch(/read-only/);
    expect(readdirSync(disk.mountPoint)).toHaveLength(1);
    expect(await cleanUp()).toMatchObject([{ is: 'failed', why: 'Its volume is mounted read-only.' }]);
    disk.fail(null);
    expect(await cleanUp()).toMatchObject([{ is: 'removed' }]);
    expect(readdirSync(disk.mountPoint)).toEqual([]);
  });

  it('by being pulled out: the run ends at once and says so', async () => {
    disk.fail({ after: { written: 60e6 }, then: { gone: true } });
    const { code, run } = await fill();
    expect(code).toBe(1);
    expect(run.failure!.detail).toMatch(/^The (drive|volume) .*(is gone|taken off)/);
  });

  it('by standing still for a while: the run waits and shows it', async () => {
    disk.fail({ after: { written: 60e6 }, then: { pauseMilliseconds: 2500 } });
    const { code, run } = await fill();
    expect(code).toBe(0);
    expect(run.figures.write!.latencyMaxSeconds).toBeGreaterThan(2.4);
    const { atSeconds, cumulativeBytes } = run.samples;
    const still = atSeconds.filter((_, row) => row > 0 && cumulativeBytes[row] === cumulativeBytes[row - 1]).length;
    expect(still).toBeGreaterThan(10);
  });
});
