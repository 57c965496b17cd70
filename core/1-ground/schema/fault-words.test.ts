import { array, number, object, string } from 'yup';
import { describe, expect, it } from 'vitest';
import { parseDocument } from '#core/1-ground/schema/parse-document.ts';

describe('what a schema finds wrong', () => {
  const schema = object({
    name: string().required(),
    rates: array(number().min(0).required()).required(),
    size: number().typeError('size: must be an amount'),
  });
  it.each([
    ['a text', 'thing: it must be an object.'],
    [{ name: 3, rates: [] }, 'thing: name must be a text.'],
    [{ name: 'x', rates: {} }, 'thing: rates must be a list.'],
    [{ name: 'x', rates: [1, 'NaN'] }, 'thing: rate 2 must be a number.'],
    [{ name: 'x', rates: [], size: 'lots' }, 'thing: size: must be an amount.'],
    [{ name: 'x', rates: [-1] }, 'thing: rate 1 must be greater than or equal to 0.'],
  ])('%j is told without the words of the program', (input, sentence) => {
    expect(() => parseDocument(schema, input, 'thing')).toThrow(sentence);
  });
});
