import { execFileSync } from 'node:child_process';
import { chmodSync, mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { walkFolder, type Found, type WalkControl } from '#engine/folders/walk.ts';
import { fileSizesIn } from '#engine/volumes/real/existing.ts';
import { listPayload } from '#engine/volumes/real/copy/payload-files.ts';
import { system } from '#engine/system/this-system.ts';

let home: string;
beforeEach(() => {
  home = mkdtempSync(join(tmpdir(), 'walk-test-'));
});
afterEach(() => rmSync(home, { recursive: true, force: true }));

async function all(control?: WalkControl): Promise<Found[]> {
  const found: Found[] = [];
  for await (const one of walkFolder(home, control)) found.push(one);
  return found;
}

describe('a walk through a folder', () => {
  // Making links takes a right on Windows that few have.
  it.skipIf(system.name === 'Windows')(
    'goes in the order of names, folders before what is in them, and follows no link',
    async () => {
      mkdirSync(join(home, 'b'));
      writeFileSync(join(home, 'b', 'two'), '22');
      writeFileSync(join(home, 'a'), '1');
      writeFileSync(join(home, 'c'), '333');
      symlinkSync('/etc', join(home, 'link'));
      expect((await all()).map(({ kind, path }) => `${kind} ${path}`)).toEqual([
        'file a',
        'folder b',
        'file b/two',
        'file c',
        'link link',
      ]);
    },
  );

  it('has no bottom: what lies forty folders deep is sized as it is copied', async () => {
    const deep = join(home, ...Array.from({ length: 40 }, (_, level) => `level-${level}`));
    mkdirSync(deep, { recursive: true });
    writeFileSync(join(deep, 'far'), Buffer.alloc(5000));
    writeFileSync(join(home, 'near'), Buffer.alloc(10));
    expect(await fileSizesIn(home)).toEqual([10, 5000]);
    expect((await listPayload(home)).files.map(({ bytes }) => bytes).sort()).toEqual([10, 5000]);
  });

  it.skipIf(system.name !== 'Linux')('tells of what it passes over', async () => {
    execFileSync('mkfifo', [join(home, 'pipe')]);
    writeFileSync(Buffer.concat([Buffer.from(`${home}/odd-`), Buffer.from([0xff])]), 'x');
    const passed = (await all()).flatMap((one) => (one.kind === 'passed-over' ? one.why : []));
    expect(passed.sort()).toEqual([
      'It is a device, a pipe or a socket, and holds no data.',
      'Its name is no UTF-8 text, and could not be written again as it is.',
    ]);
  });

  it.skipIf(process.getuid?.() === 0 || !system.hasFileModes)('tells of a folder that may not be listed', async () => {
    mkdirSync(join(home, 'closed'));
    chmodSync(join(home, 'closed'), 0o000);
    expect((await all()).at(-1)).toMatchObject({ kind: 'passed-over', path: 'closed' });
    chmodSync(join(home, 'closed'), 0o700);
  });

  it('passes over what is noted as Tavrox’s own, and nothing for its name alone', async () => {
    for (const name of ['tavrox-scratch-ours', 'tavrox-scratch-evil']) {
      mkdirSync(join(home, name));
      writeFileSync(join(home, name, 'data-0.bin'), 'data');
    }
    const own = new Set([join(home, 'tavrox-scratch-ours')]);
    expect(await all({ own })).toMatchObject([
      { kind: 'folder', path: 'tavrox-scratch-evil' },
      { kind: 'file', path: 'tavrox-scratch-evil/data-0.bin' },
      { kind: 'passed-over', path: 'tavrox-scratch-ours', why: 'It is scratch space of Tavrox’s own.' },
    ]);
    // A copy tells what it leaves out.
    expect((await listPayload(home, { own })).notes).toMatchObject([{ kind: 'skipped', path: 'tavrox-scratch-ours' }]);
  });

  it('counts more names than fit at a time, each once', async () => {
    const names = Array.from({ length: 500 }, (_, number) => `file-${String(number).padStart(3, '0')}`);
    for (const name of names) writeFileSync(join(home, name), name);
    expect((await all()).map(({ path }) => path)).toEqual(names);
  });

  it('ends when it is no longer wanted', async () => {
    for (let number = 0; number < 200; number += 1) writeFileSync(join(home, `f-${number}`), '');
    const stop = new AbortController();
    let seen = 0;
    const walk = async () => {
      for await (const one of walkFolder(home, { signal: stop.signal })) {
        seen += one.path === '' ? 0 : 1;
        stop.abort();
      }
    };
    await expect(walk()).rejects.toThrow(/abort/i);
    expect(seen).toBe(1);
  });
});
