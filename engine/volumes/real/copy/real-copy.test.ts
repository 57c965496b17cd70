import {
  chmodSync,
  existsSync,
  lstatSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  readlinkSync,
  rmSync,
  statSync,
  symlinkSync,
  truncateSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { createHash, randomBytes } from 'node:crypto';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { execFileSync } from 'node:child_process';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { c4Id } from '#core/5-answers/copies/hash-list.ts';
import { checkOptions } from '#core/3-jobs/recipes/registry.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { applyRunEvent, type RunEvent } from '#core/4-runs/run/run-events.ts';
import { figuresOf } from '#core/4-runs/trace/figures.ts';
import { recipeById } from '#engine/recipes/registry.ts';
import { NO_HISTORY, carryOutRun, checkRun, openRunDocument, type RunRequest } from '#engine/run/runner.ts';
import { discoverVolumes } from '#engine/volumes/real/discovery.ts';
import { mountOf } from '#engine/system/filesystems.ts';
import { realVolume } from '#engine/volumes/real/real-volume.ts';
import { createPauseSwitch } from '#engine/volumes/volume.ts';
import { system } from '#engine/system/this-system.ts';

/** Windows allows neither line breaks nor such signs in names. */
const ODD_NAME = system.name === 'Windows' ? 'line break & (sign).txt' : 'line\nbreak & <sign>.txt';

let home: string;
let journalFolder: string;
let source: string;

beforeEach(() => {
  home = mkdtempSync(join(tmpdir(), 'tavrox-copy-'));
  journalFolder = join(home, 'journal');
  source = join(home, 'Day one');
  mkdirSync(source);
});
afterEach(() => rmSync(home, { recursive: true, force: true }));

async function copy(
  targets: string[],
  options: object,
  {
    signal = new AbortController().signal,
    onEvent,
  }: { signal?: AbortSignal; onEvent?: (event: RunEvent) => void } = {},
): Promise<RunDocument> {
  const all = await discoverVolumes();
  const volumeOf = (folder: string) => realVolume(mountOf(folder, all)!, { all, journalFolder });
  const recipe = recipeById('copy');
  const request: RunRequest = {
    runId: 'unit',
    volume: volumeOf(home),
    folder: source,
    recipe,
    options: checkOptions(recipe.kind, { payload: 'folder', blockBytes: 65_536, depth: 2, ...options }),
    targets: targets.map((folder) => ({ volume: volumeOf(home), folder })),
  };
  await checkRun(request);
  const reference = ({ info }: typeof request.volume) => ({
    id: 'd',
    label: info.label,
    medium: info.medium,
    identity: info.identity,
  });
  const run = openRunDocument(
    request,
    [reference(request.volume), ...request.targets.map(({ volume }) => reference(volume))],
    NO_HISTORY,
    'running',
    '2026-03-02T09:00:00.000Z',
  );
  await carryOutRun(
    request,
    (event) => {
      applyRunEvent(run, event);
      onEvent?.(event);
    },
    () => undefined,
    { signal, pause: createPauseSwitch() },
  );
  return run;
}

function folder(name: string): string {
  const path = join(home, name);
  mkdirSync(path);
  return path;
}

/** Every path below a folder with what lies there: bytes of files, goals of links. */
function contents(root: string, inside = ''): Record<string, string> {
  const found: Record<string, string> = {};
  for (const name of readdirSync(join(root, inside))) {
    const path = inside === '' ? name : `${inside}/${name}`;
    const stats = lstatSync(join(root, path));
    if (stats.isSymbolicLink()) found[path] = `link to ${readlinkSync(join(root, path))}`;
    else if (stats.isDirectory()) Object.assign(found, { [path]: 'folder' }, contents(root, path));
    else
      found[path] = createHash('sha256')
        .update(readFileSync(join(root, path)))
        .digest('hex');
  }
  return found;
}

/** Sizes around pages and blocks, odd names, folders in folders, an empty file. */
function fillSource(): void {
  const sizes = [0, 1, 4095, 4096, 4097, 65_535, 65_536, 65_537, 200_000, 1_000_003];
  sizes.forEach((size, index) => writeFileSync(join(source, `clip ${index} – “ä”.bin`), randomBytes(size)));
  mkdirSync(join(source, 'A001', 'sound'), { recursive: true });
  writeFileSync(join(source, 'A001', 'sound', `${'long name '.repeat(24)}.wav`), randomBytes(123_457));
  writeFileSync(join(source, 'A001', ODD_NAME), 'notes');
}

const noScratch = (): boolean =>
  readdirSync(home, { recursive: true }).every((name) => !String(name).includes('tavrox-scratch'));

describe('a copy of a folder', () => {
  it('is byte for byte alike at every target, verified, with rights, dates and its hash list', async () => {
    fillSource();
    chmodSync(join(source, 'A001', ODD_NAME), 0o640);
    utimesSync(join(source, 'clip 8 – “ä”.bin'), 1_700_000_000, 1_700_000_000);
    const before = contents(source);
    const [one, two] = [folder('one'), folder('two')];
    const run = await copy([one, two], { keep: true, parallelFiles: 3 });
    expect(run.failure).toBeNull();
    expect(contents(source)).toEqual(before);
    const [leg] = run.copy!.legs;
    expect(leg).toMatchObject({ files: 12, wholeFiles: 12, checkedFiles: 24, differingFiles: 0, from: 0, to: [1, 2] });
    expect(leg!.keptFolders).toEqual([join(one, 'Day one'), join(two, 'Day one')]);
    for (const kept of leg!.keptFolders) {
      const { ascmhl, ...files } = contents(kept);
      expect(ascmhl).toBe('folder');
      const own = Object.fromEntries(Object.entries(files).filter(([path]) => !path.startsWith('ascmhl/')));
      expect(own).toEqual(before);
      if (system.hasFileModes) expect(statSync(join(kept, 'A001', ODD_NAME)).mode & 0o777).toBe(0o640);
      expect(statSync(join(kept, 'clip 8 – “ä”.bin')).mtimeMs / 1000).toBeCloseTo(1_700_000_000, 3);
      const [list] = readdirSync(join(kept, 'ascmhl')).filter((name) => name.endsWith('.mhl'));
      const text = readFileSync(join(kept, 'ascmhl', list!), 'utf8');
      expect(text.match(/<hash>/g)).toHaveLength(12);
      // The first list of a folder is its original one.
      expect(text.match(/action="original"/g)).toHaveLength(12);
      // XXH64 of no bytes at all, as its description gives it.
      expect(text).toMatch(/clip 0 [^]*?<xxh64[^>]*>ef46db3751d8e999</);
      expect(text).toContain(
        ODD_NAME.replace('&', '&amp;').replace('<', '&lt;').replace('>', '&gt;').replace('\n', '&#10;'),
      );
      const chain = readFileSync(join(kept, 'ascmhl', 'ascmhl_chain.xml'), 'utf8');
      expect(chain).toContain(c4Id(createHash('sha512').update(text).digest()));
    }
    expect(noScratch()).toBe(true);
    const { copies } = figuresOf(run);
    expect(copies!.legs[0]!.copiedBytes).toBe(leg!.bytes);
  });

  it('never takes the place of what is there, and is removed unless it is to be kept', async () => {
    fillSource();
    const target = folder('target');
    mkdirSync(join(target, 'Day one'));
    writeFileSync(join(target, 'Day one', 'mine.txt'), 'mine');
    // Kept unless one says otherwise.
    const kept = await copy([target], { verify: 'none' });
    expect(kept.copy!.legs[0]!.keptFolders).toEqual([join(target, 'Day one 2')]);
    expect(readdirSync(join(target, 'Day one'))).toEqual(['mine.txt']);
    expect(existsSync(join(target, 'Day one 2', 'ascmhl'))).toBe(false);
    const before = contents(target);
    const gone = await copy([target], { keep: false });
    expect(gone.copy!.legs[0]).toMatchObject({ wholeFiles: 12, checkedFiles: 12, keptFolders: [] });
    expect(contents(target)).toEqual(before);
  });

  it.skipIf(system.name === 'Windows')('makes links anew, fills holes, and tells of what it cannot copy', async () => {
    fillSource();
    symlinkSync('/etc/passwd', join(source, 'a link'));
    symlinkSync('nowhere', join(source, 'dangling'));
    writeFileSync(join(source, 'sparse.bin'), 'begin');
    truncateSync(join(source, 'sparse.bin'), 400_000);
    execFileSync('mkfifo', [join(source, 'pipe')]);
    writeFileSync(Buffer.concat([Buffer.from(`${source}/latin-`), Buffer.from([0xe4])]), 'x');
    const target = folder('target');
    const run = await copy([target], { keep: true });
    const kept = run.copy!.legs[0]!.keptFolders[0]!;
    expect(readlinkSync(join(kept, 'a link'))).toBe('/etc/passwd');
    expect(readlinkSync(join(kept, 'dangling'))).toBe('nowhere');
    expect(readFileSync(join(kept, 'sparse.bin'))).toEqual(readFileSync(join(source, 'sparse.bin')));
    const told = run.copy!.notes.map(({ kind, path }) => `${kind} ${path}`);
    expect(told).toContain('skipped pipe');
    expect(told.some((one) => one.startsWith('skipped latin-'))).toBe(true);
    expect(told).toContain('holes ');
  });

  it('leaves out a file that changes meanwhile, and says so', async () => {
    fillSource();
    const growing = join(source, 'z growing.bin');
    writeFileSync(growing, randomBytes(3_000_000));
    const target = folder('target');
    let isChanged = false;
    const run = await copy(
      [target],
      { keep: true, parallelFiles: 1 },
      {
        onEvent(event) {
          // The listing is done when the first rows come.
          if (event.type !== 'copy-rows' || isChanged) return;
          isChanged = true;
          writeFileSync(growing, randomBytes(3_000_000));
        },
      },
    );
    expect(run.copy!.notes.filter(({ kind }) => kind === 'changed').map(({ path }) => path)).toEqual(['z growing.bin']);
    expect(run.copy!.legs[0]).toMatchObject({ files: 13, wholeFiles: 12 });
    expect(existsSync(join(run.copy!.legs[0]!.keptFolders[0]!, 'z growing.bin'))).toBe(false);
  });

  it('keeps what is whole when it is stopped, and nothing in part', async () => {
    for (let file = 0; file < 400; file += 1) {
      writeFileSync(join(source, `n-${file}.bin`), randomBytes(file % 50 === 0 ? 900_000 : 20_000));
    }
    const target = folder('target');
    const abort = new AbortController();
    const run = await copy(
      [target],
      { keep: true, parallelFiles: 2, verify: 'checksums' },
      {
        signal: abort.signal,
        onEvent: (event) => event.type === 'copy-rows' && abort.abort(),
      },
    );
    expect(run.failure).toBeNull();
    expect(run.state).toBe('stopped');
    const leg = run.copy!.legs[0]!;
    expect(leg.wholeFiles).toBeLessThan(400);
    const [kept] = leg.keptFolders;
    const names = readdirSync(kept!).filter((name) => name !== 'ascmhl');
    expect(names).toHaveLength(leg.wholeFiles);
    for (const name of names) expect(readFileSync(join(kept!, name))).toEqual(readFileSync(join(source, name)));
    expect(noScratch()).toBe(true);
  });

  it('goes there and back again, several times, and leaves nothing', async () => {
    fillSource();
    const target = folder('target');
    const before = contents(home);
    const run = await copy([target], { back: true, repeats: 2, restSeconds: 0.1, keep: false });
    expect(run.failure).toBeNull();
    expect(
      run.copy!.legs.map(({ from, to, wholeFiles, checkedFiles }) => [from, to, wholeFiles, checkedFiles]),
    ).toEqual([
      [0, [1], 12, 12],
      [1, [0], 12, 12],
      [0, [1], 12, 12],
      [1, [0], 12, 12],
    ]);
    expect(run.markers.filter(({ kind }) => kind === 'rest')).toHaveLength(1);
    rmSync(journalFolder, { recursive: true });
    expect(contents(home)).toEqual(before);
  });

  it('copies files that it made, and refuses what makes no sense', async () => {
    const target = folder('target');
    const run = await copy([target], { payload: 'made', bytes: 3e6, files: 30, spread: 'project' });
    expect(run.failure).toBeNull();
    expect(run.copy!.legs[0]).toMatchObject({ files: 30, wholeFiles: 30, checkedFiles: 30, differingFiles: 0 });
    expect(noScratch()).toBe(true);
    await expect(copy([], {})).rejects.toThrow(/needs a volume to copy to/);
    await expect(copy([target], {})).rejects.toThrow(/holds no files/);
    fillSource();
    const inside = join(source, 'inside');
    mkdirSync(inside);
    // At once, and not as a run that fails.
    await expect(copy([inside], {})).rejects.toThrow(/lies in the folder that is copied/);
    await expect(copy([target], { depth: 16, parallelFiles: 4 })).rejects.toThrow(/64 requests at each end/);
  });
});
