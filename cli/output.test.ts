import { CommanderError } from 'commander';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { note, reportError, showProgress, tableLines } from '#cli/output.ts';
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

describe('progress', () => {
  let written: string;
  beforeEach(() => {
    written = '';
    vi.spyOn(process.stderr, 'write').mockImplementation((text) => {
      written += String(text);
      return true;
    });
  });
  afterEach(() => vi.restoreAllMocks());

  it('in a file is a line when something else goes on, and every ten seconds', () => {
    const pipe = { isTTY: false, columns: 80 };
    for (let second = 0; second < 25; second += 1)
      showProgress(
        `0:${String(second).padStart(2, '0')}  pass 1 of 2, ${second < 4 ? 'writing' : 'reading'}`,
        second,
        pipe,
      );
    expect(written.trimEnd().split('\n')).toEqual([
      '0:00  pass 1 of 2, writing',
      '0:04  pass 1 of 2, reading',
      '0:14  pass 1 of 2, reading',
      '0:24  pass 1 of 2, reading',
    ]);
  });

  it('in a terminal is one line that never wraps, and what is said next has its own', () => {
    const terminal = { isTTY: true, columns: 30 };
    showProgress('0:01  writing, until it is decided, and on', 1, terminal);
    showProgress('0:02  \u001b[31mreading', 2, terminal);
    note('Stopping.');
    expect(written).toBe('\r\u001b[K0:01  writing, until it is de\r\u001b[K0:02  \\x1b[31mreading\nStopping.\n');
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
