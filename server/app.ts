import { join } from 'node:path';
import express, { type Express, type Request } from 'express';
import { readBody } from '#server/http/body.ts';
import { createGate, securityHeaders, type Gate } from '#server/http/security.ts';
import { notFound, sendProblem } from '#server/http/problems.ts';
import { closedDoorPage } from '#server/http/closed-door.ts';
import { openApiDocument } from '#server/routes/open-api.ts';
import type { RouteContext } from '#server/routes/context.ts';
import { ROUTE_GROUPS } from '#server/routes/registry.ts';

/** The whole server as an Express app; `port` is asked for at each request, once it is known. */
export function createApp(context: RouteContext, webFolder: string, port: () => number): { app: Express; gate: Gate } {
  const gate = createGate(port);
  const app = express();
  app.disable('x-powered-by');
  app.set('query parser', 'simple');
  app.use(gate.checkHost, securityHeaders);

  app.use('/api', gate.checkApi, readBody);
  app.use('/api', ...ROUTE_GROUPS.map((group) => group.routes(context)));
  app.get('/api/openapi.json', (_request, response) => {
    response.json(openApiDocument());
  });
  app.use('/api', (request: Request) => notFound(request));

  app.use(gate.admit);
  app.use(express.static(webFolder, { index: false, maxAge: '1y', immutable: true }));
  app.get('/{*path}', (request, response) => {
    if (gate.isAdmitted(request)) response.set('Cache-Control', 'no-cache').sendFile(join(webFolder, 'index.html'));
    else response.status(401).type('html').send(closedDoorPage);
  });
  app.use(sendProblem);
  return { app, gate };
}
