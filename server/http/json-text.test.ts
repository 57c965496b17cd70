import { describe, expect, it } from 'vitest';
import { shapeFault } from '#server/http/json-text.ts';

describe('the shape of JSON', () => {
  it('is as deep as what is open, not as many brackets as texts hold', () => {
    expect(shapeFault('['.repeat(32) + ']'.repeat(32))).toBeNull();
    expect(shapeFault('['.repeat(33) + ']'.repeat(33))).toBe('is nested deeper than 32 levels');
    expect(shapeFault(JSON.stringify({ text: `${'['.repeat(100)}"\\`, next: '{'.repeat(50) }))).toBeNull();
    expect(shapeFault(`[${'[],'.repeat(1000)}[]]`)).toBeNull();
  });

  it('has only so many parts; numbers are none', () => {
    const many = 'holds more than 200,000 objects, lists and fields';
    expect(shapeFault(`[${'{},'.repeat(199_998)}{}]`)).toBeNull();
    expect(shapeFault(`[${'{},'.repeat(200_000)}{}]`)).toBe(many);
    expect(shapeFault(`{${'"a":1,'.repeat(200_000)}"a":1}`)).toBe(many);
    expect(shapeFault(`[${'1.5,'.repeat(3_000_000)}1]`)).toBeNull();
  });
});
