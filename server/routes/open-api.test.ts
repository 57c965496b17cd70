import { createConfig, lintFromString } from '@redocly/openapi-core';
import { describe, expect, it } from 'vitest';
import type { RouteContext } from '#server/routes/context.ts';
import { openApiDocument } from '#server/routes/open-api.ts';
import { allRoutes } from '#server/routes/registry.ts';

const groups = allRoutes({ volumes: {} } as RouteContext);
const routes = groups.flatMap((group) => group.routes);
const document = openApiDocument(groups);

describe('the description of the API', () => {
  it('passes a public linter at its strictest without a word', async () => {
    const config = await createConfig({ extends: ['recommended-strict'] });
    const source = JSON.stringify(document);
    const problems = await lintFromString({ source, absoluteRef: '/openapi.json', config });
    expect(problems.map(({ message, location }) => `${message} ${location[0]?.pointer}`)).toEqual([]);
    // It does find what is missing.
    const worse = source.replace('"operationId":"listRuns",', '');
    expect(await lintFromString({ source: worse, absoluteRef: '/openapi.json', config })).toHaveLength(1);
  });

  it('holds every route once, itself too, under a name of its own', () => {
    const described = Object.entries(document.paths).flatMap(([path, item]) =>
      Object.keys(item).map((method) => `${method} ${path}`),
    );
    expect(described.sort()).toEqual(routes.map(({ method, path }) => `${method} /api${path}`).sort());
    expect(described).toContain('get /api/openapi.json');
    expect(new Set(routes.map(({ operation }) => operation.operationId)).size).toBe(routes.length);
  });

  it('asks for an id where the path has one, and nowhere else', () => {
    for (const { path, operation } of routes) {
      const asked = (operation.parameters ?? []) as { name: string; in: string }[];
      expect(
        asked.filter((one) => one.in === 'path').map(({ name }) => name),
        path,
      ).toEqual(path.includes('{id}') ? ['id'] : []);
    }
  });

  it('says of each operation how one is let in, and what changes something asks for our own page', () => {
    for (const [path, item] of Object.entries(document.paths)) {
      for (const [method, { security }] of Object.entries(item)) {
        const isDoor = ['get /api/challenge', 'post /api/sessions'].includes(`${method} ${path}`);
        const asked = method === 'get' ? ['credential'] : ['credential', 'ownPage'];
        expect(
          security.flatMap((one) => Object.keys(one)),
          `${method} ${path}`,
        ).toEqual(isDoor ? [] : asked);
      }
    }
  });
});
