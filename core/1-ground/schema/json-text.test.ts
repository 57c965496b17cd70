import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readJson } from './json-text.ts';

describe('a text of JSON', () => {
  it('is read as what was written', () => {
    fc.assert(
      fc.property(fc.json(), (text) => {
        expect(readJson(text, 'file')).toEqual(JSON.parse(text));
      }),
    );
  });

  it.each([
    ['', 'it ends too early.'],
    ['{"days": 40,\n "name": "Tidal', 'it ends too early.'],
    ['{"days": 40', 'it ends too early.'],
    ['NaN{"days": 40}', 'near line 1, character 1.'],
    ['{"days": 40,\n "name": Tidal,\n "units": "decimal"}', 'near line 2, character 10.'],
    ['{"days": 40,\n}', 'near line 2, character 1.'],
    ['{"days": 40}\n{"days": 41}', 'near line 2, character 1.'],
  ])('that is none says about where: %j', (text, words) => {
    expect(() => readJson(text, 'plan.json')).toThrow(`plan.json: is not JSON: `);
    expect(() => readJson(text, 'plan.json')).toThrow(words);
  });
});
