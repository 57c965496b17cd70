import { badInput } from '#core/problem.ts';
import { bytesText } from '#core/units/format.ts';

/** Documents larger than this are none of ours, or more than the server takes. */
const LARGEST_DOCUMENT_BYTES = 60e6;

/** A document out of a file of the person's own. @throws Problem `bad-input` where it is too large or no JSON */
export async function readDocument(file: File): Promise<unknown> {
  if (file.size > LARGEST_DOCUMENT_BYTES) {
    throw badInput('file', `it is larger than ${bytesText(LARGEST_DOCUMENT_BYTES)}.`);
  }
  const text = await file.text();
  try {
    return JSON.parse(text);
  } catch (error) {
    throw badInput('file', `it is not JSON: ${(error as Error).message}.`);
  }
}
