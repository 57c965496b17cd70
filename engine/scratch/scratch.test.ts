import { existsSync, mkdirSync, mkdtempSync, readdirSync, renameSync, rmSync, symlinkSync, writeFileSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { cleanUpScratch, makeScratch } from '#engine/scratch/scratch.ts';

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
  it('leave nothing behind, and nothing else touched', () => {
    const scratch = makeScratch(parent, 'run1', journal);
    writeSync(scratch.createFile(0, 0), 'data');
    expect(readdirSync(scratch.folder).sort()).toEqual(['data-0.bin', 'tavrox-scratch.json']);
    scratch.remove();
    expect(readdirSync(parent)).toEqual(['precious.txt']);
    expect(readdirSync(journal)).toEqual([]);
  });

  it('are removed at the next start after a crash, but not those still in use', () => {
    makeScratch(parent, 'crashed', journal).createFile(0, 0);
    makeScratch(parent, 'going-on', journal);
    expect(cleanUpScratch(journal, (run) => run === 'going-on').map((one) => one.removal)).toEqual(['removed']);
    expect(readdirSync(parent).sort()).toEqual(['precious.txt', 'tavrox-scratch-going-on']);
  });

  it('never replace a folder that is already there', () => {
    mkdirSync(join(parent, 'tavrox-scratch-run1'));
    writeFileSync(join(parent, 'tavrox-scratch-run1', 'film.mov'), 'theirs');
    expect(() => makeScratch(parent, 'run1', journal)).toThrow(/No scratch folder could be made/);
    expect(existsSync(join(parent, 'tavrox-scratch-run1', 'film.mov'))).toBe(true);
  });

  it('that hold a stranger’s file are left alone', () => {
    const scratch = makeScratch(parent, 'run1', journal);
    writeFileSync(join(scratch.folder, 'film.mov'), 'theirs');
    expect(cleanUpScratch(journal, never)[0]?.removal).toBe('not-ours');
    expect(existsSync(join(scratch.folder, 'film.mov'))).toBe(true);
  });

  it('are not looked for behind a link', () => {
    const scratch = makeScratch(parent, 'run1', journal);
    const elsewhere = join(home, 'elsewhere');
    rmSync(scratch.folder, { recursive: true });
    mkdirSync(elsewhere);
    writeFileSync(join(elsewhere, 'data-0.bin'), 'theirs');
    symlinkSync(elsewhere, scratch.folder);
    expect(cleanUpScratch(journal, never)[0]?.removal).toBe('not-ours');
    expect(existsSync(join(elsewhere, 'data-0.bin'))).toBe(true);
  });

  it('on an unplugged drive are waited for', () => {
    makeScratch(parent, 'run1', journal);
    const away = join(home, 'unplugged');
    renameSync(parent, away);
    expect(cleanUpScratch(journal, never)[0]?.removal).toBe('absent');
    renameSync(away, parent);
    expect(cleanUpScratch(journal, never)[0]?.removal).toBe('removed');
    expect(readdirSync(parent)).toEqual(['precious.txt']);
  });

  it('survive a journal note that was cut off', () => {
    mkdirSync(journal);
    writeFileSync(join(journal, 'half.json'), '{"runId":"ha');
    expect(cleanUpScratch(journal, never)).toEqual([]);
    expect(readdirSync(journal)).toEqual([]);
  });
});
