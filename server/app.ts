import { join } from 'node:path';
import express, { type Express, type NextFunction, type Request, type RequestHandler, type Response } from 'express';
import { checkAddress } from '#server/http/address.ts';
import { readBody } from '#server/http/body.ts';
import { healthRoute } from '#server/http/health.ts';
import { createGate, securityHeaders, type Gate, type HouseDoor } from '#server/http/security.ts';
import { notFound, sendProblems } from '#server/http/problems.ts';
import type { Log } from '#server/log.ts';
import type { RouteContext } from '#server/routes/context.ts';
import { isOpen, routerOf } from '#server/routes/describe.ts';
import { allRoutes } from '#server/routes/registry.ts';

/**
 * The whole server as an Express app; `port` is asked for at each request, once it is known. The page itself holds
 * nothing of anybody's and is served to everyone; what is behind `/api` is not.
 */
export function createApp(
  context: Omit<RouteContext, 'gate' | 'address'>,
  metrics: RequestHandler,
  webFolder: string,
  port: () => number,
  log: Log,
  house: HouseDoor | null = null,
): { app: Express; gate: Gate; address: (code: string) => string } {
  const gate = createGate(port, house);
  // Behind the hash, which no browser sends anywhere.
  const address = (code: string): string => `http://127.0.0.1:${port()}/#key=${code}`;
  const app = express();
  app.disable('x-powered-by');
  // Nothing is stored by whoever asks, so nothing is compared: a profile of megabytes would be hashed for nobody.
  app.disable('etag');
  app.set('query parser', 'simple');
  app.use(gate.checkHost, securityHeaders);
  app.get('/healthz', neverStored, healthRoute(context.db, context.store));
  app.get('/metrics', neverStored, gate.checkOrigin, gate.checkCredential, metrics);

  const groups = allRoutes({ ...context, gate, address });
  const closed = (isOwn: boolean) =>
    groups
      .filter((group) => (group.isOwn ?? false) === isOwn)
      .flatMap(({ routes }) => routes.filter((one) => !isOpen(one)));
  const open = groups.flatMap(({ routes }) => routes.filter(isOpen));
  app.use('/api', neverStored, checkAddress, gate.checkOrigin);
  app.use('/api', routerOf(open, readBody), gate.checkCredential, readBody);
  app.use('/api', routerOf(closed(true), gate.checkOwner), routerOf(closed(false)));
  app.use('/api', (request: Request) => notFound(request));

  app.use(express.static(webFolder, { index: false, maxAge: '1y', immutable: true }));
  app.get('/{*path}', (_request, response) => {
    response.set('Cache-Control', 'no-cache').sendFile(join(webFolder, 'index.html'));
  });
  app.use(sendProblems(log, context.db));
  return { app, gate, address };
}

function neverStored(_request: Request, response: Response, next: NextFunction): void {
  response.set('Cache-Control', 'no-store');
  next();
}
