import { Problem, type ProblemDocument } from '#core/1-ground/problem.ts';

/** What the server says is wrong. */
export async function problemOf(response: Response): Promise<Problem> {
  const document: unknown = await response.json().catch(() => undefined);
  const { type, detail, status, where } = (document ?? {}) as Partial<ProblemDocument>;
  return new Problem(type?.split(':').at(-1) ?? 'server-failed', detail ?? 'The server gave no reason.', {
    status: status ?? response.status,
    ...(where === undefined ? {} : { where }),
  });
}
