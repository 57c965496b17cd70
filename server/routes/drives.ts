import { object } from 'yup';
import { driveDetailsSchema, driveLabelSchema } from '#core/2-trade/drives/drive-details.ts';
import { jsonSchemaOf } from '#core/1-ground/schema/json-schema.ts';
import type { Connection } from '#core/2-trade/links/connection.ts';
import { Problem } from '#core/1-ground/problem.ts';
import { profileRunOf, profilesOf, type ProfileRun } from '#core/4-runs/supply/profile.ts';
import { validated } from '#server/http/validate.ts';
import {
  all,
  anything,
  body,
  byId,
  json,
  list,
  nothing,
  operation,
  ref,
  type RouteGroup,
  get,
  patch,
} from '#server/routes/describe.ts';
import { changeDrive, listDrives } from '#server/store/drives.ts';
import { findRun, runIdsOfDrive } from '#server/store/runs.ts';

/** Runs of a drive that are asked for what they testify, newest first. */
const MOST_TESTIFYING_RUNS = 24;
/** What runs add to profiles, kept in memory: it is asked for again whenever a place opens. */
const MOST_KEPT = 200;

const changeSchema = object({
  label: driveLabelSchema,
  details: driveDetailsSchema.required('details: are missing.'),
}).noUnknown('body: “${unknown}” is not known.');

export const driveRoutes: RouteGroup = {
  tag: { name: 'Drives', description: 'Cards of drives and what their runs testify.' },
  routes({ db }) {
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
    return [
      get(
        '/drives',
        operation('listDrives', 'Drive cards', 200, json('Drives', list(anything))),
        async (_request, response) => {
          response.json(await listDrives(db));
        },
      ),
      patch(
        '/drives/{id}',
        operation(
          'changeDrive',
          'Changes a drive’s card',
          204,
          nothing('Kept'),
          all(byId, body(jsonSchemaOf(changeSchema))),
        ),
        async (request, response) => {
          await changeDrive(db, request.params.id, validated(changeSchema, request.body));
          response.status(204).end();
        },
      ),
      /** What a drive's runs can testify, a profile for each connection, the latest first. */
      get(
        '/drives/{id}/profiles',
        operation(
          'readProfiles',
          'What a drive’s runs testify, by connection',
          200,
          json('Profiles', list(ref('Profile'))),
          byId,
        ),
        async (request, response) => {
          const { id } = request.params;
          const drive = (await listDrives(db)).find((one) => one.id === id);
          if (!drive) throw new Problem('not-found', `There is no drive “${id}”.`, { status: 404 });
          const runs = [];
          for (const runId of await runIdsOfDrive(db, id, MOST_TESTIFYING_RUNS)) {
            const run = await keptRun(runId);
            if (run) runs.push(run);
          }
          const profiles = profilesOf({ id, label: drive.label, medium: drive.medium }, runs);
          const { hops } = drive.details;
          // What a person typed of the connection counts for the one it was measured on last.
          if (hops && profiles[0]) profiles[0] = { ...profiles[0], connection: { hops } };
          response.json(profiles);
        },
      ),
    ];
  },
};
