import { boolean, number, object } from 'yup';
import { RECORDING_COLUMNS, recordingSchema, type RecordingRows } from '#core/3-jobs/recording/recording.ts';
import { jsonSchemaOf } from '#core/1-ground/schema/json-schema.ts';
import { recordablePrograms } from '#engine/processes/recordings.ts';
import type { Recorder } from '#engine/processes/recorder.ts';
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
  query,
  type RouteGroup,
  get,
  post,
  remove,
} from '#server/routes/describe.ts';

const startSchema = object({
  /** Number of a process that runs. */
  pid: number().integer().positive('pid: must be the number of a process.').required('pid: is missing.'),
}).noUnknown('body: “${unknown}” is not known.');

const state = jsonSchemaOf(recordingSchema.concat(object({ isGoing: boolean().required() })));

/** A recording with the rows from one on, so that what goes on is asked for again in parts. */
function stateOf({ recording, isGoing }: Recorder, fromRow: number) {
  const rows = Object.fromEntries(
    RECORDING_COLUMNS.map((column) => [column, recording.rows[column].slice(fromRow)]),
  ) as unknown as RecordingRows;
  return { ...recording, rows, isGoing };
}

/**
 * Programs are only looked at here, never started: what a page asks for must not run commands. The
 * command line starts them, see `tavrox record`.
 */
export const recordingRoutes: RouteGroup = {
  tag: { name: 'Recordings', description: 'What programs read and write.' },
  routes({ recordings }) {
    return [
      get(
        '/programs',
        operation('listPrograms', 'Programs that can be recorded', 200, json('Programs', list(anything))),
        (_request, response) => {
          response.json(recordablePrograms());
        },
      ),
      get(
        '/recordings',
        operation('listRecordings', 'Recordings', 200, json('Recordings without their rows', list(anything))),
        (_request, response) => {
          response.json(recordings.list().map((one) => stateOf(one, Infinity)));
        },
      ),
      post(
        '/recordings',
        operation(
          'startRecording',
          'Records a running program',
          201,
          json('The recording', state),
          all(body(jsonSchemaOf(startSchema)), { refuses: [403, 404, 409] }),
        ),
        (request, response) => {
          const { pid } = validated(startSchema, request.body);
          response.status(201).json(stateOf(recordings.start(pid), 0));
        },
      ),
      get(
        '/recordings/{id}',
        operation(
          'readRecording',
          'A recording, its rows from one on',
          200,
          json('The recording', state),
          all(byId, query('from', { type: 'integer', minimum: 0 }, false, 'First row that is asked for.')),
        ),
        (request, response) => {
          const from = Number(request.query['from'] ?? 0);
          response.json(stateOf(recordings.find(request.params.id), Number.isInteger(from) && from > 0 ? from : 0));
        },
      ),
      post(
        '/recordings/{id}/stop',
        operation('stopRecording', 'Ends a recording', 200, json('The recording', state), byId),
        (request, response) => {
          const recorder = recordings.find(request.params.id);
          recorder.stop();
          response.json(stateOf(recorder, 0));
        },
      ),
      remove(
        '/recordings/{id}',
        operation('removeRecording', 'Ends and removes a recording', 204, nothing('Removed'), byId),
        (request, response) => {
          recordings.remove(request.params.id);
          response.status(204).end();
        },
      ),
    ];
  },
};
