import { freeName } from '#core/1-ground/words.ts';
import { and, asc, eq, getTableColumns } from 'drizzle-orm';
import { randomUUID } from 'node:crypto';
import type { DriveCard, DriveChange } from '#core/6-exchange/api/wire.ts';
import type { Identity } from '#core/4-runs/run/drive-and-volume.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import type { VolumeInfo } from '#engine/volumes/volume.ts';
import { Problem } from '#core/1-ground/problem.ts';
import type { NewDrive } from '#core/2-trade/drives/drive-line.ts';
import type { DriveDetails } from '#core/2-trade/drives/drive-details.ts';
import { drives } from '#server/store/schema.ts';
import { now, type Database } from '#server/store/database.ts';

const { changedAt, ...cardColumns } = getTableColumns(drives);
void changedAt;

export function listDrives(db: Database): Promise<DriveCard[]> {
  return db.select(cardColumns).from(drives).orderBy(asc(drives.createdAt), asc(drives.label));
}

const isIdentity = ({ kind, value }: VolumeInfo['identity']) =>
  and(eq(drives.identityKind, kind), eq(drives.identityValue, value));

/** The card of the drive behind a volume, made when this is the first run on it. */
export async function cardForVolume(db: Database, info: VolumeInfo, example: boolean): Promise<DriveCard> {
  const { kind, value } = info.identity;
  const isKnown = isIdentity(info.identity);
  const [known] = await db.select().from(drives).where(isKnown);
  if (known) return known;
  // Two of one make are told apart by their number, until somebody names them.
  const taken = await db.select({ label: drives.label }).from(drives);
  const label = freeName(
    info.driveLabel || info.label,
    taken.map((one) => one.label),
  );
  await db
    .insert(drives)
    .values({
      id: `d-${randomUUID().slice(0, 8)}`,
      label,
      medium: info.medium,
      identityKind: kind,
      identityValue: value,
      capacityBytes: Math.round(info.totalBytes),
      example,
      createdAt: new Date().toISOString(),
    })
    .onConflictDoNothing();
  const [card] = await db.select().from(drives).where(isKnown);
  return card!;
}

/** The card of the drive behind a volume; undefined where nothing was measured on it yet. */
export async function findCard(
  db: Database,
  { identity }: Pick<VolumeInfo, 'identity'>,
): Promise<DriveCard | undefined> {
  const [card] = await db.select(cardColumns).from(drives).where(isIdentity(identity));
  return card;
}

/** Changes what a person knows of a drive; what is changed is no example any more. @throws Problem `not-found` */
export async function changeDrive(db: Database, id: string, { label, details }: DriveChange): Promise<void> {
  const changed = await db
    .update(drives)
    .set({ label, details, example: false, changedAt: now() })
    .where(eq(drives.id, id))
    .returning({ id: drives.id });
  if (changed.length === 0) throw new Problem('not-found', `There is no drive “${id}”.`, { status: 404 });
}

/** Makes a card for a drive that is not here: it is recognised by nothing but its card. */
export async function addDrive(db: Database, { label, medium, capacityBytes, details }: NewDrive): Promise<DriveCard> {
  const id = `d-${randomUUID().slice(0, 8)}`;
  const [card] = await db
    .insert(drives)
    .values({
      id,
      label,
      medium,
      identityKind: 'typed',
      identityValue: id,
      capacityBytes: Math.round(capacityBytes),
      details,
      createdAt: new Date().toISOString(),
      changedAt: now(),
    })
    .returning(cardColumns);
  return card!;
}

/** Removes the card of a drive that was typed. @throws Problem `not-found`, or of one that was measured here */
export async function removeDrive(db: Database, id: string): Promise<void> {
  const [card] = await db.select(cardColumns).from(drives).where(eq(drives.id, id));
  if (!card) throw new Problem('not-found', `There is no drive “${id}”.`, { status: 404 });
  if (card.identityKind !== 'typed') {
    throw new Problem(
      'measured-drive',
      `${card.label} was measured here: its card goes with its runs. Delete those, or leave them out.`,
      { status: 409 },
    );
  }
  await db.delete(drives).where(eq(drives.id, id));
}

/** What a person typed fills what the other card does not say, and never the other way round. */
function joinedDetails(typed: DriveDetails, measured: DriveDetails): DriveDetails {
  const isSaid = (value: unknown) => value !== null && value !== undefined && value !== '';
  const said = Object.fromEntries(Object.entries(measured).filter(([, value]) => isSaid(value)));
  return { ...typed, ...said };
}

/**
 * A drive that was typed before it was there becomes the one that was measured since: its runs take over, and what its
 * box promises stays beside them on one card, under the name that it was typed with.
 * @throws Problem `not-found`, or where the first was not typed or the second not measured
 */
export async function joinDrives(db: Database, typedId: string, measuredId: string): Promise<DriveCard> {
  return db.transaction(async (tx) => {
    const cardOf = async (id: string): Promise<DriveCard> => {
      const [card] = await tx.select(cardColumns).from(drives).where(eq(drives.id, id));
      if (!card) throw new Problem('not-found', `There is no drive “${id}”.`, { status: 404 });
      return card;
    };
    const [typed, measured] = [await cardOf(typedId), await cardOf(measuredId)];
    if (typed.identityKind !== 'typed' || measured.identityKind === 'typed') {
      const why =
        typed.identityKind === 'typed'
          ? `${measured.label} was typed too: nothing of it was measured.`
          : `${typed.label} was measured itself, and not typed.`;
      throw new Problem('not-joined', `${why} Join a drive that was typed with one that was measured.`, {
        status: 409,
      });
    }
    await tx.delete(drives).where(eq(drives.id, typedId));
    const [joined] = await tx
      .update(drives)
      .set({
        label: typed.label,
        details: joinedDetails(typed.details, measured.details),
        example: false,
        changedAt: now(),
      })
      .where(eq(drives.id, measuredId))
      .returning(cardColumns);
    return joined!;
  });
}

/** Identities of drives on which nothing else is kept. */
export async function drivesUsedWhole(db: Database): Promise<Identity[]> {
  const cards = await db
    .select({ kind: drives.identityKind, value: drives.identityValue, details: drives.details })
    .from(drives);
  return cards.filter(({ details }) => details.usesAll).map(({ kind, value }) => ({ kind, value }));
}

/** Notes whether anything else is kept on the drive behind a volume, with a card for a drive that had none. */
export async function setUsesAll(db: Database, info: VolumeInfo, usesAll: boolean): Promise<void> {
  const { id, label, details } = await cardForVolume(db, info, false);
  const { usesAll: before, ...others } = details;
  if ((before ?? false) !== usesAll)
    await changeDrive(db, id, { label, details: usesAll ? { ...others, usesAll } : others });
}

/** Gives a made-up drive what it would have on its box; what a person changed stays. */
export async function describeExample(db: Database, id: string, details: DriveDetails): Promise<void> {
  await db
    .update(drives)
    .set({ details })
    .where(and(eq(drives.id, id), eq(drives.example, true)));
}

export function driveReference(card: DriveCard): RunDocument['drive'] {
  return {
    id: card.id,
    label: card.label,
    medium: card.medium,
    identity: { kind: card.identityKind, value: card.identityValue },
  };
}
