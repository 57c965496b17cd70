import type { NextFunction, Request, Response } from 'express';
import { Problem, problemDocument } from '#core/1-ground/problem.ts';
import { diskRefusal } from '#server/store/store.ts';

/** Last handler: every error leaves as RFC 9457 `application/problem+json`. */
export function sendProblem(error: unknown, request: Request, response: Response, next: NextFunction): void {
  if (response.headersSent) {
    next(error);
    return;
  }
  const problem = error instanceof Problem ? error : problemOf(error, request);
  response
    .status(problem.status)
    .type('application/problem+json')
    .send(JSON.stringify(problemDocument(problem)));
}

function problemOf(error: unknown, request: Request): Problem {
  const { status, type } = error as { status?: number; type?: string };
  if (type === 'entity.too.large') return new Problem('too-large', 'The request’s body is too large.', { status: 413 });
  if (status !== undefined && status < 500)
    return new Problem('bad-request', 'The request could not be read.', { status });
  const refusal = diskRefusal(error);
  if (refusal !== null) return new Problem('not-kept', `This was not kept. ${refusal}`, { status: 507, cause: error });
  process.stderr.write(`${request.method} ${request.path}: ${(error as Error)?.stack ?? String(error)}\n`);
  return new Problem(
    'server-failed',
    'Something went wrong in Tavrox itself; its terminal tells more. Nothing was changed.',
    { status: 500, cause: error },
  );
}

export function notFound(request: Request): never {
  throw new Problem('not-found', `There is nothing at ${request.path}.`, { status: 404 });
}
