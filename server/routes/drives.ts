import { object } from 'yup';
import { driveDetailsSchema, driveLabelSchema } from '#core/2-trade/drives/drive-details.ts';
import { jsonSchemaOf } from '#core/1-ground/schema/json-schema.ts';
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

const changeSchema = object({
  label: driveLabelSchema,
  details: driveDetailsSchema.required('details: are missing.'),
}).noUnknown('body: “${unknown}” is not known.');

export const driveRoutes: RouteGroup = {
  tag: { name: 'Drives', description: 'Cards of drives and what their runs testify.' },
  routes({ db, profiles }) {
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
          response.json(await profiles.of(request.params.id));
        },
      ),
    ];
  },
};
