import { Problem, badInput } from '#core/1-ground/problem.ts';
import { readJson } from '#core/1-ground/schema/json-text.ts';
import { bytesText } from '#core/1-ground/units/format.ts';

/** Documents beyond this are none of ours. */
const LARGEST_DOCUMENT_BYTES = 60e6;

/** The text of a file of the person's own. @throws Problem `bad-input` where it is too large or cannot be read any more */
export async function readTextFile(file: File, mostBytes = LARGEST_DOCUMENT_BYTES): Promise<string> {
  if (file.size > mostBytes) throw badInput('file', `it is larger than ${bytesText(mostBytes)}.`);
  try {
    return await file.text();
  } catch {
    throw badInput('file', 'it cannot be read. It may have been changed or taken away since it was chosen.');
  }
}

/** A document out of a file of the person's own. @throws Problem as both do */
export const readDocument = async (file: File): Promise<unknown> => readJson(await readTextFile(file), 'file', 'it');

/** The sentence on a file that was not taken. */
export const notTaken = (file: File, error: unknown): string =>
  `${file.name} was not taken: ${error instanceof Problem ? error.detail : `it holds something that cannot be read (${(error as Error).message}).`}`;
