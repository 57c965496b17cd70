import { execFileSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { mkdirSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { predictCopy } from '#core/5-answers/copies/predict.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { PROFILE_VERSION, profileRunOf, type Profile } from '#core/4-runs/supply/profile.ts';
import { predictedSeconds } from '#engine/testing/copied-drives.ts';
import { hashesIn } from '../../support/hashes.ts';
import { TRIED_AGAIN, printFurtherTries } from '../../support/tried-again.ts';
import { canHold, makeThrottledDevice } from '../../support/throttled-device.ts';

const profileFrom = (...runs: RunDocument[]): Profile => ({
  tavrox: PROFILE_VERSION,
  drive: runs[0]!.drive,
  connection: runs[0]!.connection,
  runs: runs.map((run) => profileRunOf(run)),
});

/** Truth from the kernel. */
describe.skipIf(!canHold)('copies between two devices held by the kernel', TRIED_AGAIN, () => {
  printFurtherTries();
  const GB = 1e9;
  const KNEE = 0.9 * GB;

  it('take what was predicted of their runs within five per cent, there through a knee and back', async () => {
    const [source, target] = [makeThrottledDevice('copy-a'), makeThrottledDevice('copy-b')];
    const other = target.device.deviceNumber;
    try {
      const day = join(source.mountPoint, 'day');
      mkdirSync(day);
      for (let file = 0; file < 6; file += 1) writeFileSync(join(day, `reel-${file}.mov`), randomBytes(250e6));
      source.limit(140e6);
      target.limit(300e6);
      // The drive falls when it has been given so much.
      const kneed = async <T>(hold: (rate: number) => void, going: Promise<T>): Promise<T> => {
        hold(300e6);
        const from = target.writtenBytes();
        const timer = setInterval(() => {
          if (target.writtenBytes() - from < KNEE) return;
          // Once: a limit that is set anew gives the bytes of a whole slice again.
          hold(60e6);
          clearInterval(timer);
        }, 20);
        return going.finally(() => clearInterval(timer));
      };
      const read = await source.measure('--recipe', 'existing-material', '--block', '1MiB');
      const fill = await kneed(
        target.limit,
        target.measure('--recipe', 'long-fill', '--size', '2GB', '--block', '1MiB'),
      );
      const [from, to] = [profileFrom(read), profileFrom(fill)];
      const payload = { bytes: 1.5 * GB, files: 6, parallelFiles: 2, verifies: false };
      // The loop devices hide that they are two drives.
      const predicted = predictCopy(payload, { ...from, drive: { ...from.drive, id: 'a' } }, [
        { ...to, drive: { ...to.drive, id: 'b' } },
      ])!;
      const run = await kneed(
        (rate) => source.limitOther(other, rate),
        source.measure(
          ...['--recipe', 'copy', '--what', 'folder', '--to', target.mountPoint],
          ...['--block', '1MiB', '--verify', 'checksums', '--back', '--keep', 'no'],
        ),
      );
      expect(run.failure).toBeNull();
      const [there, back] = run.copy!.legs;
      expect(there).toMatchObject({ wholeFiles: 6, from: 0, to: [1] });
      expect(Math.abs(predictedSeconds(predicted) / there!.copySeconds - 1)).toBeLessThan(0.05);
      // Back it is read at what the target has fallen to.
      expect(Math.abs((1.5 * GB) / 60e6 / back!.copySeconds - 1)).toBeLessThan(0.05);
      expect(readdirSync(target.mountPoint)).toEqual(['lost+found']);
      expect(run.doubts.map(({ code }) => code)).not.toContain('buffered');
    } finally {
      source.remove();
      target.remove();
    }
  });

  it('end with a sentence when a target fills up, and leave the source as it was', async () => {
    const [source, target] = [makeThrottledDevice('fail-a'), makeThrottledDevice('fail-b')];
    try {
      const day = join(source.mountPoint, 'day');
      mkdirSync(day);
      for (let file = 0; file < 4; file += 1) writeFileSync(join(day, `reel-${file}.mov`), randomBytes(100e6));
      const before = hashesIn(day);
      source.limit(100e6);
      const going = source.measure(
        '--recipe',
        'copy',
        '--what',
        'folder',
        '--to',
        target.mountPoint,
        '--block',
        '1MiB',
        '--keep',
        'no',
      );
      const from = target.writtenBytes();
      await expect.poll(() => target.writtenBytes() - from, { timeout: 30_000, interval: 20 }).toBeGreaterThan(60e6);
      // Somebody else takes nearly all the room there is.
      const free = Number(execFileSync('stat', ['-f', '-c', '%f', target.mountPoint], { encoding: 'utf8' }));
      const block = Number(execFileSync('stat', ['-f', '-c', '%S', target.mountPoint], { encoding: 'utf8' }));
      execFileSync('fallocate', ['-l', String(free * block - 50e6), join(target.mountPoint, 'other.bin')]);
      const run = await going;
      expect(run.state).toBe('failed');
      // Whoever is first: the copy that finds no room, or the look at what is free.
      expect(run.failure!.detail).toMatch(/^(The volume is full|Something else was written to) /);
      expect(hashesIn(day)).toEqual(before);
      expect(readdirSync(target.mountPoint).sort()).toEqual(['lost+found', 'other.bin']);
    } finally {
      source.remove();
      target.remove();
    }
  });
});
