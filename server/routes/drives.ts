import { number, object, string } from 'yup';
import { MEDIA } from '#core/2-trade/drives/medium.ts';
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
  unlessKnown,
  get,
  patch,
  post,
  remove,
} from '#server/routes/describe.ts';
import { addDrive, changeDrive, joinDrives, listDrives, removeDrive } from '#server/store/drives.ts';

const changeSchema = object({
  label: driveLabelSchema,
  details: driveDetailsSchema.required('details: are missing.'),
}).noUnknown('body: “${unknown}” is not known.');

const newDriveSchema = object({
  label: driveLabelSchema,
  medium: string().oneOf(MEDIA).required('medium: is missing.'),
  capacityBytes: number().positive('capacity: must be more than nothing.').max(1e18).required('capacity: is missing.'),
  details: driveDetailsSchema.required('details: are missing.'),
}).noUnknown('body: “${unknown}” is not known.');

const joinSchema = object({
  with: string().required('with: which measured drive it is must be given.').max(80),
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
      post(
        '/drives',
        operation(
          'addDrive',
          'Adds a drive that is not here, as it is known from its box',
          201,
          json('Its card', anything),
          body(jsonSchemaOf(newDriveSchema)),
        ),
        async (request, response) => {
          response.status(201).json(await addDrive(db, validated(newDriveSchema, request.body)));
        },
      ),
      post(
        '/drives/{id}/join',
        operation(
          'joinDrives',
          'Makes one card of a drive that was typed and of the measured one that it is',
          200,
          json('The card of both', anything),
          all(byId, body(jsonSchemaOf(joinSchema)), { refuses: [409] }),
        ),
        async (request, response) => {
          response.json(await joinDrives(db, request.params.id, validated(joinSchema, request.body).with));
        },
      ),
      remove(
        '/drives/{id}',
        operation('removeDrive', 'Removes a drive that was typed', 204, nothing('Gone'), all(byId, { refuses: [409] })),
        async (request, response) => {
          await removeDrive(db, request.params.id);
          response.status(204).end();
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
          all(byId, unlessKnown),
        ),
        async (request, response) => {
          const { mark, text } = await profiles.textOf(request.params.id, request.get('If-None-Match'));
          response.set('ETag', mark);
          if (text === null) response.status(304).end();
          else response.type('application/json').send(text);
        },
      ),
    ];
  },
};
