import { workloadSchema } from '#core/3-jobs/demand/workload.ts';
import { recordingSchema } from '#core/3-jobs/recording/recording.ts';
import { runDocumentSchema } from '#core/4-runs/run/run-document.ts';
import { sizingSchema } from '#core/5-answers/sizing/project.ts';
import { profileSchema } from '#core/4-runs/supply/profile.ts';
import { driveDocumentSchema, manifestSchema, projectDocumentSchema } from '#core/6-exchange/archive/archive.ts';
import { settingsSchema } from '#core/6-exchange/archive/settings.ts';
import { reportSchema } from '#core/6-exchange/report/report.ts';
import { jsonSchemaOf, type JsonSchema } from '#core/1-ground/schema/json-schema.ts';

/** The documents that Tavrox exports and imports, as JSON Schemas for others to read. */
export const PUBLISHED_FORMATS: readonly { file: string; schema: JsonSchema }[] = [
  { file: 'run.schema.json', schema: published('run/1', 'One measurement, whole', jsonSchemaOf(runDocumentSchema)) },
  {
    file: 'workload.schema.json',
    schema: published('workload/1', 'A named list of demands', jsonSchemaOf(workloadSchema)),
  },
  {
    file: 'profile.schema.json',
    schema: published('profile/1', 'What is known of a drive on one connection', jsonSchemaOf(profileSchema)),
  },
  {
    file: 'sizing.schema.json',
    schema: published('sizing/1', 'A project to size storage for', jsonSchemaOf(sizingSchema)),
  },
  {
    file: 'report.schema.json',
    schema: published(
      'report/1',
      'What was found out, with the documents that it is drawn from',
      jsonSchemaOf(reportSchema),
    ),
  },
  {
    file: 'archive.schema.json',
    schema: published('archive/1', 'The manifest of an archive of documents', jsonSchemaOf(manifestSchema)),
  },
  { file: 'drive.schema.json', schema: published('drive/1', 'A drive’s card', jsonSchemaOf(driveDocumentSchema)) },
  {
    file: 'project.schema.json',
    schema: published('project/1', 'A project as it is kept', jsonSchemaOf(projectDocumentSchema)),
  },
  {
    file: 'settings.schema.json',
    schema: published('settings/1', 'Settings of a workspace', jsonSchemaOf(settingsSchema)),
  },
  {
    file: 'recording.schema.json',
    schema: published(
      'recording/1',
      'What a program read, wrote and computed while it ran',
      jsonSchemaOf(recordingSchema),
    ),
  },
];

function published(name: string, title: string, schema: JsonSchema): JsonSchema {
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    $id: `urn:tavrox:format:${name}`,
    title,
    ...schema,
  };
}
