import {
  chmodSync,
  closeSync,
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
import { dirname, join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { cleanUpScratch, forgetLeft, listKept, listLeft, removeKept, removeLeft } from '#engine/scratch/left.ts';
import { makeScratch } from '#engine/scratch/scratch.ts';
import { system } from '#engine/system/this-system.ts';

/** Making links takes a right on Windows that few have. */
const HAS_LINKS = system.name !== 'Windows';
/** Windows allows no line breaks in names. */
const ODD_NAME = system.name === 'Windows' ? 'two lines.txt' : 'two\nlines.txt';

let home: string;
let parent: string;
let journal: string;
const never = () => false;
const make = (runId: string, part?: string) =>
  makeScratch(parent, {
    runId,
    ...(part === undefined ? {} : { part }),
    journalFolder: journal,
    volume: { mountPoint: parent, driveLabel: 'Petrel' },
  });
/** How each noted folder fares when it is cleaned up. */
const cleanUp = async (mountPoints: string[] = []) =>
  (await cleanUpScratch(journal, never, () => Promise.resolve(mountPoints))).map(({ removal }) => removal.is);

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
    const scratch = await make('run1');
    writeSync(scratch.createFile(0), 'data');
    expect(readdirSync(scratch.folder).sort()).toEqual(['data-0.bin', 'tavrox-scratch.json']);
    await scratch.remove();
    expect(readdirSync(parent)).toEqual(['precious.txt']);
    expect(readdirSync(journal)).toEqual([]);
  });

  it('are removed at the next start after a crash, but not those still in use', async () => {
    closeSync((await make('crashed')).createFile(0));
    await make('going-on');
    const isGoingOn = (run: string) => run === 'going-on';
    expect((await cleanUpScratch(journal, isGoingOn)).map(({ removal }) => removal.is)).toEqual(['removed']);
    expect(readdirSync(parent).sort()).toEqual(['precious.txt', 'tavrox-scratch-going-on']);
  });

  it('of another process that lives are left to it', async () => {
    const scratch = await make('run1');
    const note = join(journal, 'run1.json');
    const entry = JSON.parse(readFileSync(note, 'utf8')) as object;
    writeFileSync(note, JSON.stringify({ ...entry, owner: { pid: process.ppid, startTicks: '' } }));
    expect(await cleanUpScratch(journal, never)).toEqual([]);
    expect(existsSync(scratch.folder)).toBe(true);
  });

  it('never replace a folder that is already there', async () => {
    mkdirSync(join(parent, 'tavrox-scratch-run1'));
    writeFileSync(join(parent, 'tavrox-scratch-run1', 'film.mov'), 'theirs');
    await expect(make('run1')).rejects.toThrow(/No scratch folder could be made/);
    expect(existsSync(join(parent, 'tavrox-scratch-run1', 'film.mov'))).toBe(true);
  });

  it('with folders of numbered files go whole', async () => {
    const scratch = await make('run1');
    scratch.createFolders([
      { path: 'frames-0', numbers: [0, 20] },
      { path: 'files', numbers: null },
      { path: 'files/f-3', numbers: [0, 4] },
    ]);
    writeFileSync(join(scratch.folder, 'frames-0', 'n-12.bin'), 'ours');
    writeFileSync(join(scratch.folder, 'files', 'f-3', 'n-4.bin'), 'ours');
    await scratch.remove();
    expect(readdirSync(parent)).toEqual(['precious.txt']);
  });

  // What the system or a person put there, some of it under names that Tavrox uses too.
  it.each([
    ['a file of the system', '.DS_Store'],
    ['a file under a name of ours', 'data-7.bin'],
    ['a number that was never to be made', 'frames-0/n-21.bin'],
    ['a picture among the numbered', 'frames-0/holiday.jpg'],
    ['a folder of another name', 'photos/n-1.bin'],
  ])('lose what is noted and keep %s, and say so', async (_name, path) => {
    const scratch = await make('run1');
    scratch.createFile(0);
    scratch.createFolders([{ path: 'frames-0', numbers: [0, 20] }]);
    writeFileSync(join(scratch.folder, 'frames-0', 'n-20.bin'), 'ours');
    mkdirSync(dirname(join(scratch.folder, path)), { recursive: true });
    writeFileSync(join(scratch.folder, path), 'theirs');
    expect(await scratch.remove()).toMatchObject({
      is: 'not-ours',
      why: expect.stringMatching(/^It holds 1.thing that Tavrox did not make: /) as string,
    });
    expect(readFileSync(join(scratch.folder, path), 'utf8')).toBe('theirs');
    expect(existsSync(join(scratch.folder, 'data-0.bin'))).toBe(false);
    expect(existsSync(join(scratch.folder, 'frames-0', 'n-20.bin'))).toBe(false);
    // It stays noted until it was seen to go.
    expect(await listLeft(journal)).toMatchObject([{ id: 'run1', folder: scratch.folder, driveLabel: 'Petrel' }]);
    expect(await cleanUp()).toEqual(['not-ours']);
    rmSync(join(scratch.folder, path));
    expect((await removeLeft(journal, 'run1')).is).toBe(path.startsWith('photos') ? 'not-ours' : 'removed');
  });

  it('that are kept stay over starts, are listed, and are forgotten when somebody removed them', async () => {
    const scratch = await make('run1');
    writeSync(scratch.createFile(0), 'data');
    await scratch.keep({ driveLabel: 'Petrel', bytes: 4, keptAt: '2026-03-02T09:00:00.000Z' });
    expect(await cleanUpScratch(journal, never)).toEqual([]);
    expect(await listKept(journal)).toMatchObject([{ runId: 'run1', bytes: 4, folder: scratch.folder }]);
    rmSync(scratch.folder, { recursive: true });
    await cleanUpScratch(journal, never);
    expect(await listKept(journal)).toEqual([]);
  });

  it.skipIf(!HAS_LINKS)('are not looked for behind a link', async () => {
    const scratch = await make('run1');
    const elsewhere = join(home, 'elsewhere');
    rmSync(scratch.folder, { recursive: true });
    mkdirSync(elsewhere);
    writeFileSync(join(elsewhere, 'data-0.bin'), 'theirs');
    symlinkSync(elsewhere, scratch.folder);
    expect(await cleanUp()).toEqual(['not-ours']);
    expect(existsSync(join(elsewhere, 'data-0.bin'))).toBe(true);
    expect(await listLeft(journal)).toMatchObject([{ why: expect.stringMatching(/^Something else lies/) as string }]);
  });

  it('are found beside their place when somebody moved them, and not taken for what lies there now', async () => {
    const scratch = await make('run1');
    writeSync(scratch.createFile(0), 'data');
    expect(scratch.whereabouts()).toBe('there');
    const moved = join(parent, 'moved');
    renameSync(scratch.folder, moved);
    symlinkSync(home, scratch.folder);
    expect(scratch.whereabouts()).toBe('moved');
    expect((await scratch.remove()).is).toBe('removed');
    expect(existsSync(moved)).toBe(false);
    expect(readdirSync(journal)).toEqual([]);
    expect(existsSync(join(parent, 'precious.txt'))).toBe(true);
  });

  it('that somebody took elsewhere stay noted until they are forgotten', async () => {
    const scratch = await make('run1');
    renameSync(scratch.folder, join(home, 'taken'));
    expect((await scratch.remove()).is).toBe('absent');
    expect(await listLeft(journal)).toHaveLength(1);
    await forgetLeft(journal, 'run1');
    expect(readdirSync(journal)).toEqual([]);
    expect(existsSync(join(home, 'taken'))).toBe(true);
    await expect(forgetLeft(journal, 'run1')).rejects.toThrow(/left any more/);
  });

  it('are found where their volume is mounted now', async () => {
    const scratch = await make('run1');
    const descriptor = scratch.createFile(0);
    writeSync(descriptor, 'data');
    closeSync(descriptor);
    const elsewhere = join(home, 'mounted-elsewhere');
    renameSync(parent, elsewhere);
    expect(await cleanUp()).toEqual(['absent']);
    expect(await listLeft(journal)).toMatchObject([{ why: expect.stringMatching(/not attached now/) as string }]);
    expect(await cleanUp([join(home, 'nowhere'), elsewhere])).toEqual(['removed']);
    expect(readdirSync(elsewhere)).toEqual(['precious.txt']);
    expect(readdirSync(journal)).toEqual([]);
  });

  it('on an unplugged drive are waited for', async () => {
    await make('run1');
    const away = join(home, 'unplugged');
    renameSync(parent, away);
    expect(await cleanUp()).toEqual(['absent']);
    renameSync(away, parent);
    expect(await cleanUp()).toEqual(['removed']);
    expect(readdirSync(parent)).toEqual(['precious.txt']);
  });

  it('are waited for while something else lies at the drive’s place, kept ones too', async () => {
    const scratch = await make('run1');
    const kept = await make('run2');
    await kept.keep({ driveLabel: 'Petrel', bytes: 4, keptAt: '2026-03-02T09:00:00.000Z' });
    expect(scratch.whereabouts()).toBe('there');
    // A mount point without its drive is an empty folder of the same name.
    const away = join(home, 'taken-off');
    renameSync(parent, away);
    mkdirSync(parent);
    expect(scratch.whereabouts()).not.toBe('there');
    expect(await cleanUp()).toEqual(['absent']);
    expect(await listKept(journal)).toMatchObject([{ runId: 'run2' }]);
    rmSync(parent, { recursive: true });
    renameSync(away, parent);
    expect(await cleanUp()).toEqual(['removed']);
    expect((await removeKept(journal, 'run2')).is).toBe('removed');
    expect(readdirSync(parent)).toEqual(['precious.txt']);
  });

  it('leave nothing of a note that was being replaced when a crash came', async () => {
    await make('run1');
    writeFileSync(join(journal, 'run1.json.part'), '{"runId":"ru');
    expect(await cleanUp()).toEqual(['removed']);
    expect(readdirSync(journal)).toEqual([]);
  });

  it('survive a journal note that was cut off', async () => {
    mkdirSync(journal);
    writeFileSync(join(journal, 'half.json'), '{"runId":"ha');
    expect(await cleanUp()).toEqual([]);
    expect(readdirSync(journal)).toEqual([]);
  });

  it.each([
    ['an owner that is none', 'bad.json', JSON.stringify({ runId: 'bad', folder: '/', pathInVolume: '', owner: null })],
    ['a name that is not its run’s', 'bad.json', JSON.stringify({ runId: 'other' })],
    ['no object', 'bad.json', 'null'],
    ['a number', 'bad.json', '7'],
  ])('are cleaned up beside a note with %s', async (_name, file, text) => {
    await make('run1');
    writeFileSync(join(journal, file), text);
    expect(await cleanUp()).toEqual(['removed']);
    expect(readdirSync(parent)).toEqual(['precious.txt']);
  });

  it('are cleaned up beside a folder that is named as a note', async () => {
    await make('run1');
    mkdirSync(join(journal, 'x.json'));
    expect(await cleanUp()).toEqual(['removed']);
    expect(readdirSync(parent)).toEqual(['precious.txt']);
  });
});

describe('a folder of files of any names in a scratch space', () => {
  const paths = ['a', 'a/one.mov', ODD_NAME, ...(HAS_LINKS ? ['link'] : [])];
  const fill = (folder: string) => {
    mkdirSync(join(folder, 'a'));
    writeFileSync(join(folder, 'a', 'one.mov'), 'one');
    writeFileSync(join(folder, ODD_NAME), 'two');
    if (HAS_LINKS) symlinkSync(parent, join(folder, 'link'));
  };

  it('is removed with it after a crash, and of what a link leads to nothing', async () => {
    const scratch = await make('run1', 'to1');
    const tree = scratch.createTree(1, paths);
    fill(tree.folder);
    chmodSync(join(tree.folder, 'a'), 0o500);
    writeFileSync(join(parent, 'mine.txt'), 'mine');
    expect(await cleanUp()).toEqual(['removed']);
    expect(readdirSync(parent).sort()).toEqual(['mine.txt', 'precious.txt']);
    expect(readdirSync(journal)).toEqual([]);
  });

  it('stays with what somebody else put into it', async () => {
    const scratch = await make('run1', 'to1');
    const tree = scratch.createTree(1, paths);
    fill(tree.folder);
    writeFileSync(join(tree.folder, 'a', 'mine.txt'), 'mine');
    expect(await cleanUp()).toEqual(['not-ours']);
    expect(readdirSync(join(tree.folder, 'a'))).toEqual(['mine.txt']);
    expect(existsSync(join(tree.folder, 'a', 'one.mov'))).toBe(false);
  });

  it('moves to a name that is free, and is nobody’s scratch any more', async () => {
    mkdirSync(join(parent, 'Day'));
    writeFileSync(join(parent, 'Day', 'mine.txt'), 'mine');
    const scratch = await make('run1', 'to1');
    const tree = scratch.createTree(1, paths);
    fill(tree.folder);
    expect(await tree.moveTo(parent, 'Day')).toBe(join(parent, 'Day 2'));
    await scratch.remove();
    expect(readdirSync(join(parent, 'Day 2')).sort()).toEqual(['a', ODD_NAME, ...(HAS_LINKS ? ['link'] : [])].sort());
    expect(readdirSync(join(parent, 'Day'))).toEqual(['mine.txt']);
    expect(readdirSync(journal)).toEqual([]);
  });

  it('of a run that goes on is left alone, with its list', async () => {
    const scratch = await make('run1', 'to1');
    const tree = scratch.createTree(1, paths);
    fill(tree.folder);
    expect(await cleanUpScratch(journal, (run) => run === 'run1')).toEqual([]);
    await tree.remove();
    await scratch.remove();
    expect(readdirSync(journal)).toEqual([]);
    expect(existsSync(scratch.folder)).toBe(false);
  });
});
