import { existsSync, mkdirSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { PGlite } from '@electric-sql/pglite';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { emptySamples, type RunDocument } from '#core/4-runs/run/run-document.ts';
import { parseDriveLine } from '#core/2-trade/drives/drive-line.ts';
import { runOf } from '#core/testing/run-of.ts';
import { planOfSizing, type Project } from '#core/5-answers/sizing/project.ts';
import { asFirstWritten, sizingOf } from '#core/testing/sizing-of.ts';
import { changeProject, deleteProject, listProjects, saveProject } from '#server/store/projects.ts';
import { removeExamples } from '#server/store/examples.ts';
import { storeFiles } from '#server/store/files.ts';
import {
  addDrive,
  cardForVolume,
  changeDrive,
  describeExample,
  driveReference,
  joinDrives,
  listDrives,
} from '#server/store/drives.ts';
import { createProfiles } from '#server/store/profiles.ts';
import {
  annotateRun,
  closeInterruptedRuns,
  deleteRun,
  driveHistory,
  findRun,
  findRunSoFar,
  finishRun,
  insertChunk,
  insertRun,
  insertWholeRun,
  listRuns,
  readRun,
} from '#server/store/runs.ts';
import { isBackupDue, listBackups, makeBackup } from '#server/store/backups.ts';
import { openTestStore } from '#server/testing/test-store.ts';
import { openStore, restoreStore, type Store } from '#server/store/store.ts';
import { STAND_INS } from '#engine/volumes/stand-in/catalogue.ts';
import { standInVolume } from '#engine/volumes/stand-in/stand-in-volume.ts';

const { info } = standInVolume(STAND_INS[0]!, { speed: Infinity, seed: 1 });
let store: Store;
beforeAll(async () => {
  store = await openTestStore();
});
afterAll(() => store.close());

async function madeRun(id: string): Promise<RunDocument> {
  const run = runOf([{ direction: 'write', rates: [100, 90, 110] }]);
  return { ...run, id, drive: driveReference(await cardForVolume(store.db, info, false)) };
}

/** Keeps a run as the recorder does: its opening first, then chunks of samples and events. */
async function keep(run: RunDocument): Promise<void> {
  await insertRun(store.db, { ...run, conditions: { ...run.conditions, bypass: [] } });
  const part = (from: number, to: number) => {
    const samples = emptySamples();
    for (const key of Object.keys(samples) as (keyof typeof samples)[])
      samples[key].push(...(run.samples[key].slice(from, to) as never[]));
    return samples;
  };
  await insertChunk(store.db, run.id, 1, part(2, 4), [{ type: 'bypass', row: run.conditions.bypass[0]! }]);
  await insertChunk(
    store.db,
    run.id,
    0,
    part(0, 2),
    run.markers.map((marker) => ({ type: 'marker', marker })),
  );
}

describe('the store', () => {
  it('keeps what a person says of a drive, and lets no example overwrite it', async () => {
    const card = await cardForVolume(store.db, { ...info, identity: { kind: 'serial', value: 'card' } }, true);
    const find = async () => (await listDrives(store.db)).find(({ id }) => id === card.id)!;
    await describeExample(store.db, card.id, { ...card.details, price: 10 });
    expect(await find()).toMatchObject({ example: true, details: { price: 10 } });
    await changeDrive(store.db, card.id, { label: 'Mine', details: { ...card.details, price: 20 } });
    await describeExample(store.db, card.id, { ...card.details, price: 30 });
    expect(await find()).toMatchObject({ label: 'Mine', example: false, details: { price: 20 } });
    // Another run on it does not undo what was said.
    await cardForVolume(store.db, { ...info, identity: { kind: 'serial', value: 'card' } }, false);
    expect((await find()).label).toBe('Mine');
    await expect(changeDrive(store.db, 'none', { label: 'x', details: card.details })).rejects.toThrow(/no drive/);
  });

  it('makes one card of a drive that was typed and of the one that was measured since', async () => {
    const typed = await addDrive(store.db, parseDriveLine('Falcon: 2 TB flash, 900 MB/s, 189 EUR'));
    const measured = await cardForVolume(store.db, { ...info, identity: { kind: 'serial', value: 'F-1' } }, false);
    await changeDrive(store.db, measured.id, {
      label: measured.label,
      details: { ...measured.details, price: 175, currency: 'USD' },
    });
    await expect(joinDrives(store.db, measured.id, typed.id)).rejects.toThrow(/was measured itself, and not typed/);
    await expect(joinDrives(store.db, typed.id, typed.id)).rejects.toThrow(/was typed too/);
    const joined = await joinDrives(store.db, typed.id, measured.id);
    // What is said of the measured one counts before the box; its promise fills the rest.
    expect(joined).toMatchObject({
      id: measured.id,
      label: 'Falcon',
      identityKind: 'serial',
      details: { price: 175, currency: 'USD', ratedWriteBytesPerSecond: 900e6 },
    });
    expect((await listDrives(store.db)).some(({ id }) => id === typed.id)).toBe(false);
    await expect(joinDrives(store.db, typed.id, measured.id)).rejects.toThrow(/no drive/);
  });

  it('gives a run back as it was, whatever the order in which its chunks were written', async () => {
    const run = await madeRun('whole');
    await keep(run);
    await finishRun(store.db, run);
    expect(await readRun(store.db, 'whole')).toEqual(run);
    const [entry] = await listRuns(store.db, 10);
    expect(entry!.figures.write!.medianBytesPerSecond).toBe(100);
  });

  it('knows a drive again by its identity, and makes one card of many runs', async () => {
    const first = await cardForVolume(store.db, info, false);
    const again = await cardForVolume(store.db, { ...info, mountPoint: '/elsewhere', label: 'other' }, false);
    expect(again).toEqual(first);
    expect((await listDrives(store.db)).filter((drive) => drive.identityValue === info.identity.value)).toHaveLength(1);
  });

  it('closes what a crash left open with what had been measured', async () => {
    const run = await madeRun('cut-off');
    await keep({ ...run, state: 'running', endedAt: null });
    expect(await closeInterruptedRuns(store.db)).toEqual(['cut-off']);
    const kept = await readRun(store.db, 'cut-off');
    expect(kept).toMatchObject({ state: 'interrupted', endedAt: '2026-03-02T09:00:03.000Z', samples: run.samples });
  });

  it('knows how long a drive rested and what it wrote in the last hour', async () => {
    const run = await madeRun('earlier');
    const ago = (seconds: number) => new Date(Date.now() - seconds * 1000).toISOString();
    const ended = { ...run, startedAt: ago(1200), endedAt: ago(600) };
    await keep(ended);
    await finishRun(store.db, ended);
    const history = await driveHistory(store.db, run.drive.id, new Date());
    expect(history.restSeconds).toBeCloseTo(600, -1);
    expect(history.writtenLastHourBytes).toBe(300);
  });

  it('tells two drives of one make apart by a number, and finds each again by its identity', async () => {
    const like = (value: string) => ({ ...info, driveLabel: 'Twin 1T', identity: { kind: 'serial' as const, value } });
    const labels = [];
    for (const serial of ['twin-a', 'twin-b', 'twin-a', 'twin-c', 'twin-b'])
      labels.push((await cardForVolume(store.db, like(serial), false)).label);
    expect(labels).toEqual(['Twin 1T', 'Twin 1T 2', 'Twin 1T', 'Twin 1T 3', 'Twin 1T 2']);
  });

  it('keeps what was heard beside a run, whenever it comes, and forgets it', async () => {
    const run = await madeRun('heard');
    await keep(run);
    const loudness = { fromSeconds: -2, stepSeconds: 0.5, levels: [-60, null, -52.5], offsetDecibels: null };
    await annotateRun(store.db, 'heard', { loudness });
    // It does not stand where the run's own telling goes on, nor in lists.
    expect((await findRunSoFar(store.db, 'heard'))!.run.loudness).toEqual(loudness);
    await finishRun(store.db, run);
    expect((await findRun(store.db, 'heard'))!.loudness).toEqual(loudness);
    expect(JSON.stringify(await listRuns(store.db, 100))).not.toContain('-52.5');
    await annotateRun(store.db, 'heard', { loudness: { ...loudness, offsetDecibels: 90 }, note: 'on the desk' });
    const heard = (await findRun(store.db, 'heard'))!;
    expect([heard.loudness!.offsetDecibels, heard.note]).toEqual([90, 'on the desk']);
    // As a whole from elsewhere it can be heard of anew too.
    await deleteRun(store.db, 'heard');
    await insertWholeRun(store.db, heard);
    expect(await findRun(store.db, 'heard')).toEqual(heard);
    await annotateRun(store.db, 'heard', { loudness: null });
    expect((await findRun(store.db, 'heard'))!.loudness).toBeNull();
  });

  it('sends what a drive’s runs testify again only when it changed', async () => {
    const profiles = createProfiles(store.db);
    const run = await madeRun('testifies');
    await keep(run);
    await finishRun(store.db, run);
    const first = await profiles.textOf(run.drive.id);
    expect(JSON.parse(first.text!)).toEqual(await profiles.of(run.drive.id));
    expect(await profiles.textOf(run.drive.id, first.mark)).toEqual({ mark: first.mark, text: null });
    // Left out, it testifies no more.
    await annotateRun(store.db, 'testifies', { leftOut: true });
    const without = await profiles.textOf(run.drive.id, first.mark);
    expect(without.mark).not.toBe(first.mark);
    expect(without.text).not.toContain('"testifies"');
    await annotateRun(store.db, 'testifies', { leftOut: false });
    const again = await profiles.textOf(run.drive.id);
    expect(again.mark).toBe(first.mark);
    expect(JSON.parse(again.text!)).toEqual(JSON.parse(first.text!));
    const [card] = (await listDrives(store.db)).filter(({ id }) => id === run.drive.id);
    await changeDrive(store.db, run.drive.id, { label: 'Renamed', details: card!.details });
    expect((await profiles.textOf(run.drive.id, first.mark)).text).toContain('"Renamed"');
    await expect(profiles.textOf('none', first.mark)).rejects.toThrow(/no drive/);
  });

  it('lists the others when a run is deleted meanwhile', async () => {
    const run = await madeRun('short-lived');
    await keep({ ...run, state: 'running', endedAt: null });
    // Of what is not over the figures are worked out anew: it is gone by then.
    const [listed] = await Promise.all([listRuns(store.db, 100), deleteRun(store.db, 'short-lived')]);
    // A server does both at once, and may have listed it before it went.
    const others = listed.map((entry) => entry.run.id).filter((id) => id !== 'short-lived');
    expect(others).toEqual((await listRuns(store.db, 100)).map((entry) => entry.run.id));
    expect(others.length).toBeGreaterThan(0);
  });

  it('lists all of a run once it is over, however lately it was listed while it went on', async () => {
    const run = await madeRun('listed-before');
    const listed = async () => (await listRuns(store.db, 100)).find((entry) => entry.run.id === run.id)!;
    await insertRun(store.db, { ...run, state: 'running', endedAt: null });
    const none = await listed();
    expect([none.run.state, none.figures.write]).toEqual(['running', null]);
    await insertChunk(store.db, run.id, 0, run.samples, []);
    expect(await closeInterruptedRuns(store.db)).toContain(run.id);
    const { run: opening, figures } = await listed();
    expect([opening.state, figures.write!.medianBytesPerSecond]).toEqual(['interrupted', 100]);
  });

  it('says clearly that a run is not there', async () => {
    await expect(readRun(store.db, 'none')).rejects.toThrow(/no run “none”/);
    await expect(deleteRun(store.db, 'none')).rejects.toThrow(/no run “none”/);
  });
});

it('lets one process at a time into a data folder, and keeps what it held', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'store-test-'));
  try {
    // What the build packed has the examples in it already.
    const first = await openStore(folder, storeFiles, true);
    expect(first.lacksExamples).toBe(false);
    const examples = await listDrives(first.db);
    expect(examples.map((drive) => drive.example)).toEqual(Array<boolean>(9).fill(true));
    await removeExamples(first.db);
    await expect(openStore(folder, storeFiles)).rejects.toThrow(/in use by another Tavrox/);
    await cardForVolume(first.db, info, false);
    await first.close();
    const again = await openStore(folder, storeFiles);
    expect((await listDrives(again.db)).length).toBe(1);
    await again.close();
  } finally {
    rmSync(folder, { recursive: true });
  }
});

describe('projects', () => {
  // When the first were kept, copies were not read back.
  const plan = { ...planOfSizing(sizingOf({ policy: { copyVerified: false } })), choice: [] };
  const project: Project = { id: 'short', example: false, plan, drives: [], version: 0 };

  it('are kept whole, changed and deleted', async () => {
    await saveProject(store.db, project);
    await saveProject(store.db, { ...project, plan: { ...project.plan, days: 12 } });
    expect(await listProjects(store.db)).toEqual([{ ...project, plan: { ...project.plan, days: 12 } }]);
    await deleteProject(store.db, 'short');
    expect(await listProjects(store.db)).toEqual([]);
    await expect(deleteProject(store.db, 'short')).rejects.toThrow(/no project “short”/);
  });

  it('are not written over by who saw an older one', async () => {
    expect(await changeProject(store.db, project)).toBe(1);
    expect(await changeProject(store.db, { ...project, version: 1, plan: { ...plan, days: 20 } })).toBe(2);
    // Seen before both changes.
    await expect(changeProject(store.db, { ...project, plan: { ...plan, days: 99 } })).rejects.toThrow(
      /changed meanwhile.*Nothing of yours was kept/,
    );
    expect((await listProjects(store.db))[0]).toMatchObject({ version: 2, plan: { days: 20 } });
    // What was deleted meanwhile is a new one for who still has it open.
    await deleteProject(store.db, 'short');
    expect(await changeProject(store.db, { ...project, version: 2 })).toBe(3);
    await deleteProject(store.db, 'short');
  });

  it('that were kept before there were stores and parts are read with what was added since', async () => {
    const { id, example, plan: first } = asFirstWritten(project) as Project;
    await saveProject(store.db, { id, example, plan: first } as Project);
    expect(await listProjects(store.db)).toEqual([project]);
    await deleteProject(store.db, 'short');
  });
});

describe('a data folder', () => {
  let home: string;
  beforeEach(() => {
    home = mkdtempSync(join(tmpdir(), 'data-folder-test-'));
  });
  afterEach(() => rmSync(home, { recursive: true, force: true }));
  const open = () => openStore(join(home, 'data'), storeFiles);

  it('whose database lost a file is never written over', async () => {
    await (await open()).close();
    const version = join(home, 'data', 'store', 'PG_VERSION');
    rmSync(version);
    const before = readdirSync(join(home, 'data', 'store'));
    await expect(open()).rejects.toThrow(
      /is not whole: its file PG_VERSION is missing, beside .* It was left as it was/,
    );
    expect(readdirSync(join(home, 'data', 'store'))).toEqual(before);
  });

  it('with an empty folder for a database gets one', async () => {
    mkdirSync(join(home, 'data', 'store'), { recursive: true });
    await (await open()).close();
    expect(existsSync(join(home, 'data', 'store', 'PG_VERSION'))).toBe(true);
  });

  it('that is a file, or lies behind one, is refused with a sentence', async () => {
    writeFileSync(join(home, 'data'), '');
    await expect(open()).rejects.toThrow(/The data folder .* cannot be used: there is a file of that name/);
    await expect(openStore(join(home, 'data', 'deep'), storeFiles)).rejects.toThrow(/a part of its path is a file/);
  });

  it('whose database is damaged says so in words', async () => {
    await (await open()).close();
    writeFileSync(join(home, 'data', 'store', 'global', 'pg_control'), 'x'.repeat(8192));
    await expect(open()).rejects.toThrow(/could not be opened: its files are damaged\. It was left as it was/);
  });
});

describe('backups', () => {
  let home: string;
  beforeEach(() => {
    home = mkdtempSync(join(tmpdir(), 'backups-test-'));
  });
  afterEach(() => rmSync(home, { recursive: true, force: true }));

  it('hold all that is there, are put back whole, and leave what was there beside them', async () => {
    const own = await openStore(home, storeFiles);
    const card = await cardForVolume(own.db, info, false);
    await own.backUp();
    await cardForVolume(own.db, standInVolume(STAND_INS[1]!, { speed: Infinity, seed: 1 }).info, false);
    expect(await listDrives(own.db)).toHaveLength(2);
    await own.close();
    const [backup] = listBackups(home);
    expect(backup!.bytes).toBeGreaterThan(100_000);
    const before = await restoreStore(home, backup!.file);
    expect(existsSync(join(before!, 'PG_VERSION'))).toBe(true);
    const again = await openStore(home, storeFiles);
    expect((await listDrives(again.db)).map(({ label }) => label)).toEqual([card.label]);
    // A store that is open is put back by nobody.
    await expect(restoreStore(home, backup!.file)).rejects.toThrow(/in use by another Tavrox/);
    await again.close();
  });

  it('that are none change nothing', async () => {
    await (await openStore(home, storeFiles)).close();
    const bad = join(home, 'bad.tar.gz');
    writeFileSync(bad, 'no archive');
    const names = readdirSync(home).sort();
    await expect(restoreStore(home, bad)).rejects.toThrow(/is no backup of a store that can be opened/);
    expect(readdirSync(home).sort()).toEqual(names);
    await (await openStore(home, storeFiles)).close();
  });

  it('are due once a day, and the last seven are kept', async () => {
    const client = { exec: () => Promise.resolve([]), dumpDataDir: () => Promise.resolve(new Blob(['archive'])) };
    const at = (day: number) => new Date(Date.UTC(2026, 2, day, 9));
    for (let day = 1; day <= 9; day += 1) {
      expect(isBackupDue(home, at(day))).toBe(true);
      await makeBackup(home, client as unknown as PGlite, at(day));
      expect(isBackupDue(home, new Date(at(day).getTime() + 3_600_000))).toBe(false);
    }
    expect(listBackups(home).map(({ madeAt }) => madeAt.slice(8, 10))).toEqual([
      '09',
      '08',
      '07',
      '06',
      '05',
      '04',
      '03',
    ]);
  });
});
