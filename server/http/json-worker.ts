import { parentPort, workerData } from 'node:worker_threads';
import { Problem } from '#core/1-ground/problem.ts';
import { parseJsonText } from '#server/http/json-text.ts';

/** What the thread answers: the value, or the sentence that refuses it. */
export type ParsedText = { value: unknown } | { refused: string };

function parsed(text: string): ParsedText {
  try {
    return { value: parseJsonText(text) };
  } catch (error) {
    if (error instanceof Problem) return { refused: error.detail };
    throw error;
  }
}

parentPort!.postMessage(parsed(workerData as string));
