import { badInput } from '#core/1-ground/problem.ts';

/** How engines say at what they stopped: by what stands around it, or by its place. */
const AROUND = /'(?<token>[\s\S]+?)', (?:\.\.\.)?"(?<around>[\s\S]*)"(?:\.\.\.)? is not valid JSON/;
const PLACE = /at position (?<place>\d+)/;

/** About where a text stops being JSON, counted in characters; null where it stops before its end. */
function brokenAt(text: string, message: string): number | null {
  const { token, around } = AROUND.exec(message)?.groups ?? {};
  if (token !== undefined && around !== undefined) return Math.max(0, text.indexOf(around)) + around.indexOf(token);
  const { place } = PLACE.exec(message)?.groups ?? {};
  return place === undefined || Number(place) >= text.trimEnd().length ? null : Number(place);
}

/**
 * What a text of JSON holds.
 * @param subject how its sentence calls the text
 * @throws Problem `bad-input` with about the place at which it is none
 */
export function readJson(text: string, where: string, subject = `${where}:`): unknown {
  try {
    return JSON.parse(text);
  } catch (error) {
    const at = brokenAt(text, (error as Error).message);
    const before = text.slice(0, at ?? 0).split('\n');
    const what =
      at === null
        ? 'it ends too early'
        : `it stops being that near line ${before.length}, character ${before.at(-1)!.length + 1}`;
    throw badInput(where, `${subject} is not JSON: ${what}.`);
  }
}
