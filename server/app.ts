import { join } from 'node:path';
import express, { type Express, type NextFunction, type Request, type RequestHandler, type Response } from 'express';
import { checkAddress } from '#server/http/address.ts';
import { readBody } from '#server/http/body.ts';
import { healthRoute } from '#server/http/health.ts';
import { createGate, securityHeaders, type Gate, type HouseDoor } from '#server/http/security.ts';
import { notFound, sendProblems } from '#server/http/problems.ts';
import type { Log } from '#server/log.ts';
import type { RouteContext } from '#server/routes/context.ts';
import { isOpen, isOwn, routerOf } from '#server/routes/describe.ts';
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
  app.get('/healthz', healthRoute(context.db, context.store));
  app.get('/metrics', gate.checkOrigin, gate.checkCredential, metrics);

  const routes = allRoutes({ ...context, gate, address }).flatMap((group) => group.routes);
  app.use('/api', neverStored, checkAddress, gate.checkOrigin);
  app.use('/api', routerOf(routes.filter(isOpen), readBody), gate.checkCredential, readBody);
  const closed = routes.filter((one) => !isOpen(one));
  app.use('/api', routerOf(closed.filter(isOwn), gate.checkOwner), routerOf(closed.filter((one) => !isOwn(one))));
  app.use('/api', (request: Request) => notFound(request));

  app.use(express.static(webFolder, { index: false, maxAge: '1y', immutable: true }));
  app.get('/{*path}', (_request, response) => {
    response.set('Cache-Control', 'no-cache').sendFile(join(webFolder, 'index.html'));
  });
  app.use(sendProblems(log));
  return { app, gate, address };
}

function neverStored(_request: Request, response: Response, next: NextFunction): void {
  response.set('Cache-Control', 'no-store');
  next();
}
