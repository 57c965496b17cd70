import { Problem } from '#core/1-ground/problem.ts';

/** No document of ours is nested deeper than a third of this. */
const MOST_DEPTH = 32;
/** The largest project has a twentieth of so many objects, lists and fields in them; its numbers do not count. */
const MOST_PARTS = 200_000;

/**
 * What speaks against parsing a JSON text at all, as the end of a sentence; null for nothing. 16 MB of empty objects
 * would take 6 s to parse, and 15 MB of fields 10 s.
 */
export function shapeFault(json: string): string | null {
  let depth = 0;
  let parts = 0;
  let isInText = false;
  for (let at = 0; at < json.length; at += 1) {
    const letter = json[at];
    if (isInText) {
      if (letter === '\\') at += 1;
      else if (letter === '"') isInText = false;
    } else if (letter === '"') isInText = true;
    else if (letter === '[' || letter === '{') {
      depth += 1;
      parts += 1;
      if (depth > MOST_DEPTH) return `is nested deeper than ${MOST_DEPTH} levels`;
    } else if (letter === ']' || letter === '}') depth -= 1;
    else if (letter === ':') parts += 1;
    if (parts > MOST_PARTS) return `holds more than ${MOST_PARTS.toLocaleString('en')} objects, lists and fields`;
  }
  return null;
}

/** Whether every text in parsed JSON, names of fields among them, can be kept: no zeros, no halves of characters. */
function isAllText(value: unknown): boolean {
  if (typeof value === 'string') return !value.includes('\0') && !/\p{Surrogate}/u.test(value);
  if (typeof value !== 'object' || value === null) return true;
  if (Array.isArray(value)) return value.every(isAllText);
  return Object.entries(value).every(([key, part]) => isAllText(key) && isAllText(part));
}

/** A body that is not read, with the sentence that says why. */
export const badJson = (detail: string): Problem => new Problem('bad-json', detail, { status: 400 });

/** The value of the JSON text that a request brought. @throws Problem saying what is wrong with it */
export function parseJsonText(text: string): unknown {
  const fault = shapeFault(text);
  if (fault !== null) throw badJson(`The request’s body ${fault}.`);
  let body: unknown;
  try {
    body = JSON.parse(text);
  } catch {
    throw badJson('The request’s body is not JSON.');
  }
  if (isAllText(body)) return body;
  throw badJson('The request’s body holds text with zeros or halves of characters, which cannot be kept.');
}
