import { createHash } from 'node:crypto';
import { and, eq, inArray } from 'drizzle-orm';
import type { Connection } from '#core/2-trade/links/connection.ts';
import { Problem } from '#core/1-ground/problem.ts';
import { profileRunOf, profilesOf, type Profile, type ProfileRun } from '#core/4-runs/supply/profile.ts';
import { promisedProfile } from '#core/4-runs/supply/promised.ts';
import { ANALYSIS_VERSION } from '#core/4-runs/supply/run-summary.ts';
import type { DriveCard } from '#core/6-exchange/api/wire.ts';
import { listDrives } from '#server/store/drives.ts';
import { findRun, runIdsOfDrive } from '#server/store/runs.ts';
import type { Database } from '#server/store/database.ts';
import { runProfiles } from '#server/store/schema.ts';

/** Runs of a drive that are asked for what they testify, newest first. */
const MOST_TESTIFYING_RUNS = 24;
/** Profiles as they are sent, kept in memory: they are asked for again whenever a place opens. */
const MOST_KEPT_BYTES = 48e6;

/** What the runs of drives testify. */
export interface Profiles {
  /** A profile for each connection that a drive was measured on, the latest first. @throws Problem `not-found` */
  of(driveId: string): Promise<Profile[]>;
  /**
   * The same as JSON, with a mark that changes with it. Whoever holds what has the mark `known` is told so, and nothing is
   * worked out. @throws Problem `not-found`
   */
  textOf(driveId: string, known?: string): Promise<{ mark: string; text: string | null }>;
}

interface Testimony {
  connection: Connection;
  adds: ProfileRun;
}

export function createProfiles(db: Database): Profiles {
  /** By drive: what it was made of, and the text; the one asked for last stands last. */
  const kept = new Map<string, { key: string; text: string }>();

  /** What runs testify, in their order: kept with the store, or worked out and kept there. */
  async function testimonies(ids: readonly string[]): Promise<Testimony[]> {
    if (ids.length === 0) return [];
    const isCurrent = and(inArray(runProfiles.runId, [...ids]), eq(runProfiles.analysisVersion, ANALYSIS_VERSION));
    const known = new Map(
      (await db.select().from(runProfiles).where(isCurrent)).map((row): [string, Testimony] => [row.runId, row]),
    );
    const found: Testimony[] = [];
    for (const id of ids) {
      const one = known.get(id) ?? (await workedOut(id));
      if (one) found.push({ connection: one.connection, adds: one.adds });
    }
    return found;
  }

  async function workedOut(id: string): Promise<Testimony | null> {
    const run = await findRun(db, id);
    if (run === null) return null;
    const values = { analysisVersion: ANALYSIS_VERSION, connection: run.connection, adds: profileRunOf(run) };
    await db
      .insert(runProfiles)
      .values({ runId: id, ...values })
      .onConflictDoUpdate({ target: runProfiles.runId, set: values })
      // It was deleted since, or the store takes nothing now: what was worked out is true all the same.
      .catch(() => undefined);
    return values;
  }

  async function asked(driveId: string): Promise<{ drive: DriveCard; ids: string[] }> {
    const drive = (await listDrives(db)).find((one) => one.id === driveId);
    if (!drive) throw new Problem('not-found', `There is no drive “${driveId}”.`, { status: 404 });
    return { drive, ids: await runIdsOfDrive(db, driveId, MOST_TESTIFYING_RUNS) };
  }

  async function profilesFrom(drive: DriveCard, ids: readonly string[]): Promise<Profile[]> {
    const profiles = profilesOf({ id: drive.id, label: drive.label, medium: drive.medium }, await testimonies(ids));
    // Until it is measured, what was typed of a drive is what is known of it.
    if (profiles.length === 0) {
      const promised = promisedProfile(drive);
      return promised === null ? [] : [promised];
    }
    const { hops } = drive.details;
    // What a person typed of the connection counts for the one it was measured on last.
    if (hops && profiles[0]) {
      profiles[0] = { ...profiles[0], connection: { hops }, detected: profiles[0].connection };
    }
    return profiles;
  }

  return {
    async of(driveId) {
      const { drive, ids } = await asked(driveId);
      return profilesFrom(drive, ids);
    },
    async textOf(driveId, known) {
      const { drive, ids } = await asked(driveId);
      const key = JSON.stringify([ANALYSIS_VERSION, drive, ids]);
      const mark = `"${createHash('sha256').update(key).digest('base64url')}"`;
      if (mark === known) return { mark, text: null };
      const before = kept.get(driveId);
      const text = before?.key === key ? before.text : JSON.stringify(await profilesFrom(drive, ids));
      kept.delete(driveId);
      kept.set(driveId, { key, text });
      let bytes = [...kept.values()].reduce((sum, one) => sum + one.text.length, 0);
      for (const [id, one] of kept) {
        if (bytes <= MOST_KEPT_BYTES || id === driveId) break;
        bytes -= one.text.length;
        kept.delete(id);
      }
      return { mark, text };
    },
  };
}
