import { randomUUID } from 'node:crypto';
import { object, string } from 'yup';
import type { ReportEntry } from '#core/6-exchange/api/wire.ts';
import { Problem, badInput } from '#core/1-ground/problem.ts';
import { jsonSchemaOf } from '#core/1-ground/schema/json-schema.ts';
import { parseDocument } from '#core/1-ground/schema/parse-document.ts';
import { titleOf } from '#core/6-exchange/report/composed.ts';
import { newOutline, putSchema } from '#core/6-exchange/report/put.ts';
import {
  halvesOf,
  missingFor,
  noDocuments,
  reportDateSchema,
  reportOutlineSchema,
  type ReportOutline,
} from '#core/6-exchange/report/report.ts';
import { FORM_TYPES, REPORT_FORMS } from '#server/reports/written.ts';
import { currentOf, putInto, renewed } from '#server/reports/put-into.ts';
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
  put,
  remove,
} from '#server/routes/describe.ts';
import {
  deleteReport,
  keepReport,
  listReports,
  readDocuments,
  readKeptReport,
  saveOutline,
  type KeptReport,
} from '#server/store/reports.ts';

/** A report is begun on a day of the person's own, which the server need not share. */
const beginSchema = object({
  date: reportDateSchema(),
}).noUnknown('body: “${unknown}” is not known.');

/** A file as it was chosen: its name, and what is in it in base 64. */
const fileSchema = object({
  name: string().required('name: is missing.').max(400),
  base64: string().required('base64: the file is empty.'),
}).noUnknown('body: “${unknown}” is not known.');

const entryOf = ({ outline, revision, changedAt }: KeptReport): ReportEntry => ({
  outline,
  title: titleOf(outline),
  revision,
  changedAt,
});

const newReportId = () => `report-${randomUUID().slice(0, 8)}`;

const file = (description: string) => ({
  description,
  content: Object.fromEntries(
    Object.values(FORM_TYPES).map((type) => [type.split(';')[0]!, { schema: { type: 'string', format: 'binary' } }]),
  ),
});

const formSchema = { type: 'string', enum: [...REPORT_FORMS] };

export const reportRoutes: RouteGroup = {
  tag: { name: 'Reports', description: 'What was found out, for others.' },
  routes({ db, profiles, composer }) {
    const now = { db, profiles };
    const entry = async (id: string): Promise<ReportEntry> => entryOf(await readKeptReport(db, id));
    /** What is saved by a person is no example any more. */
    const checked = async (input: unknown, id: string): Promise<ReportOutline> => {
      const outline = reportOutlineSchema.cast(parseDocument(reportOutlineSchema, input, 'report'));
      if (outline.id !== id) throw badInput('id', 'id: is another than in the address.');
      const documents = await readDocuments(db, id);
      for (const part of outline.parts) {
        const missing = missingFor(part, { asked: outline.asked, documents });
        if (missing !== null)
          throw badInput('parts', `parts: one needs ${missing}, which was not put into this report.`);
      }
      return { ...outline, example: false };
    };
    return [
      get(
        '/reports',
        operation('listReports', 'Reports, the one changed last first', 200, json('Reports', list(anything))),
        async (_request, response) => {
          response.json((await listReports(db)).map(entryOf));
        },
      ),
      post(
        '/reports',
        operation('beginReport', 'Begins a report', 201, json('It', anything), body(jsonSchemaOf(beginSchema))),
        async (request, response) => {
          const { date } = validated(beginSchema, request.body);
          const outline = newOutline(newReportId(), date);
          await keepReport(db, outline, noDocuments());
          response.status(201).json(await entry(outline.id));
        },
      ),
      /** From a report of Tavrox as PDF, HTML or JSON, wherever it was made. */
      post(
        '/reports/read',
        operation(
          'readReport',
          'Keeps a report from a file',
          201,
          json('It', anything),
          body(jsonSchemaOf(fileSchema)),
        ),
        async (request, response) => {
          const { name, base64 } = validated(fileSchema, request.body);
          const { outline, documents } = halvesOf(await composer.read(Buffer.from(base64, 'base64'), name));
          const isThere = (await listReports(db)).some((one) => one.outline.id === outline.id);
          const id = isThere ? newReportId() : outline.id;
          await keepReport(db, { ...outline, id, example: false }, documents);
          response.status(201).json(await entry(id));
        },
      ),
      get(
        '/reports/{id}',
        operation('readReportOutline', 'A report without its documents', 200, json('It', anything), byId),
        async (request, response) => {
          response.json(await entry(request.params.id));
        },
      ),
      put(
        '/reports/{id}',
        operation(
          'saveReport',
          'Keeps what a person wrote and arranged of a report',
          200,
          json('It', anything),
          all(byId, body(jsonSchemaOf(reportOutlineSchema))),
        ),
        async (request, response) => {
          const { id } = request.params;
          await readKeptReport(db, id);
          await saveOutline(db, await checked(request.body, id));
          response.json(await entry(id));
        },
      ),
      remove(
        '/reports/{id}',
        operation('deleteReport', 'Deletes a report', 204, nothing('Deleted'), byId),
        async (request, response) => {
          await deleteReport(db, request.params.id);
          response.status(204).end();
        },
      ),
      post(
        '/reports/{id}/parts',
        operation(
          'putIntoReport',
          'Puts something into a report, with the documents that it is drawn from as they are now',
          200,
          json('The report', anything),
          all(byId, body(jsonSchemaOf(putSchema))),
        ),
        async (request, response) => {
          const { outline } = await readKeptReport(db, request.params.id);
          const asked = validated(putSchema, request.body);
          const kept = await putInto(now, outline, await readDocuments(db, outline.id), asked);
          await keepReport(db, { ...kept.outline, example: false }, kept.documents);
          response.json(await entry(outline.id));
        },
      ),
      post(
        '/reports/{id}/copy',
        operation('copyReport', 'Makes another of a report', 201, json('The copy', anything), byId),
        async (request, response) => {
          const { outline } = await readKeptReport(db, request.params.id);
          const copy = {
            ...outline,
            id: newReportId(),
            title: `${titleOf(outline)}, copy`.slice(0, 200),
            example: false,
          };
          await keepReport(db, copy, await readDocuments(db, outline.id));
          response.status(201).json(await entry(copy.id));
        },
      ),
      /** What is kept here takes the place of what was so when it was put in; what is not kept here stays. */
      post(
        '/reports/{id}/renew',
        operation('renewReport', 'Draws a report from what is kept now', 200, json('It', anything), byId),
        async (request, response) => {
          const { outline } = await readKeptReport(db, request.params.id);
          await keepReport(db, { ...outline, example: false }, await renewed(now, await readDocuments(db, outline.id)));
          response.json(await entry(outline.id));
        },
      ),
      get(
        '/reports/{id}/pages',
        operation('readReportPages', 'A report on its pages, as it would leave', 200, json('Pages', anything), byId),
        async (request, response) => {
          const { outline, revision } = await readKeptReport(db, request.params.id);
          response.json(await composer.pages(outline, revision, () => readDocuments(db, outline.id)));
        },
      ),
      get(
        '/reports/{id}/changes',
        operation(
          'readReportChanges',
          'What is not any more as a report tells it, by part',
          200,
          json('Sentences by id of part', anything),
          byId,
        ),
        async (request, response) => {
          const { outline } = await readKeptReport(db, request.params.id);
          const documents = await readDocuments(db, outline.id);
          response.json(await composer.changes(outline, documents, await currentOf(now, documents)));
        },
      ),
      get(
        '/reports/{id}/file',
        operation(
          'writeReport',
          'A report as a file',
          200,
          file('The file'),
          all(byId, query('form', formSchema, true, 'What it is to be.'), { refuses: [409] }),
        ),
        async (request, response) => {
          const form = REPORT_FORMS.find((one) => one === request.query['form']);
          if (!form) throw badInput('form', `form: must be one of ${REPORT_FORMS.join(', ')}.`);
          const { outline } = await readKeptReport(db, request.params.id);
          if (outline.parts.every(({ isLeftOut }) => isLeftOut)) {
            throw new Problem('nothing-to-write', 'There is nothing in this report. Put something into it first.', {
              status: 409,
            });
          }
          response.type(FORM_TYPES[form]).send(await composer.file(outline, await readDocuments(db, outline.id), form));
        },
      ),
    ];
  },
};
