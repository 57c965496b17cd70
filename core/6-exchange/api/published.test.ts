import { readFileSync, readdirSync } from 'node:fs';
import Ajv2020 from 'ajv/dist/2020.js';
import { describe, expect, it } from 'vitest';
import { withoutSchema } from '#core/1-ground/schema/document-kind.ts';
import { parseWorkload } from '#core/3-jobs/demand/workload.ts';
import { parseRecording } from '#core/3-jobs/recording/recording.ts';
import { parseRunDocument } from '#core/4-runs/run/run-document.ts';
import { parseProfile } from '#core/4-runs/supply/profile.ts';
import { parseSizing } from '#core/5-answers/sizing/project.ts';
import { parseArchived, parseManifest } from '#core/6-exchange/archive/archive.ts';
import { PUBLISHED_FORMATS } from '#core/6-exchange/api/published.ts';
import { composedReport } from '#core/6-exchange/report/composed.ts';
import { parseReport } from '#core/6-exchange/report/report.ts';

const FOLDER = new URL('../../../docs/formats/examples/', import.meta.url);
/** One of each version of each document. They are never made anew: what was written once has to stay readable. */
const EXAMPLES = readdirSync(FOLDER);
const example = (file: string): unknown => JSON.parse(readFileSync(new URL(file, FOLDER), 'utf8'));

const PARSERS: Record<string, (input: unknown) => object> = {
  run: (input) => parseRunDocument(input),
  profile: parseProfile,
  workload: parseWorkload,
  sizing: parseSizing,
  recording: parseRecording,
  report: (input) => parseReport(input),
  archive: (input) => parseManifest(input, 'archive'),
  drive: (input) => parseArchived('drive', input, 'drive').document,
  settings: (input) => parseArchived('settings', input, 'settings').document,
  project: (input) => parseArchived('project', input, 'project').document,
};

describe('documents in docs/formats/examples', () => {
  const ajv = new Ajv2020({ strict: false });

  it('are there for every published format', () => {
    const names = PUBLISHED_FORMATS.map(({ file }) => file.replace('.schema.json', '-1.json'));
    expect(EXAMPLES).toEqual(expect.arrayContaining(names));
  });

  it.each(EXAMPLES)('are read, as they were written: %s', (file) => {
    const document = example(file) as { tavrox: string; $schema: string };
    const kind = file.split('-')[0]!;
    const { schema } = PUBLISHED_FORMATS.find((one) => one.file === `${kind}.schema.json`)!;
    expect(document.$schema).toBe(schema['$id']);
    const validate = ajv.compile(schema);
    expect(validate(document), JSON.stringify(validate.errors)).toBe(true);
    // What was added since is filled in; what was written stays as it was.
    expect(PARSERS[kind]!(document)).toMatchObject(withoutSchema(document) as object);
  });

  it('say what they are instead where another is wanted', () => {
    expect(() => parseReport(example('run-1.json'))).toThrow('this is a run, and not a report');
    expect(() => parseReport({ ...(example('report-1.json') as object), tavrox: 'report/9' })).toThrow(
      'version report/9',
    );
    expect(() => parseReport([])).toThrow('no document of Tavrox');
  });

  it('hold a report that can be laid out', () => {
    const { parts } = composedReport(parseReport(example('report-1.json')));
    expect(parts.map(({ title }) => title)).toContain('Question and answer');
  });
});
