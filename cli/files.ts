import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { readJson } from '#core/1-ground/schema/json-text.ts';
import { Problem, badInput } from '#core/1-ground/problem.ts';
import type { Direction } from '#core/1-ground/curves/direction.ts';
import { parseRunDocument, type RunDocument } from '#core/4-runs/run/run-document.ts';
import { runOfTrace } from '#core/4-runs/supply/bare-trace.ts';
import { parseTraceCsv } from '#core/1-ground/curves/trace-csv.ts';

/** Documents beyond this are none of ours. */
const LARGEST_FILE_BYTES = 500e6;

/** Why a file cannot be read, in words. */
const READ_FAULTS: Record<string, (path: string) => string> = {
  ENOENT: (path) => `there is no file ${path}`,
  ENOTDIR: (path) => `there is no file ${path}`,
  EISDIR: (path) => `${path} is a folder, not a file`,
  EACCES: (path) => `you may not read ${path}`,
  ENAMETOOLONG: (path) => `${path.slice(0, 80)}… is too long for a path`,
};

/** A file's text; what never ends is not read for ever. @throws Problem `bad-input` with one sentence when it cannot be read */
export async function textOf(path: string, where: string): Promise<string> {
  const tooLarge = () => badInput(where, `${where}: ${path} is larger than 500 MB.`);
  try {
    // A path with a zero in it is none that a filesystem could hold.
    if (path.includes('\0')) throw badInput(where, `${where}: that is no path of a file.`);
    if ((await stat(path)).size > LARGEST_FILE_BYTES) throw tooLarge();
    // Pipes and devices tell no size.
    const parts: Buffer[] = [];
    let bytes = 0;
    for await (const part of createReadStream(path) as AsyncIterable<Buffer>) {
      bytes += part.length;
      if (bytes > LARGEST_FILE_BYTES) throw tooLarge();
      parts.push(part);
    }
    return Buffer.concat(parts).toString('utf8');
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (error instanceof Problem || code === undefined) throw error;
    const words = READ_FAULTS[code]?.(path) ?? `${path} cannot be read: ${(error as Error).message}`;
    throw badInput(where, `${where}: ${words}.`);
  }
}

/**
 * A run from its JSON, or the run that a trace in CSV would have been in a direction.
 * @throws Problem `bad-input` with the place of the fault
 */
export async function runOf(path: string, where: string, direction: Direction): Promise<RunDocument> {
  const text = await textOf(path, where);
  return text.trimStart().startsWith('{')
    ? parseRunDocument(readJson(text, where), where)
    : runOfTrace(parseTraceCsv(text, where), direction);
}
