import { once } from 'node:events';
import type { Request, Response } from 'express';
import { badInput } from '#core/1-ground/problem.ts';
import { ARCHIVE_KINDS } from '#core/6-exchange/archive/archive-kinds.ts';
import { TAKES, type Take } from '#core/6-exchange/archive/plan.ts';
import { selectedIds, selectionOf } from '#server/archive/collect.ts';
import { carryOutImport, previewImport } from '#server/archive/import.ts';
import { writeArchive } from '#server/archive/write-archive.ts';
import {
  all,
  anything,
  get,
  json,
  operation,
  post,
  query,
  type RouteGroup,
  type Takes,
} from '#server/routes/describe.ts';

const octets = { schema: { type: 'string', format: 'binary' } };
const file: Takes = {
  requestBody: {
    required: true,
    description: 'An archive, a document of Tavrox, or a report as PDF or HTML.',
    content: { 'application/octet-stream': octets },
  },
  refuses: [422],
};
const named = query('name', { type: 'string', maxLength: 400 }, false, 'Name of the file, for sentences.');
const settled = query(
  'take',
  { type: 'string', enum: [...TAKES], default: 'newer' },
  false,
  'What is done where something is there already and is another.',
);
const only = query(
  'only',
  { type: 'string' },
  false,
  `What of the workspace: kinds (${ARCHIVE_KINDS.join(', ')}), or kind:id, parted by commas. All of it where nothing is said.`,
);

export const archiveRoutes: RouteGroup = {
  tag: { name: 'Archive', description: 'A workspace, or parts of it, from one Tavrox to another.' },
  routes({ db, archives, runs }) {
    const incoming = (request: Request) => {
      if (!Buffer.isBuffer(request.body) || request.body.length === 0) throw badInput('file', 'The file is empty.');
      return archives.read(request.body, textIn(request.query['name'], 'The file').slice(0, 400));
    };
    return [
      get(
        '/archive',
        operation(
          'exportArchive',
          'An archive of the workspace or of parts of it',
          200,
          { description: 'A zip of published documents', content: { 'application/zip': octets } },
          all(only, { refuses: [404] }),
        ),
        async (request, response) => {
          const ids = await selectedIds(db, selectionOf(textIn(request.query['only'], '')));
          response.type('application/zip');
          await writeArchive(db, ids, (part) => sent(response, part));
          response.end();
        },
      ),
      post(
        '/archive/preview',
        operation(
          'previewImport',
          'What importing a file would change; nothing is changed',
          200,
          json('Document by document', anything),
          all(file, named, settled),
        ),
        async (request, response) => {
          response.json(
            await previewImport(db, await incoming(request), takeOf(request.query['take']), archives.checksumOf),
          );
        },
      ),
      post(
        '/archive',
        operation(
          'importFile',
          'Takes a file in, all of it or nothing',
          200,
          json('What was done', anything),
          all(file, named, settled),
        ),
        async (request, response) => {
          const take = takeOf(request.query['take']);
          const isGoingOn = (id: string) => runs.active().some(({ runId }) => runId === id);
          response.json(await carryOutImport(db, await incoming(request), take, isGoingOn, archives.checksumOf));
        },
      ),
    ];
  },
};

/** Sends a part, and waits while the other side has enough. @throws Error when it went away */
async function sent(response: Response, part: Uint8Array): Promise<void> {
  if (response.destroyed) throw new Error('Nobody waits for the archive any more.');
  if (!response.write(part)) await Promise.race([once(response, 'drain'), once(response, 'close')]);
}

function takeOf(input: unknown): Take {
  const take = TAKES.find((one) => one === (input ?? 'newer'));
  if (take) return take;
  throw badInput('take', `take: must be one of ${TAKES.join(', ')}.`);
}

/** What is said in an address; something else where it is said twice. */
const textIn = (input: unknown, otherwise: string): string => (typeof input === 'string' ? input : otherwise);
