import { randomUUID } from 'node:crypto';
import { and, eq, or } from 'drizzle-orm';
import { badInput } from '#core/1-ground/problem.ts';
import type { ArchiveKind } from '#core/6-exchange/archive/archive-kinds.ts';
import type { ArchiveDocument } from '#core/6-exchange/archive/archive.ts';
import {
  countArrivals,
  doingOf,
  plannedArrivals,
  type KeptContents,
  type Planned,
  type Take,
} from '#core/6-exchange/archive/plan.ts';
import type { CopyEnd } from '#core/4-runs/run/copy-record.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { checksumOf } from '#server/archive/checksum.ts';
import { collectedOne, selectedIds, EVERYTHING, type Collected } from '#server/archive/collect.ts';
import type { ImportPreview } from '#core/6-exchange/api/wire.ts';
import { halvesOf } from '#core/6-exchange/report/report.ts';
import type { Incoming } from '#server/archive/read-archive.ts';
import { saveProject } from '#server/store/projects.ts';
import { keepReport } from '#server/store/reports.ts';
import { deleteRun, findRun, insertWholeRun, listRunMoments } from '#server/store/runs.ts';
import { drives } from '#server/store/schema.ts';
import { saveSettings } from '#server/store/settings.ts';
import { now, type Database } from '#server/store/database.ts';
import { saveWorkload } from '#server/store/workloads.ts';

/** Works out checksums of what is kept: here, or in a thread of its own. */
type Checksums = (one: ArchiveDocument) => string | Promise<string>;

/** What importing would change. Nothing is changed by it. */
export async function previewImport(
  db: Database,
  incoming: readonly Incoming[],
  take: Take,
  checksums: Checksums = checksumOf,
): Promise<ImportPreview> {
  const planned = await plan(db, incoming, checksums);
  return { planned, counts: countArrivals(planned, take) };
}

async function plan(db: Database, incoming: readonly Incoming[], checksums: Checksums): Promise<Planned[]> {
  const arrived = incoming.map((one) => one.arrived);
  const twice = arrived.find(
    (one, index) => arrived.findIndex(({ kind, id }) => kind === one.kind && id === one.id) < index,
  );
  if (twice) throw badInput('file', `It holds the ${twice.kind} “${twice.name}” twice.`);
  return plannedArrivals(arrived, await keptContents(db, incoming, checksums));
}

/** What is kept that may be the same. Of runs only those of the same id or moment are read: there may be very many. */
async function keptContents(db: Database, incoming: readonly Incoming[], checksums: Checksums): Promise<KeptContents> {
  const ids = await selectedIds(db, EVERYTHING);
  const moments = new Set(incoming.flatMap((one) => (one.kind === 'run' ? [Date.parse(one.document.startedAt)] : [])));
  const runIds = new Set(incoming.flatMap((one) => (one.kind === 'run' ? [one.document.id] : [])));
  const candidates = (await listRunMoments(db)).filter(
    ({ id, startedAt }) => runIds.has(id) || moments.has(Date.parse(startedAt)),
  );
  const kinds = new Set(incoming.map(({ kind }) => kind));
  const of = async (kind: ArchiveKind, some: readonly string[]) => {
    if (!kinds.has(kind)) return [];
    const contents = [];
    for (const id of some) {
      const one = await collectedOne(db, kind, id);
      if (!one) continue;
      contents.push({ id, content: await checksums(one), changedAt: one.changedAt });
    }
    return contents;
  };
  return {
    drive: await of('drive', ids.drive),
    run: await of(
      'run',
      candidates.map(({ id }) => id),
    ),
    workload: await of('workload', ids.workload),
    project: await of('project', ids.project),
    report: await of('report', ids.report),
    settings: await of('settings', ids.settings),
  };
}

/**
 * Takes documents in, all of them or none.
 * @param isGoingOn whether a run is still measured: it cannot be replaced
 */
export async function carryOutImport(
  db: Database,
  incoming: readonly Incoming[],
  take: Take,
  isGoingOn: (runId: string) => boolean,
  checksums: Checksums = checksumOf,
): Promise<ImportPreview> {
  const preview = await previewImport(db, incoming, take, checksums);
  await db.transaction(async (tx) => {
    for (const [index, planned] of preview.planned.entries()) {
      const doing = doingOf(planned, take);
      if (doing === 'leave') continue;
      const one = incoming[index]!;
      if (one.kind === 'run' && isGoingOn(one.document.id)) {
        throw badInput('file', `The run “${planned.name}” is still going on here. Let it end first.`);
      }
      await keep(tx, one, planned.changedAt ?? now(), doing === 'beside');
    }
  });
  return preview;
}

/** Keeps documents in a store that has none of them. @returns how many */
export async function keepAll(db: Database, documents: AsyncIterable<Collected>): Promise<number> {
  let number = 0;
  for await (const one of documents) {
    await keep(db, one, one.changedAt, false);
    number += 1;
  }
  return number;
}

const another = (id: string): string => `${id.slice(0, 60)}-${randomUUID().slice(0, 8)}`;

/** @param changedAt when a person changed it last; null where nobody did */
async function keep(db: Database, one: ArchiveDocument, changedAt: string | null, isBeside: boolean): Promise<void> {
  const id = isBeside ? another(one.document.id) : one.document.id;
  switch (one.kind) {
    case 'drive': {
      const { tavrox, ...card } = one.document;
      void tavrox;
      // A drive is known by its identity: there is one card for it, whatever that is called elsewhere.
      const same = and(eq(drives.identityKind, card.identityKind), eq(drives.identityValue, card.identityValue));
      const [known] = await db
        .select({ id: drives.id })
        .from(drives)
        .where(or(same, eq(drives.id, card.id)));
      const { label, details, example } = card;
      if (known) await db.update(drives).set({ label, details, example, changedAt }).where(eq(drives.id, known.id));
      else await db.insert(drives).values({ ...card, changedAt });
      return;
    }
    case 'run': {
      const { document } = one;
      const drive = await driveOf(db, { ...document, createdAt: document.startedAt });
      const copy = document.copy && { ...document.copy, ends: await endsOf(db, document, document.copy.ends) };
      if ((await findRun(db, id)) !== null) await deleteRun(db, id);
      await insertWholeRun(db, { ...document, id, drive, copy });
      return;
    }
    case 'workload':
      await saveWorkload(db, { ...one.document, id, name: besideName(one.document.name, isBeside) }, changedAt);
      return;
    case 'project': {
      const { tavrox, plan: own, ...project } = one.document;
      void tavrox;
      await saveProject(db, { ...project, id, plan: { ...own, name: besideName(own.name, isBeside) } }, changedAt);
      return;
    }
    case 'report': {
      const { outline, documents } = halvesOf(one.document);
      await keepReport(db, { ...outline, id }, documents, new Date(changedAt ?? now()));
      return;
    }
    case 'settings':
      await saveSettings(db, one.document, changedAt ?? now());
      return;
  }
}

const besideName = (name: string, isBeside: boolean): string => (isBeside ? `${name.slice(0, 108)}, imported` : name);

/** What is said of a drive where a run tells of it. */
interface Told extends Pick<RunDocument, 'drive' | 'volume' | 'example'> {
  createdAt: string;
}

/** The card that a drive of a run from elsewhere has here, made where the drive is not known yet. */
async function driveOf(db: Database, { drive, volume, example, createdAt }: Told): Promise<RunDocument['drive']> {
  const { kind, value } = drive.identity;
  const same = and(eq(drives.identityKind, kind), eq(drives.identityValue, value));
  const [known] = await db.select({ id: drives.id }).from(drives).where(same);
  if (known) return { ...drive, id: known.id };
  const [taken] = await db.select({ id: drives.id }).from(drives).where(eq(drives.id, drive.id));
  const id = taken ? another(drive.id) : drive.id;
  await db.insert(drives).values({
    id,
    label: drive.label,
    medium: drive.medium,
    identityKind: kind,
    identityValue: value,
    capacityBytes: Math.round(volume.totalBytes),
    example,
    createdAt,
  });
  return { ...drive, id };
}

/** The ends of a copy, each on the card that its drive has here. */
async function endsOf(
  db: Database,
  { example, startedAt: createdAt }: RunDocument,
  ends: readonly CopyEnd[],
): Promise<CopyEnd[]> {
  const mapped: CopyEnd[] = [];
  for (const end of ends) mapped.push({ ...end, drive: await driveOf(db, { ...end, example, createdAt }) });
  return mapped;
}
