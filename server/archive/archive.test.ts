import { createHash } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Ajv2020 from 'ajv/dist/2020.js';
import { strToU8, unzipSync, zipSync, type Zippable } from 'fflate';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { PUBLISHED_FORMATS } from '#core/6-exchange/api/published.ts';
import { ARCHIVE_KINDS } from '#core/6-exchange/archive/archive-kinds.ts';
import { contentOf, type Manifest } from '#core/6-exchange/archive/archive.ts';
import { TAKES, type Take } from '#core/6-exchange/archive/plan.ts';
import { reportOf, steadyRun } from '#core/testing/report-of.ts';
import { checkOptions, recipeKindById } from '#core/3-jobs/recipes/registry.ts';
import { planOfSizing } from '#core/5-answers/sizing/project.ts';
import { shoot, sizingOf } from '#core/testing/sizing-of.ts';
import { EVERYTHING, NOTHING, collected, selectedIds } from '#server/archive/collect.ts';
import { carryOutImport, previewImport } from '#server/archive/import.ts';
import { readIncoming } from '#server/archive/read-archive.ts';
import { restoreWorkspace } from '#server/archive/restore.ts';
import { writeArchive } from '#server/archive/write-archive.ts';
import { storeFiles } from '#server/store/files.ts';
import { saveProject } from '#server/store/projects.ts';
import { keepReport, readWholeReport } from '#server/store/reports.ts';
import { drives, projects, reports, runs, settings, workloads } from '#server/store/schema.ts';
import { changeSettings, findSettings } from '#server/store/settings.ts';
import { listRuns, readRun } from '#server/store/runs.ts';
import type { Database } from '#server/store/database.ts';
import { openTestStore } from '#server/testing/test-store.ts';
import { openStore, type Store } from '#server/store/store.ts';
import { listWorkloads, saveWorkload } from '#server/store/workloads.ts';

const never = () => false;

/** Two runs, a workload, a project, a report and settings. */
async function fill(db: Database): Promise<void> {
  for (const run of [steadyRun('run-1', 1000, 30), steadyRun('run-2', 500, 30)]) {
    const bytes = Buffer.from(JSON.stringify(run));
    await carryOutImport(db, readIncoming(bytes, 'run.json'), 'newer', never);
  }
  await saveWorkload(db, shoot(), '2026-03-01T10:00:00.000Z');
  await saveProject(
    db,
    { id: 'film', example: false, plan: planOfSizing(sizingOf()), drives: [], version: 0 },
    '2026-03-01T10:00:00.000Z',
  );
  const { tavrox, documents, ...outline } = reportOf();
  void tavrox;
  await keepReport(db, outline, documents, new Date('2026-03-12T08:00:00Z'));
  await changeSettings(db, {
    headroomShare: 0.4,
    recipeOptions: { 'long-fill': checkOptions(recipeKindById('long-fill'), { untilFloor: false }) },
  });
}

async function archiveOf(db: Database, selection = EVERYTHING): Promise<Buffer> {
  const parts: Uint8Array[] = [];
  await writeArchive(db, await selectedIds(db, selection), (part) => {
    parts.push(part.slice());
    return Promise.resolve();
  });
  return Buffer.concat(parts);
}

async function contents(db: Database): Promise<string[]> {
  const found: string[] = [];
  for await (const one of collected(db, await selectedIds(db, EVERYTHING))) found.push(`${one.kind} ${contentOf(one)}`);
  return found.sort();
}

let here: Store;
let there: Store;
beforeAll(async () => {
  here = await openTestStore();
  there = await openTestStore();
  await fill(here.db);
});
afterAll(async () => {
  await here.close();
  await there.close();
});
/** Nothing is there before a test. */
beforeEach(async () => {
  for (const table of [reports, runs, drives, workloads, projects, settings]) await there.db.delete(table);
});

describe('an archive', () => {
  it('takes a workspace elsewhere whole, and a second time changes nothing', async () => {
    const file = await archiveOf(here.db);
    const first = await carryOutImport(there.db, readIncoming(file, 'a.zip'), 'newer', never);
    expect(first.counts).toEqual({ kept: 7, replaced: 0, beside: 0, same: 0, left: 0 });
    expect(await contents(there.db)).toEqual(await contents(here.db));
    expect(await readWholeReport(there.db, 'report-1')).toEqual(await readWholeReport(here.db, 'report-1'));
    for (const take of TAKES) {
      const again = await carryOutImport(there.db, readIncoming(file, 'a.zip'), take, never);
      expect(again.counts).toEqual({ kept: 0, replaced: 0, beside: 0, same: 7, left: 0 });
    }
    expect(await contents(there.db)).toEqual(await contents(here.db));
  });

  it('holds documents that their published schemas accept', async () => {
    const ajv = new Ajv2020({ strict: false });
    const files = unzipSync(await archiveOf(here.db));
    const kinds = new Set<string>();
    for (const file of Object.values(files)) {
      const document = JSON.parse(Buffer.from(file).toString()) as { $schema: string };
      const { schema } = PUBLISHED_FORMATS.find((one) => one.schema['$id'] === document.$schema)!;
      const validate = ajv.getSchema(document.$schema) ?? ajv.compile(schema);
      expect(validate(document), JSON.stringify(validate.errors)).toBe(true);
      kinds.add(document.$schema);
    }
    expect(kinds.size).toBe(ARCHIVE_KINDS.length + 1);
  });

  it('holds what was asked for and nothing else', async () => {
    const file = await archiveOf(here.db, { ...NOTHING, workload: null, run: ['run-2'] });
    expect(readIncoming(file, 'a.zip').map(({ kind, document }) => `${kind} ${document.id}`)).toEqual([
      'run run-2',
      'workload night',
    ]);
    await expect(selectedIds(here.db, { ...NOTHING, run: ['gone'] })).rejects.toThrow('no run “gone”');
  });

  it('knows the same by what is in it, under whatever id, and a drive by its identity', async () => {
    await carryOutImport(there.db, readIncoming(await archiveOf(here.db), 'a.zip'), 'newer', never);
    const other = Buffer.from(JSON.stringify({ ...steadyRun('elsewhere', 1000, 30, 'd-elsewhere') }));
    const [same] = (await previewImport(there.db, readIncoming(other, 'run.json'), 'newer')).planned;
    expect(same).toMatchObject({ arrival: 'same', keptAs: 'run-1' });
    const third = Buffer.from(JSON.stringify(steadyRun('run-3', 700, 30, 'd-elsewhere')));
    await carryOutImport(there.db, readIncoming(third, 'run.json'), 'newer', never);
    const run = await readRun(there.db, 'run-3');
    expect(run.drive.id).toBe((await readRun(there.db, 'run-1')).drive.id);
    expect(await listRuns(there.db, 10)).toHaveLength(3);
  });

  it('settles what is there already and is another as it is told to', async () => {
    const file = await archiveOf(here.db);
    const changed = { ...shoot(), name: 'Another night' };
    const arrivalOf = async () =>
      (await previewImport(there.db, readIncoming(file, 'a.zip'), 'newer')).planned.find(
        ({ kind }) => kind === 'workload',
      )!.arrival;
    await saveWorkload(there.db, changed, '2026-02-01T10:00:00.000Z');
    expect(await arrivalOf()).toBe('newer');
    await saveWorkload(there.db, changed, null);
    expect(await arrivalOf()).toBe('conflict');
    await saveWorkload(there.db, changed, '2026-03-05T10:00:00.000Z');
    expect(await arrivalOf()).toBe('older');
    const names = async () => (await listWorkloads(there.db)).map(({ name }) => name);
    await carryOutImport(there.db, readIncoming(file, 'a.zip'), 'newer', never);
    expect(await names()).toEqual(['Another night']);
    await carryOutImport(there.db, readIncoming(file, 'a.zip'), 'both', never);
    expect(await names()).toEqual(['Another night', 'Night, imported']);
    await carryOutImport(there.db, readIncoming(file, 'a.zip'), 'theirs', never);
    expect(await names()).toEqual(['Night', 'Night, imported']);
  });

  it('has settings of its own, of which there is one: both cannot be kept', async () => {
    const file = await archiveOf(here.db);
    const shareAfter = async (take: Take) => {
      await carryOutImport(there.db, readIncoming(file, 'a.zip'), take, never);
      return (await findSettings(there.db))!.document;
    };
    await changeSettings(there.db, { headroomShare: 0.1 });
    await changeSettings(there.db, { traceAxis: 'seconds' });
    expect(await shareAfter('both')).toMatchObject({ headroomShare: 0.1, traceAxis: 'seconds', recipeOptions: {} });
    // What was chosen here came after what the archive holds.
    expect(await shareAfter('newer')).toMatchObject({ headroomShare: 0.1 });
    expect(await shareAfter('theirs')).toEqual((await findSettings(here.db))!.document);
    await expect(changeSettings(there.db, { headroomShare: 3 })).rejects.toThrow('headroom must be');
    expect((await findSettings(there.db))!.document.headroomShare).toBe(0.4);
  });

  it('changes nothing where a run of it is still measured here, or the store refuses one of them', async () => {
    await carryOutImport(there.db, readIncoming(await archiveOf(here.db), 'a.zip'), 'newer', never);
    const before = await contents(there.db);
    const run = Buffer.from(JSON.stringify({ ...steadyRun('run-1', 1000, 30), note: 'other' }));
    const going = readIncoming(run, 'run.json');
    await expect(carryOutImport(there.db, going, 'theirs', () => true)).rejects.toThrow('still going on');
    const bad = readIncoming(await archiveOf(here.db), 'a.zip').map((one) =>
      one.kind === 'workload'
        ? {
            ...one,
            document: { ...one.document, id: null as unknown as string },
            arrived: { ...one.arrived, content: 'x' },
          }
        : { ...one, arrived: { ...one.arrived, content: `x${one.kind}`, id: `${one.arrived.id}-new` } },
    );
    await expect(carryOutImport(there.db, bad, 'theirs', never)).rejects.toThrow();
    expect(await contents(there.db)).toEqual(before);
  });
});

describe('a hostile archive', () => {
  const good = async (): Promise<{ files: Zippable; manifest: Manifest }> => {
    const files = unzipSync(await archiveOf(here.db));
    return { files, manifest: JSON.parse(Buffer.from(files['manifest.json']!).toString()) as Manifest };
  };
  const zipped = (files: Zippable) => Buffer.from(zipSync(files));
  const sum = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');

  it.each([
    '../outside.json',
    '/etc/passwd',
    'runs/../../x.json',
    'C:\\x.json',
    'runs\\x.json',
    'notes.txt',
    'runs/.json',
    'runs/a b.json',
  ])('may not name %s', async (path) => {
    const { files } = await good();
    expect(() => readIncoming(zipped({ ...files, [path]: strToU8('{}') }), 'a.zip')).toThrow('none of our files');
  });

  it('is refused when a file is not as its manifest says, is missing, or is not named', async () => {
    const { files, manifest } = await good();
    const [first] = manifest.entries;
    expect(() => readIncoming(zipped({ ...files, [first!.path]: strToU8('{}') }), 'a.zip')).toThrow(
      'not as its manifest says',
    );
    const { [first!.path]: gone, ...rest } = files;
    void gone;
    expect(() => readIncoming(zipped(rest), 'a.zip')).toThrow(`${first!.path} is missing`);
    expect(() => readIncoming(zipped({ ...files, 'runs/9999-x.json': strToU8('{}') }), 'a.zip')).toThrow(
      'does not name',
    );
    const { 'manifest.json': without, ...bare } = files;
    void without;
    expect(() => readIncoming(zipped(bare), 'a.zip')).toThrow('no manifest.json');
    const twice = { ...manifest, entries: [...manifest.entries, first!] };
    expect(() => readIncoming(zipped({ ...files, 'manifest.json': strToU8(JSON.stringify(twice)) }), 'a.zip')).toThrow(
      'twice',
    );
  });

  it('is refused when a document in it is none, is another kind, or has another id', async () => {
    const { files, manifest } = await good();
    const withFirst = (bytes: Uint8Array, change: object = {}) => {
      const [first, ...others] = manifest.entries;
      const entry = { ...first!, bytes: bytes.length, sha256: sum(bytes), ...change };
      const text = JSON.stringify({ ...manifest, entries: [entry, ...others] });
      return zipped({ ...files, [first!.path]: bytes, 'manifest.json': strToU8(text) });
    };
    expect(() => readIncoming(withFirst(strToU8('not json')), 'a.zip')).toThrow('JSON');
    expect(() => readIncoming(withFirst(strToU8(JSON.stringify(shoot()))), 'a.zip')).toThrow('this is a workload');
    const [drive] = manifest.entries;
    const bytes = files[drive!.path] as Uint8Array;
    expect(() => readIncoming(withFirst(bytes, { id: 'another' }), 'a.zip')).toThrow('another id');
  });

  it('does not unpack what would become too large, whatever it says of itself', async () => {
    const { files } = await good();
    // Twenty megabytes that pack into almost nothing, whose size in the archive is then said to be another.
    const bomb = zipped({ ...files, 'runs/0009-x.json': new Uint8Array(20e6) });
    expect(bomb.length).toBeLessThan(1e6);
    const sizeSaid = (bytes: number) => {
      const changed = Buffer.from(bomb);
      const size = Buffer.alloc(4);
      size.writeUInt32LE(20e6);
      for (let at = changed.indexOf(size); at >= 0; at = changed.indexOf(size, at + 1))
        changed.writeUInt32LE(bytes, at);
      return changed;
    };
    expect(() => readIncoming(sizeSaid(501e6), 'a.zip')).toThrow('would become larger');
    // With one that is too small what is unpacked ends there, and is not what the manifest says.
    const lying = sizeSaid(10);
    expect(() => readIncoming(lying, 'a.zip')).toThrow();
  });

  it('is refused when it is cut off or no zip at all', async () => {
    const file = await archiveOf(here.db);
    expect(() => readIncoming(file.subarray(0, file.length - 30), 'a.zip')).toThrow('damaged, or not whole');
    expect(() => readIncoming(Buffer.from('PK but no more'), 'a.zip')).toThrow('damaged, or not whole');
    expect(() => readIncoming(Buffer.from('hello'), 'a.txt')).toThrow('a.txt');
  });

  it('says where a document is opened that is no part of a workspace', () => {
    const profile = reportOf().documents.profiles[0];
    expect(() => readIncoming(Buffer.from(JSON.stringify(profile)), 'p.json')).toThrow('tavrox fit --profile');
    expect(() => readIncoming(Buffer.from(JSON.stringify(sizingOf())), 's.json')).toThrow('Open it in Sizing');
  });
});

describe('restoring while a server runs', () => {
  let folder: string;
  beforeEach(() => {
    folder = mkdtempSync(join(tmpdir(), 'tavrox-restore-'));
  });
  afterEach(() => rmSync(folder, { recursive: true, force: true }));

  it('puts a backup in the place of everything, and backs up what was there', async () => {
    const store = await openStore(folder, storeFiles);
    try {
      await fill(store.db);
      const backup = (await store.backUp())!;
      const before = await contents(store.db);
      await saveWorkload(store.db, { ...shoot(), id: 'later', name: 'Later' });
      await expect(restoreWorkspace(store, backup.file, () => true)).rejects.toThrow('is measured');
      const { documents, before: kept } = await restoreWorkspace(store, backup.file, never);
      expect(documents).toBe(ARCHIVE_KINDS.length + 1);
      expect(kept).not.toBeNull();
      expect(await contents(store.db)).toEqual(before);
      await expect(restoreWorkspace(store, join(folder, 'store.lock'), never)).rejects.toThrow('no backup');
      expect(await contents(store.db)).toEqual(before);
    } finally {
      await store.close();
    }
  });
});
