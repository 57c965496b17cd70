import type { NextFunction, Request, Response } from 'express';
import { Problem } from '#core/1-ground/problem.ts';

/** Refuses addresses with a zero in them: no store and no filesystem can hold one in a name. */
export function checkAddress(request: Request, _response: Response, next: NextFunction): void {
  if (!request.originalUrl.includes('%00')) next();
  else next(new Problem('bad-request', 'The request’s address holds a zero, which no name can hold.', { status: 400 }));
}
