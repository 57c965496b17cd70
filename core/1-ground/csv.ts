import Papa from 'papaparse';

/** A line of a table that is none but numbers and words, with its number in the text. */
export interface CsvRow {
  line: number;
  cells: string[];
}

/** What programs put between cells; spreadsheets of places with decimal commas put semicolons. */
const DELIMITERS = ['\t', ';', ','];

/**
 * Lines of a table as text, parted by what parts the names of its first line. Empty lines and those that begin with #
 * are passed over; cells may stand in quotes.
 * @param most lines that are looked at
 */
export function csvRows(text: string, most = Infinity): CsvRow[] {
  const head = /^(?!\s*#).*\S.*$/m.exec(text)?.[0] ?? '';
  const delimiter = DELIMITERS.find((one) => head.includes(one)) ?? ',';
  const { data } = Papa.parse<string[]>(text, { delimiter, preview: Number.isFinite(most) ? most : 0 });
  return data
    .map((cells, index) => ({ line: index + 1, cells: cells.map((cell) => cell.trim()) }))
    .filter(({ cells }) => (cells.length > 1 || cells[0] !== '') && !cells[0]!.startsWith('#'));
}

/** A number as programs write it into tables, with a decimal point or comma; NaN for what is none. */
export const csvNumber = (cell: string): number => (cell === '' ? NaN : Number(cell.replace(',', '.')));

/** A table as text; a text that a spreadsheet would take for a formula is kept a text. */
export const csvText = (head: readonly string[], rows: readonly (readonly (string | number | null)[])[]): string =>
  `${Papa.unparse([head, ...rows], { newline: '\n', escapeFormulae: true })}\n`;
