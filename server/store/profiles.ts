import type { Connection } from '#core/2-trade/links/connection.ts';
import { Problem } from '#core/1-ground/problem.ts';
import { profileRunOf, profilesOf, type Profile, type ProfileRun } from '#core/4-runs/supply/profile.ts';
import { promisedProfile } from '#core/4-runs/supply/promised.ts';
import { listDrives } from '#server/store/drives.ts';
import { findRun, runIdsOfDrive } from '#server/store/runs.ts';
import type { Database } from '#server/store/database.ts';

/** Runs of a drive that are asked for what they testify, newest first. */
const MOST_TESTIFYING_RUNS = 24;
/** What runs add to profiles, kept in memory: it is asked for again whenever a place opens. */
const MOST_KEPT = 200;

/** What the runs of drives testify. */
export interface Profiles {
  /** A profile for each connection that a drive was measured on, the latest first. @throws Problem `not-found` */
  of(driveId: string): Promise<Profile[]>;
}

export function createProfiles(db: Database): Profiles {
  const kept = new Map<string, { connection: Connection; adds: ProfileRun }>();
  async function keptRun(id: string): Promise<{ connection: Connection; adds: ProfileRun } | null> {
    const known = kept.get(id);
    if (known) return known;
    const run = await findRun(db, id);
    if (run === null) return null;
    const entry = { connection: run.connection, adds: profileRunOf(run) };
    kept.set(id, entry);
    if (kept.size > MOST_KEPT) kept.delete(kept.keys().next().value!);
    return entry;
  }
  return {
    async of(driveId) {
      const drive = (await listDrives(db)).find((one) => one.id === driveId);
      if (!drive) throw new Problem('not-found', `There is no drive “${driveId}”.`, { status: 404 });
      const runs = [];
      for (const runId of await runIdsOfDrive(db, driveId, MOST_TESTIFYING_RUNS)) {
        const run = await keptRun(runId);
        if (run) runs.push(run);
      }
      const profiles = profilesOf({ id: driveId, label: drive.label, medium: drive.medium }, runs);
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
    },
  };
}
