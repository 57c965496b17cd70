import { createConfig, lintFromString } from '@redocly/openapi-core';
import { describe, expect, it } from 'vitest';
import type { RouteContext } from '#server/routes/context.ts';
import { openApiDocument } from '#server/routes/open-api.ts';
import { ROUTE_GROUPS } from '#server/routes/registry.ts';

/** Express keeps what a router answers to in its stack. */
interface Layer {
  route?: { path: string; methods: Record<string, boolean> };
}

describe('the description of the API', () => {
  it('passes a public linter at its strictest without a word', async () => {
    const config = await createConfig({ extends: ['recommended-strict'] });
    const source = JSON.stringify(openApiDocument());
    const problems = await lintFromString({ source, absoluteRef: '/openapi.json', config });
    expect(problems.map(({ message, location }) => `${message} ${location[0]?.pointer}`)).toEqual([]);
    // It does find what is missing.
    const worse = source.replace('"operationId":"listRuns",', '');
    expect(await lintFromString({ source: worse, absoluteRef: '/openapi.json', config })).toHaveLength(1);
  });

  it('holds every route, and no other', () => {
    const context = { volumes: {} } as RouteContext;
    const answered = ROUTE_GROUPS.flatMap((group) =>
      (group.routes(context).stack as Layer[]).flatMap(({ route }) =>
        Object.keys(route!.methods).map((method) => `${method} /api${route!.path.replace(/:\w+/g, '{id}')}`),
      ),
    );
    // Those that nobody has to be let in for, and the description, are answered by the server itself.
    const outside = ['get /api/openapi.json', 'get /api/challenge', 'post /api/sessions'];
    const described = Object.entries(openApiDocument().paths).flatMap(([path, item]) =>
      Object.keys(item).map((method) => `${method} ${path}`),
    );
    expect(described.sort()).toEqual([...answered, ...outside].sort());
  });

  it('says of each operation how one is let in, and what changes something asks for our own page', () => {
    for (const [path, item] of Object.entries(openApiDocument().paths)) {
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
