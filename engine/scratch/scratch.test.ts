import {
  chmodSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  renameSync,
  rmSync,
  symlinkSync,
  writeFileSync,
  writeSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { cleanUpScratch, listKept, makeScratch, removeKept } from '#engine/scratch/scratch.ts';

let home: string;
let parent: string;
let journal: string;
const never = () => false;

beforeEach(() => {
  home = mkdtempSync(join(tmpdir(), 'scratch-test-'));
  parent = join(home, 'drive');
  journal = join(home, 'journal');
  mkdirSync(parent);
  writeFileSync(join(parent, 'precious.txt'), 'theirs');
});
afterEach(() => rmSync(home, { recursive: true, force: true }));

describe('scratch folders', () => {
  it('leave nothing behind, and nothing else touched', async () => {
    const scratch = await makeScratch(parent, 'run1', journal);
    writeSync(scratch.createFile(0), 'data');
    expect(readdirSync(scratch.folder).sort()).toEqual(['data-0.bin', 'tavrox-scratch.json']);
    await scratch.remove();
    expect(readdirSync(parent)).toEqual(['precious.txt']);
    expect(readdirSync(journal)).toEqual([]);
  });

  it('are removed at the next start after a crash, but not those still in use', async () => {
    (await makeScratch(parent, 'crashed', journal)).createFile(0);
    await makeScratch(parent, 'going-on', journal);
    expect((await cleanUpScratch(journal, (run) => run === 'going-on')).map((one) => one.removal)).toEqual(['removed']);
    expect(readdirSync(parent).sort()).toEqual(['precious.txt', 'tavrox-scratch-going-on']);
  });

  it('of another process that lives are left to it', async () => {
    const scratch = await makeScratch(parent, 'run1', journal);
    const note = join(journal, 'run1.json');
    const entry = JSON.parse(readFileSync(note, 'utf8')) as object;
    writeFileSync(note, JSON.stringify({ ...entry, owner: { pid: process.ppid, startTicks: '' } }));
    expect(await cleanUpScratch(journal, never)).toEqual([]);
    expect(existsSync(scratch.folder)).toBe(true);
  });

  it('never replace a folder that is already there', async () => {
    mkdirSync(join(parent, 'tavrox-scratch-run1'));
    writeFileSync(join(parent, 'tavrox-scratch-run1', 'film.mov'), 'theirs');
    await expect(makeScratch(parent, 'run1', journal)).rejects.toThrow(/No scratch folder could be made/);
    expect(existsSync(join(parent, 'tavrox-scratch-run1', 'film.mov'))).toBe(true);
  });

  it('with folders of numbered files go whole, and only such', async () => {
    const scratch = await makeScratch(parent, 'run1', journal);
    const frames = scratch.createFolder('frames-0');
    writeFileSync(join(frames, 'n-12.bin'), 'ours');
    scratch.createFolder('files');
    writeFileSync(join(scratch.createFolder('files/f-3'), 'n-4.bin'), 'ours');
    await scratch.remove();
    expect(readdirSync(parent)).toEqual(['precious.txt']);
  });

  it.each([
    ['a stranger’s file among the numbered', 'frames-0', 'holiday.jpg'],
    ['a folder of another name', 'photos', 'n-1.bin'],
  ])('are left whole for %s', async (_name, folder, file) => {
    const scratch = await makeScratch(parent, 'run1', journal);
    scratch.createFile(0);
    mkdirSync(join(scratch.folder, folder));
    writeFileSync(join(scratch.folder, folder, file), 'theirs');
    await scratch.remove();
    expect(existsSync(join(scratch.folder, folder, file))).toBe(true);
    expect(existsSync(join(scratch.folder, 'data-0.bin'))).toBe(true);
  });

  it('that are kept stay over starts, are listed, and are forgotten when somebody removed them', async () => {
    const scratch = await makeScratch(parent, 'run1', journal);
    writeSync(scratch.createFile(0), 'data');
    await scratch.keep({ driveLabel: 'Petrel', bytes: 4, keptAt: '2026-03-02T09:00:00.000Z' });
    expect(await cleanUpScratch(journal, never)).toEqual([]);
    expect(await listKept(journal)).toMatchObject([{ runId: 'run1', bytes: 4, folder: scratch.folder }]);
    rmSync(scratch.folder, { recursive: true });
    await cleanUpScratch(journal, never);
    expect(await listKept(journal)).toEqual([]);
  });

  it('that hold a stranger’s file are left alone', async () => {
    const scratch = await makeScratch(parent, 'run1', journal);
    writeFileSync(join(scratch.folder, 'film.mov'), 'theirs');
    expect((await cleanUpScratch(journal, never))[0]?.removal).toBe('not-ours');
    expect(existsSync(join(scratch.folder, 'film.mov'))).toBe(true);
  });

  it('are not looked for behind a link', async () => {
    const scratch = await makeScratch(parent, 'run1', journal);
    const elsewhere = join(home, 'elsewhere');
    rmSync(scratch.folder, { recursive: true });
    mkdirSync(elsewhere);
    writeFileSync(join(elsewhere, 'data-0.bin'), 'theirs');
    symlinkSync(elsewhere, scratch.folder);
    expect((await cleanUpScratch(journal, never))[0]?.removal).toBe('not-ours');
    expect(existsSync(join(elsewhere, 'data-0.bin'))).toBe(true);
  });

  it('on an unplugged drive are waited for', async () => {
    await makeScratch(parent, 'run1', journal);
    const away = join(home, 'unplugged');
    renameSync(parent, away);
    expect((await cleanUpScratch(journal, never))[0]?.removal).toBe('absent');
    renameSync(away, parent);
    expect((await cleanUpScratch(journal, never))[0]?.removal).toBe('removed');
    expect(readdirSync(parent)).toEqual(['precious.txt']);
  });

  it('are waited for while something else lies at the drive’s place, kept ones too', async () => {
    const scratch = await makeScratch(parent, 'run1', journal);
    const kept = await makeScratch(parent, 'run2', journal);
    await kept.keep({ driveLabel: 'Petrel', bytes: 4, keptAt: '2026-03-02T09:00:00.000Z' });
    expect(scratch.isThere()).toBe(true);
    // A mount point without its drive is an empty folder of the same name.
    const away = join(home, 'taken-off');
    renameSync(parent, away);
    mkdirSync(parent);
    expect(scratch.isThere()).toBe(false);
    expect((await cleanUpScratch(journal, never))[0]?.removal).toBe('absent');
    expect(await listKept(journal)).toMatchObject([{ runId: 'run2' }]);
    rmSync(parent, { recursive: true });
    renameSync(away, parent);
    expect((await cleanUpScratch(journal, never))[0]?.removal).toBe('removed');
    expect(await removeKept(journal, 'run2')).toBe('removed');
    expect(readdirSync(parent)).toEqual(['precious.txt']);
  });

  it('survive a journal note that was cut off', async () => {
    mkdirSync(journal);
    writeFileSync(join(journal, 'half.json'), '{"runId":"ha');
    expect(await cleanUpScratch(journal, never)).toEqual([]);
    expect(readdirSync(journal)).toEqual([]);
  });
});

describe('a folder of files of any names in a scratch space', () => {
  const paths = ['a', 'a/one.mov', 'two\nlines.txt', 'link'];
  const fill = (folder: string) => {
    mkdirSync(join(folder, 'a'));
    writeFileSync(join(folder, 'a', 'one.mov'), 'one');
    writeFileSync(join(folder, 'two\nlines.txt'), 'two');
    symlinkSync(parent, join(folder, 'link'));
  };

  it('is removed with it after a crash, and of what a link leads to nothing', async () => {
    const scratch = await makeScratch(parent, 'run1', journal, 'to1');
    const tree = scratch.createTree(1, paths);
    fill(tree.folder);
    chmodSync(join(tree.folder, 'a'), 0o500);
    writeFileSync(join(parent, 'mine.txt'), 'mine');
    expect(await cleanUpScratch(journal, never)).toEqual([{ folder: scratch.folder, removal: 'removed' }]);
    expect(readdirSync(parent).sort()).toEqual(['mine.txt', 'precious.txt']);
    expect(readdirSync(journal)).toEqual([]);
  });

  it('stays with what somebody else put into it', async () => {
    const scratch = await makeScratch(parent, 'run1', journal, 'to1');
    const tree = scratch.createTree(1, paths);
    fill(tree.folder);
    writeFileSync(join(tree.folder, 'a', 'mine.txt'), 'mine');
    expect((await cleanUpScratch(journal, never))[0]!.removal).toBe('not-ours');
    expect(readdirSync(join(tree.folder, 'a'))).toEqual(['mine.txt']);
    expect(existsSync(join(tree.folder, 'a', 'one.mov'))).toBe(false);
  });

  it('moves to a name that is free, and is nobody’s scratch any more', async () => {
    mkdirSync(join(parent, 'Day'));
    writeFileSync(join(parent, 'Day', 'mine.txt'), 'mine');
    const scratch = await makeScratch(parent, 'run1', journal, 'to1');
    const tree = scratch.createTree(1, paths);
    fill(tree.folder);
    expect(await tree.moveTo(parent, 'Day')).toBe(join(parent, 'Day 2'));
    await scratch.remove();
    expect(readdirSync(join(parent, 'Day 2')).sort()).toEqual(['a', 'link', 'two\nlines.txt']);
    expect(readdirSync(join(parent, 'Day'))).toEqual(['mine.txt']);
    expect(readdirSync(journal)).toEqual([]);
  });

  it('of a run that goes on is left alone, with its list', async () => {
    const scratch = await makeScratch(parent, 'run1', journal, 'to1');
    const tree = scratch.createTree(1, paths);
    fill(tree.folder);
    expect(await cleanUpScratch(journal, (run) => run === 'run1')).toEqual([]);
    await tree.remove();
    await scratch.remove();
    expect(readdirSync(journal)).toEqual([]);
    expect(existsSync(scratch.folder)).toBe(false);
  });
});
