import type { ValidationError } from 'yup';

const TYPE_WORDS: Record<string, string> = {
  object: 'an object',
  array: 'a list',
  string: 'a text',
  number: 'a number',
  boolean: 'true or false',
  date: 'a date',
};

/** What a schema found wrong, without the words of the program; the beginning of a sentence that names the place. */
export function faultWords({ path, params, message }: ValidationError): string {
  // What the schema says in its own words stays.
  if (!message.includes(' type, but the final value was: ')) return message;
  const wanted = TYPE_WORDS[String(params?.['type'])] ?? 'of another kind';
  return `${path || 'it'} must be ${wanted}`;
}
