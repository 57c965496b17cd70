import { once } from 'node:events';
import { createRequire } from 'node:module';
import { Worker } from 'node:worker_threads';
import express, { type NextFunction, type Request, type RequestHandler, type Response } from 'express';
import { badJson, parseJsonText } from '#server/http/json-text.ts';
import type { ParsedText } from '#server/http/json-worker.ts';

/** What is sent to change something is small; workloads, projects and files that are read may hold recorded curves. */
const USUAL_BYTES = 1_000_000;
const DOCUMENT_BYTES = 16_000_000;
const DOCUMENT_PATH = /^\/(workloads|projects|reports)\//;
/** What is longer is parsed beside the server's own thread; the worst text of this length would hold it for 0.08 s. */
const LARGE_LENGTH = 200_000;

/** Files that somebody takes in are read as they are. */
const FILE_BYTES = 512_000_000;
const FILE_PATH = /^\/archive(\/|$)/;
const readFile: RequestHandler = express.raw({ type: () => true, limit: FILE_BYTES });

const readText = (limit: number): RequestHandler => express.text({ type: 'application/json', limit });
const [readUsual, readDocument] = [readText(USUAL_BYTES), readText(DOCUMENT_BYTES)];

/** The large text that is parsed now: one after the other, so that many do not take all processors. */
let turn: Promise<unknown> = Promise.resolve();

/** Parses a large text beside the thread that looks how runs go on. @throws Problem as parseJsonText does */
function parseBeside(text: string): Promise<unknown> {
  const worker = async (): Promise<unknown> => {
    const thread = new Worker(createRequire(import.meta.url).resolve('#built/json-worker.js'), { workerData: text });
    const [answer] = (await once(thread, 'message')) as [ParsedText];
    if ('refused' in answer) throw badJson(answer.refused);
    return answer.value;
  };
  const own = turn.then(worker);
  turn = own.catch(() => undefined);
  return own;
}

/** Reads JSON bodies of bounded length and shape, of text that can be kept; without one it is an empty object. */
export function readBody(request: Request, response: Response, next: NextFunction): void {
  if (FILE_PATH.test(request.path)) {
    readFile(request, response, (error?: unknown) => {
      if (error !== undefined) request.resume();
      next(error);
    });
    return;
  }
  const read = DOCUMENT_PATH.test(request.path) ? readDocument : readUsual;
  read(request, response, (error?: unknown) => {
    if (error !== undefined) {
      // What is still on its way is let through to nowhere: a connection cut in the middle of it loses the answer.
      request.resume();
      return next(error);
    }
    const body: unknown = request.body;
    const text = typeof body === 'string' ? body : '';
    void (async () => {
      if (text.trim() === '') return {};
      return text.length > LARGE_LENGTH ? parseBeside(text) : parseJsonText(text);
    })().then((value) => {
      request.body = value;
      next();
    }, next);
  });
}
