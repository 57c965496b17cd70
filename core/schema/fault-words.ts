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
export function faultWords({ type, path, params, message }: ValidationError): string {
  if (type !== 'typeError') return message;
  const wanted = TYPE_WORDS[String(params?.['type'])] ?? 'of another kind';
  return `${path || 'it'} must be ${wanted}`;
}
