import Ajv2020 from 'ajv/dist/2020.js';
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { workloadSchema } from '#core/3-jobs/demand/workload.ts';
import { runDocumentSchema } from '#core/4-runs/run/run-document.ts';
import { jsonSchemaOf } from '#core/1-ground/schema/json-schema.ts';
import { PUBLISHED_FORMATS } from '#core/6-exchange/api/published.ts';
import { DEMO_WORKLOADS } from '#demo/workloads.ts';

describe('published schemas', () => {
  it('are those in docs/formats', () => {
    for (const { file, schema } of PUBLISHED_FORMATS) {
      expect(
        JSON.parse(readFileSync(new URL(`../../../docs/formats/${file}`, import.meta.url), 'utf8')),
        'npm run formats writes them anew',
      ).toEqual(schema);
    }
  });

  const ajv = new Ajv2020({ strict: false });

  it('accept the demo workloads and name what is missing', () => {
    const validate = ajv.compile(jsonSchemaOf(workloadSchema));
    for (const workload of DEMO_WORKLOADS)
      expect(validate(JSON.parse(JSON.stringify(workload))), JSON.stringify(validate.errors)).toBe(true);
    const { name, ...nameless } = DEMO_WORKLOADS[0]!;
    expect(name).toBe('Night shoot');
    expect(validate(nameless)).toBe(false);
  });

  it('ask for every column of a run, and know which values they hold', () => {
    const schema = jsonSchemaOf(runDocumentSchema) as {
      required: string[];
      properties: { samples: { required: string[]; properties: Record<string, unknown> } };
    };
    expect(schema.required).toEqual(
      expect.arrayContaining(['samples', 'latency', 'markers', 'conditions', 'drive', 'volume']),
    );
    expect(schema.properties.samples.required).toEqual([
      'atSeconds',
      'cumulativeBytes',
      'direction',
      'pass',
      'file',
      'operations',
      'latencyMaxSeconds',
    ]);
    expect(schema.properties.samples.properties['direction']).toEqual({
      type: 'array',
      items: { enum: ['write', 'read'] },
    });
  });
});
