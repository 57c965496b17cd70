import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { plainJson, plainText } from '#core/1-ground/units/plain-text.ts';

describe('what is shown in a terminal', () => {
  it('holds nothing that steers it', () => {
    expect(plainText('clip\u001b]0;owned\u0007.mov')).toBe('clip\\x1b]0;owned\\x07.mov');
    expect(plainText('\u009b2J')).toBe('\\x9b2J');
    expect(plainText('gpj\u202eexe')).toBe('gpj\\u202eexe');
    expect(plainText('Tag 1\tüber 4 K\n')).toBe('Tag 1\tüber 4 K\n');
  });

  it('stays what it was as JSON', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), (text) => {
        const json = plainJson(JSON.stringify({ text }, null, 2));
        expect(JSON.parse(json)).toEqual({ text });
        // eslint-disable-next-line no-control-regex -- these are what must not be in it
        expect(json).not.toMatch(/[\u0000-\u0008\u000b-\u001f\u007f-\u009f]/);
      }),
    );
  });
});
