import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { csvNumber, csvRows, csvText } from './csv.ts';

describe('a table as text', () => {
  it('is read as it was written, whatever its cells hold', () => {
    const cell = fc.string().map((text) => text.trim());
    const rows = fc.array(fc.tuple(cell, cell, fc.double({ noNaN: true, noDefaultInfinity: true })), { minLength: 1 });
    fc.assert(
      fc.property(rows, (given) => {
        const [head, ...read] = csvRows(csvText(['name', 'note', 'value'], given));
        expect(head!.cells).toEqual(['name', 'note', 'value']);
        const kept = given.filter(([name]) => !/^[#=+\-@\t\r]/.test(name));
        fc.pre(kept.length === given.length && given.every(([, note]) => !/^[=+\-@\t\r]/.test(note)));
        expect(read.map(({ cells }) => [cells[0], cells[1], csvNumber(cells[2]!)])).toEqual(
          given.map(([name, note, value]) => [name, note, value === 0 ? 0 : value]),
        );
      }),
    );
  });

  it.each([
    ['seconds,bytes\n1.5,200', 1.5],
    ['seconds;bytes\n1,5;200', 1.5],
    ['seconds\tbytes\n1,5\t200', 1.5],
    ['"seconds";"bytes"\r\n"1,5";"200"\r\n', 1.5],
  ])('comes as programs write it: %j', (text, seconds) => {
    const rows = csvRows(text);
    expect(rows.map(({ line }) => line)).toEqual([1, 2]);
    expect(rows[1]!.cells.map(csvNumber)).toEqual([seconds, 200]);
  });

  it('keeps the numbers of its lines where some say nothing', () => {
    expect(csvRows('a,b\n\n# pause\n1,2\n').map(({ line }) => line)).toEqual([1, 4]);
  });

  it('gives a spreadsheet nothing that it would carry out', () => {
    expect(csvText(['name'], [['=1+1'], ['-4'], [-4]])).toBe(`name\n"'=1+1"\n"'-4"\n-4\n`);
  });
});
