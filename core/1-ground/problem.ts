import { capitalized } from '#core/1-ground/words.ts';
/**
 * The one shape in which Tavrox says that something cannot be done. The server sends it as
 * `application/problem+json` (RFC 9457), the command line prints `detail` and exits with
 * `exitCode`, the interface shows `detail`.
 */
export class Problem extends Error {
  /** Stable slug, e.g. `not-enough-room`; the last part of the problem's `type` URI. */
  readonly code: string;
  /** What happened, where, and what to do: whole sentences. */
  readonly detail: string;
  /** HTTP status. Anything under 500 is the caller's input. */
  readonly status: number;
  /** The field, column, line or path the fault is in, when there is one. */
  readonly where: string | undefined;

  constructor(code: string, detail: string, options: { status?: number; where?: string; cause?: unknown } = {}) {
    super(detail, { cause: options.cause });
    this.name = 'Problem';
    this.code = code;
    this.detail = detail;
    this.status = options.status ?? 422;
    this.where = options.where;
  }

  /** 2 for bad input, 1 for something that failed while it was carried out. */
  get exitCode(): 1 | 2 {
    return this.status < 500 ? 2 : 1;
  }
}

/** Plain-object form of a {@link Problem} as RFC 9457 asks for it. */
export interface ProblemDocument {
  type: string;
  title: string;
  status: number;
  detail: string;
  where?: string;
}

/** RFC 9457 document of a problem; `title` is the code in words, the same for all of its kind. */
export function problemDocument(problem: Problem): ProblemDocument {
  const words = problem.code.replaceAll('-', ' ');
  return {
    type: `urn:tavrox:problem:${problem.code}`,
    title: capitalized(words),
    status: problem.status,
    detail: problem.detail,
    ...(problem.where === undefined ? {} : { where: problem.where }),
  };
}

/** Bad input in a named field. */
export function badInput(where: string, detail: string): Problem {
  return new Problem('bad-input', detail, { status: 422, where });
}
