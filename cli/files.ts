import { once } from 'node:events';
import { createReadStream, createWriteStream, lstatSync, renameSync, rmSync } from 'node:fs';
import { stat } from 'node:fs/promises';
import { readJson } from '#core/1-ground/schema/json-text.ts';
import { Problem, badInput } from '#core/1-ground/problem.ts';
import type { Direction } from '#core/1-ground/curves/direction.ts';
import { parseRunDocument, type RunDocument } from '#core/4-runs/run/run-document.ts';
import { runOfTrace } from '#core/4-runs/supply/bare-trace.ts';
import { csvRows } from '#core/1-ground/csv.ts';
import { traceOfText } from '#core/1-ground/curves/table-trace.ts';
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

/** A file's text. @throws Problem `bad-input` with one sentence when it cannot be read */
export const textOf = async (path: string, where: string): Promise<string> =>
  (await bytesOf(path, where)).toString('utf8');

/** What is in a file; what never ends is not read for ever. @throws Problem `bad-input` with one sentence when it cannot be read */
export async function bytesOf(path: string, where: string): Promise<Buffer> {
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
    return Buffer.concat(parts);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (error instanceof Problem || code === undefined) throw error;
    const words = READ_FAULTS[code]?.(path) ?? `${path} cannot be read: ${(error as Error).message}`;
    throw badInput(where, `${where}: ${words}.`);
  }
}

/** A table with a line of names that are others than “seconds,bytes”. */
const HAS_OTHER_NAMES = /^(?!\s*"?seconds"?\s*[,;\t]\s*"?bytes"?\s*$)(?=.*[a-z]).*[,;\t]/i;

/**
 * A run from its JSON, or the run that a trace in a table would have been in a direction.
 * @param columns what a person says of the table
 * @throws Problem `bad-input` with the place of the fault
 */
export async function runOf(path: string, where: string, direction: Direction, columns?: string): Promise<RunDocument> {
  const text = await textOf(path, where);
  if (text.trimStart().startsWith('{')) return parseRunDocument(readJson(text, where), where);
  const [head] = csvRows(text, 4);
  const isTable = columns !== undefined || HAS_OTHER_NAMES.test(head?.cells.join(',') ?? '');
  return runOfTrace(isTable ? traceOfText(text, columns, where) : parseTraceCsv(text, where), direction);
}

/** Why a file cannot be written, in words. */
const WRITE_FAULTS: Record<string, string> = {
  ENOENT: 'its folder does not exist',
  ENOTDIR: 'its folder does not exist',
  EISDIR: 'that is a folder',
  EACCES: 'you may not write there',
  EPERM: 'you may not write there',
  EROFS: 'its disk is mounted read-only',
  ENOSPC: 'its disk is full',
  EDQUOT: 'your quota on its disk is used up',
  ENAMETOOLONG: 'its name is too long',
};

/** What is said of a file that cannot be written. @param flag that named it */
function writeFault(file: string, error: unknown, flag = 'out'): Problem {
  const { code = '', message } = error as NodeJS.ErrnoException;
  const words = WRITE_FAULTS[code] ?? `the system says “${message.slice(0, 80)}”`;
  return badInput(flag, `--${flag}: ${file.slice(0, 200)} cannot be written: ${words}. Choose another.`);
}

export type Write = (part: Uint8Array) => Promise<void>;

/** Whether a name is free, or of a plain file: a device or a pipe is written into, and never replaced. */
function isPlain(out: string): boolean {
  const there = lstatSync(out, { throwIfNoEntry: false });
  return there === undefined || there.isFile();
}

/** Writes a file whole or not at all. @returns its bytes */
export async function writeOut(out: string, fill: (write: Write) => Promise<void>): Promise<number> {
  const isOwn = isPlain(out);
  const draft = isOwn ? `${out}.part` : out;
  const stream = createWriteStream(draft, { mode: 0o600 });
  let bytes = 0;
  const failed: { error: Error | null } = { error: null };
  stream.on('error', (error) => (failed.error = error));
  try {
    await fill(async (part) => {
      if (failed.error) throw failed.error;
      bytes += part.length;
      if (!stream.write(part)) await Promise.race([once(stream, 'drain'), once(stream, 'close')]);
    });
    stream.end();
    if (!stream.closed) await once(stream, 'close');
    if (failed.error) throw failed.error;
    if (isOwn) renameSync(draft, out);
    return bytes;
  } catch (error) {
    stream.destroy();
    if (isOwn) rmSync(draft, { force: true });
    if (failed.error === error) throw writeFault(out, error);
    throw error;
  }
}
