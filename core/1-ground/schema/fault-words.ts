import type { ValidationError } from 'yup';
import { placeWords } from '#core/1-ground/schema/place-words.ts';

const TYPE_WORDS: Record<string, string> = {
  object: 'an object',
  array: 'a list',
  string: 'a text',
  number: 'a number',
  boolean: 'true or false',
  date: 'a date',
};

/** What a schema found wrong, without the words of the program; the beginning of a sentence that names the place. */
function faultWords({ path = '', params, message }: ValidationError): string {
  const place = path === '' ? 'it' : placeWords(path);
  const unknown = params?.['unknown'];
  if (message.includes('has unspecified keys: '))
    return `${place} has ${String(unknown)}, which is no part of it. Mind the spelling, or leave it out`;
  // What the schema says in its own words stays.
  if (!message.includes(' type, but the final value was: ')) {
    const said = path === '' ? message.replace(/^this\b/, place) : message.replaceAll(path, place);
    return said
      .replace(/ (?:is a required field|must be defined|cannot be null)$/, ' is missing')
      .replace('one of the following values:', 'one of:');
  }
  return `${place} must be ${TYPE_WORDS[String(params?.['type'])] ?? 'of another kind'}`;
}

/**
 * What a schema found wrong, as a whole sentence, with the part of a form that can mend it.
 * @returns the name of the part at fault, the first of its path, and the sentence
 */
export function schemaFault(error: unknown): { part: string; sentence: string } {
  const fault = error as ValidationError;
  return { part: (fault.path ?? '').split(/[.[]/)[0]!, sentence: `${faultWords(fault)}.`.replace(/\.\.$/, '.') };
}
