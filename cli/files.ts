import { readFile, stat } from 'node:fs/promises';
import { badInput } from '#core/problem.ts';
import type { Direction } from '#core/run/direction.ts';
import { parseRunDocument, type RunDocument } from '#core/run/run-document.ts';
import { runOfTrace } from '#core/supply/bare-trace.ts';
import { parseTraceCsv } from '#core/trace/trace-csv.ts';

/** Documents beyond this are none of ours. */
const LARGEST_FILE_BYTES = 500e6;

/** A file's text. @throws Problem `bad-input` with one sentence when it cannot be read */
export async function textOf(path: string, where: string): Promise<string> {
  try {
    const { size } = await stat(path);
    if (size > LARGEST_FILE_BYTES) throw badInput(where, `${where}: ${path} is larger than 500 MB.`);
    return await readFile(path, 'utf8');
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code === undefined) throw error;
    if (code === 'ENOENT') throw badInput(where, `${where}: there is no file ${path}.`);
    throw badInput(where, `${where}: ${path} cannot be read (${code}).`);
  }
}

/** A file's JSON. @throws Problem `bad-input` with the place at which it is none */
export function jsonOf(text: string, where: string): unknown {
  try {
    return JSON.parse(text);
  } catch (error) {
    throw badInput(where, `${where}: is not JSON: ${(error as Error).message}.`);
  }
}

/**
 * A run from its JSON, or the run that a trace in CSV would have been in a direction.
 * @throws Problem `bad-input` with the place of the fault
 */
export async function runOf(path: string, where: string, direction: Direction): Promise<RunDocument> {
  const text = await textOf(path, where);
  return text.trimStart().startsWith('{')
    ? parseRunDocument(jsonOf(text, where), where)
    : runOfTrace(parseTraceCsv(text, where), direction);
}
