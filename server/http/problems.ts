import type { ErrorRequestHandler, NextFunction, Request, Response } from 'express';
import { Problem, problemDocument } from '#core/1-ground/problem.ts';
import type { Log } from '#server/log.ts';
import { diskRefusal, isOutOfReach, refusalText, type Database } from '#server/store/database.ts';

/** Last handler: every error leaves as RFC 9457 `application/problem+json`. */
export function sendProblems(log: Log, db: Database): ErrorRequestHandler {
  return (error: unknown, request: Request, response: Response, next: NextFunction) => {
    if (response.headersSent) {
      next(error);
      return;
    }
    const problem = error instanceof Problem ? error : problemOf(error, request, log, db);
    sendProblem(response, problem);
  };
}

export function sendProblem(response: Response, problem: Problem): void {
  response
    .status(problem.status)
    .type('application/problem+json')
    .send(JSON.stringify(problemDocument(problem)));
}

function problemOf(error: unknown, request: Request, log: Log, db: Database): Problem {
  const { status, type } = error as { status?: number; type?: string };
  if (type === 'entity.too.large') return new Problem('too-large', 'The request’s body is too large.', { status: 413 });
  if (status !== undefined && status < 500)
    return new Problem('bad-request', 'The request could not be read.', { status });
  const refusal = diskRefusal(error, db);
  if (refusal !== null) return new Problem('not-kept', `This was not kept. ${refusal}`, { status: 507, cause: error });
  if (isOutOfReach(error)) {
    return new Problem('database-unreachable', `This was not done. ${refusalText(error, db)}`, {
      status: 503,
      cause: error,
    });
  }
  // Paths of our own addresses, with ids in them and nothing else.
  log.error({ err: error, method: request.method, address: request.path }, 'A request failed in Tavrox itself');
  return new Problem(
    'server-failed',
    'Something went wrong in Tavrox itself; its log tells more. Nothing was changed.',
    { status: 500, cause: error },
  );
}

export function notFound(request: Request): never {
  throw new Problem('not-found', `There is nothing at ${request.path}.`, { status: 404 });
}
