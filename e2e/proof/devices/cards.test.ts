import { execFileSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { TRIED_AGAIN, printFurtherTries } from '../../support/tried-again.ts';
import { freeBytesAt, makeBlockDevice, whyNot } from '../../support/block-device.ts';
import { tavrox } from '../../support/cli.ts';

/** Questions about small cards: one that is full when the job is done, and one that cannot be written. */
let folder: string;
beforeAll(() => {
  folder = mkdtempSync('/dev/shm/tavrox-cards-');
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

printFurtherTries();

/** A moment in which a shared machine stands still leaves less to spare. */
const HELD = expect.stringMatching(/^(?:holds|tight)$/) as string;
const ask = (...args: string[]) => tavrox(join(folder, 'data'), ...args);

const reason = whyNot('ext4');
it.skipIf(reason !== undefined)(
  'answers for as much as fits on a card, and says when it is more',
  TRIED_AGAIN,
  async () => {
    const card = makeBlockDevice('ext4', folder, 400);
    try {
      const free = freeBytesAt(card.mountPoint);
      const check = (seconds: number) =>
        ask('check', card.mountPoint, '20 MB/s', '--for', `${seconds} s`, '--use-all', '--buffer', '8 s', '--json');
      // 20 MB/s for as long as it has room, less what is the filesystem's; and for three tenths longer.
      const seconds = Math.floor((free - 48e6 - 0.003 * free) / 20e6);
      const fits = await check(seconds);
      expect(fits.code, fits.stderr).toBe(0);
      expect(JSON.parse(fits.stdout)).toMatchObject({ verdict: HELD, bytesMoved: expect.any(Number) as number });
      const more = await check(Math.ceil(1.3 * seconds));
      expect(more.code, more.stderr).toBe(3);
      expect(JSON.parse(more.stdout)).toMatchObject({ verdict: 'breaks', bytesMoved: 0 });
      // As it is asked without the flag, there is no room at all.
      const careful = await ask('check', card.mountPoint, '20 MB/s', '--for', `${seconds} s`);
      expect(careful.code).toBe(3);
      expect(careful.stdout).toMatch(/None of it fits/);
    } finally {
      card.remove();
    }
  },
);

it.skipIf(reason !== undefined)(
  'what lies on a volume that cannot be written is played from it, file by file',
  async () => {
    const card = makeBlockDevice('ext4', folder, 400);
    try {
      // Frames that end in part blocks, of several sizes.
      const names = Array.from({ length: 200 }, (_, number) => `frame-${String(number).padStart(4, '0')}.raw`);
      for (const [number, name] of names.entries())
        writeFileSync(join(card.mountPoint, name), randomBytes(900_000 + 4096 * (number % 7)));
      execFileSync('mount', ['-o', 'remount,ro', card.mountPoint]);
      const play = (rate: string) =>
        ask('check', card.mountPoint, rate, '--for', '8 s', '--play', '--buffer', '6 s', '--within', '2min', '--json');
      const played = await play('20 MB/s');
      expect(played.code, played.stderr).toBe(0);
      expect(JSON.parse(played.stdout)).toMatchObject({ verdict: HELD });
      const recorded = await ask('check', card.mountPoint, '20 MB/s', '--for', '8 s');
      expect(recorded.code).toBe(2);
      expect(recorded.stderr).toMatch(/mounted read-only/);
      expect(
        readdirSync(card.mountPoint)
          .filter((name) => name !== 'lost+found')
          .sort(),
      ).toEqual(names);
    } finally {
      card.remove();
    }
  },
);
