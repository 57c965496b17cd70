import { CommanderError } from 'commander';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { reportError, tableLines } from '#cli/output.ts';
import { Problem, badInput, problemDocument } from '#core/1-ground/problem.ts';

describe('errors', () => {
  let lines: string[];
  beforeEach(() => {
    lines = [];
    vi.spyOn(process.stderr, 'write').mockImplementation((text) => {
      lines.push(String(text));
      return true;
    });
  });
  afterEach(() => vi.restoreAllMocks());

  it.each([
    [badInput('size', 'size: must be more than 0.'), 2, ['size: must be more than 0.\n']],
    [new Problem('drive-failed', 'The drive is gone.', { status: 500 }), 1, ['The drive is gone.\n']],
    [new Problem('device-busy', 'Another one measures.', { status: 409 }), 2, ['Another one measures.\n']],
    [new Error('out of luck'), 1, ['Tavrox failed: out of luck\n']],
    [new CommanderError(1, 'commander.unknownOption', 'told already'), 2, []],
    [new CommanderError(0, 'commander.helpDisplayed', 'help'), 0, []],
  ])('%s end with code %i and one line', (error, code, expected) => {
    expect(reportError(error)).toBe(code);
    expect(lines).toEqual(expected);
  });

  it('are sent as RFC 9457 asks for', () => {
    expect(problemDocument(badInput('size', 'size: must be more than 0.'))).toEqual({
      type: 'urn:tavrox:problem:bad-input',
      title: 'Bad input',
      status: 422,
      detail: 'size: must be more than 0.',
      where: 'size',
    });
  });
});

it('tables have columns as wide as their longest cell and no trailing space', () => {
  expect(
    tableLines([
      ['a', 'bb'],
      ['ccc', ''],
    ]),
  ).toEqual(['a    bb', 'ccc']);
});
