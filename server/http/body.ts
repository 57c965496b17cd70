import express, { type NextFunction, type Request, type RequestHandler, type Response } from 'express';
import { Problem } from '#core/problem.ts';

/** What is sent to change something is small; workloads and projects may hold recorded curves. */
const USUAL_BYTES = 1_000_000;
const DOCUMENT_BYTES = 16_000_000;
const DOCUMENT_PATH = /^\/(workloads|projects)\//;
/** No document of ours is nested deeper than a third of this. */
const MOST_DEPTH = 32;

/** Whether JSON is nested deeper than allowed: what is too deep is not parsed at all. */
export function isTooDeep(json: string): boolean {
  let depth = 0;
  let isInText = false;
  for (let at = 0; at < json.length; at += 1) {
    const letter = json[at];
    if (isInText) {
      if (letter === '\\') at += 1;
      else if (letter === '"') isInText = false;
    } else if (letter === '"') isInText = true;
    else if (letter === '[' || letter === '{') {
      depth += 1;
      if (depth > MOST_DEPTH) return true;
    } else if (letter === ']' || letter === '}') depth -= 1;
  }
  return false;
}

/** Whether every text in parsed JSON, names of fields among them, can be kept: no zeros, no halves of characters. */
function isAllText(value: unknown): boolean {
  if (typeof value === 'string') return !value.includes('\0') && !/\p{Surrogate}/u.test(value);
  if (typeof value !== 'object' || value === null) return true;
  if (Array.isArray(value)) return value.every(isAllText);
  return Object.entries(value).every(([key, part]) => isAllText(key) && isAllText(part));
}

/** @throws Problem saying what is wrong with the body of a request */
function parseBody(text: string): unknown {
  const refuse = (detail: string) => new Problem('bad-json', detail, { status: 400 });
  if (isTooDeep(text)) throw refuse(`The request’s body is nested deeper than ${MOST_DEPTH} levels.`);
  let body: unknown;
  try {
    body = JSON.parse(text);
  } catch {
    throw refuse('The request’s body is not JSON.');
  }
  if (isAllText(body)) return body;
  throw refuse('The request’s body holds text with zeros or halves of characters, which cannot be kept.');
}

const readText = (limit: number): RequestHandler => express.text({ type: 'application/json', limit });
const [readUsual, readDocument] = [readText(USUAL_BYTES), readText(DOCUMENT_BYTES)];

/** Reads JSON bodies of bounded length and depth, of text that can be kept; without one it is an empty object. */
export function readBody(request: Request, response: Response, next: NextFunction): void {
  const read = DOCUMENT_PATH.test(request.path) ? readDocument : readUsual;
  read(request, response, (error?: unknown) => {
    if (error !== undefined) return next(error);
    const text: unknown = request.body;
    try {
      request.body = typeof text === 'string' && text.trim() !== '' ? parseBody(text) : {};
      next();
    } catch (problem) {
      next(problem);
    }
  });
}
