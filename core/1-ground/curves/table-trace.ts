import { badInput } from '#core/1-ground/problem.ts';
import { csvNumber, csvRows } from '#core/1-ground/csv.ts';
import { median } from '#core/1-ground/numbers/statistics.ts';
import { MOST_ROWS } from '#core/1-ground/curves/trace-csv.ts';
import type { Progress } from '#core/1-ground/curves/progress.ts';

/** Units of time in which tables count, seconds; moments of a day or of a calendar are counted from the first. */
export const TIME_UNITS = { s: 1, ms: 1e-3, µs: 1e-6, ns: 1e-9, min: 60, h: 3600 } as const;
export type TimeUnit = keyof typeof TIME_UNITS | 'moment';

/** What a column of data says: all bytes so far, those since the row before, or a rate since then. */
export const VALUE_KINDS = ['total', 'step', 'rate'] as const;
export type ValueKind = (typeof VALUE_KINDS)[number];

/** Units of data, bytes. */
export const DATA_UNITS = {
  B: 1,
  kB: 1e3,
  MB: 1e6,
  GB: 1e9,
  KiB: 1024,
  MiB: 1024 ** 2,
  GiB: 1024 ** 3,
  bit: 1 / 8,
  kbit: 1e3 / 8,
  Mbit: 1e6 / 8,
  Gbit: 1e9 / 8,
} as const;
export type DataUnit = keyof typeof DATA_UNITS;

/** Which column says when, and which says how much, in which units. */
export interface TraceColumns {
  time: number;
  timeUnit: TimeUnit;
  value: number;
  kind: ValueKind;
  unit: DataUnit;
}

/** A table that may hold a trace: its columns, a few of its rows, and what it says of them by itself. */
export interface TraceTable {
  heads: string[];
  rows: { line: number; cells: string[] }[];
  /** What is plain of it; undefined for what has to be asked. */
  plain: Partial<TraceColumns>;
}

/** Whether a file is a table by its name. */
export const isTableName = (file: string): boolean => /\.(csv|tsv|txt|log)$/i.test(file);

/** @throws Problem `bad-input` for what is no table with two columns and two rows */
export function readTraceTable(text: string, where = 'table'): TraceTable {
  const [head, ...rows] = csvRows(text, MOST_ROWS + 1);
  if (!head || rows.length < 2 || head.cells.length < 2) {
    throw badInput(
      where,
      `${where}: this is no table of at least two columns, with a line of names and two rows below it.`,
    );
  }
  if (rows.at(-1)!.line > MOST_ROWS) throw badInput(where, `${where}: has more than ${MOST_ROWS} lines. Thin it out.`);
  const wide = rows.filter(({ cells }) => cells.length === head.cells.length);
  if (wide.length < 2) throw badInput(where, `${where}: its rows have not as many cells as its line of names.`);
  const table = { heads: head.cells, rows };
  return { ...table, plain: plainColumns(table) };
}

/** Words by which programs name a column of time, and one of data. */
const TIME_WORDS = /\b(time|seconds?|secs?|elapsed|timestamp|t|clock|date|when|uptime|zeit|temps)\b/i;
const DATA_WORDS =
  /(bytes?|rate|throughput|speed|written|wrote|write|read|transfer|moved|bandwidth|[kmgt]i?b(it)?\b|[kmgt]i?b(it)?(\/s|ps)|b\/s|bps)/i;

/** The time in a rate is none of its own. */
const A_SECOND = /(\/|\bper\s)\s*s(ec(ond)?)?\b/gi;

/** A name of a column in words: snake_case, camelCase and brackets parted. */
const wordsOf = (head: string): string =>
  head
    .replaceAll(/([a-z])([A-Z][a-z])/g, '$1 $2')
    .replaceAll(/[_\-[\](){}:,;]+/g, ' ')
    .trim();

function plainColumns({ heads, rows }: Pick<TraceTable, 'heads' | 'rows'>): Partial<TraceColumns> {
  const words = heads.map(wordsOf);
  const isMoment = (column: number) => rows.slice(0, 20).every(({ cells }) => momentOf(cells[column] ?? '') !== null);
  const times = words.flatMap((word, index) =>
    TIME_WORDS.test(word.replaceAll(A_SECOND, '')) || isMoment(index) ? [index] : [],
  );
  const time =
    times.length === 1 ? times[0] : words.length === 2 && times.length === 0 && isRising(rows, 0) ? 0 : undefined;
  const values = words.flatMap((word, index) => (index !== time && DATA_WORDS.test(word) ? [index] : []));
  const value = values.length === 1 ? values[0] : words.length === 2 && time !== undefined ? 1 - time : undefined;
  const timeUnit = time === undefined ? undefined : timeUnitOf(words[time]!, rows, time);
  const said = value === undefined ? {} : valueOf(words[value]!, rows, value);
  return {
    ...(time === undefined ? {} : { time }),
    ...(timeUnit === undefined ? {} : { timeUnit }),
    ...(value === undefined ? {} : { value }),
    ...said,
  };
}

function isRising(rows: TraceTable['rows'], column: number): boolean {
  const numbers = rows.map(({ cells }) => csvNumber(cells[column] ?? ''));
  return numbers.every((one, index) => Number.isFinite(one) && (index === 0 || one > numbers[index - 1]!));
}

const UNIT_WORDS: readonly [RegExp, TimeUnit][] = [
  [/\b(ms|msec|millis(econds?)?)\b/i, 'ms'],
  [/(\b|_)(µs|μs|us|usec|micros(econds?)?)\b/i, 'µs'],
  [/\b(ns|nsec|nanos(econds?)?)\b/i, 'ns'],
  [/\b(s|sec|secs|seconds?)\b/i, 's'],
  [/\b(min|mins|minutes?)\b/i, 'min'],
  [/\b(h|hours?)\b/i, 'h'],
];

function timeUnitOf(head: string, rows: TraceTable['rows'], column: number): TimeUnit | undefined {
  const [first] = rows;
  const cell = first?.cells[column] ?? '';
  if (Number.isNaN(csvNumber(cell)) && momentOf(cell) !== null) return 'moment';
  return UNIT_WORDS.find(([pattern]) => pattern.test(head))?.[1];
}

/** Seconds of a moment as programs write it: 12:31:05.250, or a date with it; null for what is none. */
function momentOf(cell: string): number | null {
  const clock = /^(\d{1,3}):(\d{2}):(\d{2}(?:[.,]\d+)?)$/.exec(cell);
  if (clock) return Number(clock[1]) * 3600 + Number(clock[2]) * 60 + Number(clock[3]!.replace(',', '.'));
  const short = /^(\d{1,3}):(\d{2}(?:[.,]\d+)?)$/.exec(cell);
  if (short) return Number(short[1]) * 60 + Number(short[2]!.replace(',', '.'));
  if (!/^\d{4}-\d\d-\d\d[T ]\d\d:\d\d/.test(cell)) return null;
  const parsed = Date.parse(cell.replace(' ', 'T').replace(',', '.'));
  return Number.isNaN(parsed) ? null : parsed / 1000;
}

/** What a name says of data, where it says it without doubt: mb/s may be bits or bytes, and is asked about. */
function valueOf(head: string, rows: TraceTable['rows'], column: number): Partial<TraceColumns> {
  const unit = /\b([kKMGT]?i?)(bytes?|B|bits?|b)(?:\s*\/\s*s(?:ec)?|ps|\s+per\s+s(?:ec(?:ond)?)?|\s+s)?\b/.exec(head);
  const isRate = /(\/\s*s(?:ec)?\b|\bper\s+s|[bB]ps\b|\brate\b|\bspeed\b|throughput|bandwidth|(?<=[bB]) s\b)/i.test(
    head,
  );
  const dataUnit = unit ? dataUnitOf(unit[1]!, unit[2]!) : undefined;
  const kind: ValueKind | undefined = isRate ? 'rate' : totalOrStep(rows, column);
  return { ...(kind === undefined ? {} : { kind }), ...(dataUnit === undefined ? {} : { unit: dataUnit }) };
}

function dataUnitOf(prefix: string, letters: string): DataUnit | undefined {
  const size = prefix === 'K' ? 'k' : prefix === 'ki' ? 'Ki' : prefix;
  const named = (name: string) => (Object.hasOwn(DATA_UNITS, name) ? (name as DataUnit) : undefined);
  if (/^bits?$/i.test(letters)) return named(`${size}bit`);
  // A lower-case b behind a capital prefix is a bit as the trade writes it; behind a small m it is anything.
  if (letters === 'b') return /^[MG]$/.test(prefix) ? named(`${prefix}bit`) : undefined;
  return named(`${size}B`);
}

/** All bytes so far never go back; what goes back counts by row. Where neither shows it is asked. */
function totalOrStep(rows: TraceTable['rows'], column: number): ValueKind | undefined {
  const numbers = rows.map(({ cells }) => csvNumber(cells[column] ?? '')).filter(Number.isFinite);
  const falls = numbers.some((one, index) => index > 0 && one < numbers[index - 1]!);
  if (falls) return 'step';
  const [first, last] = [numbers[0] ?? 0, numbers.at(-1) ?? 0];
  return last > 3 * Math.max(1, first) || (first === 0 && last > 0) ? 'total' : undefined;
}

/** Thousands parted by commas, or three decimals. */
const GROUPED = /^\d{1,3}(,\d{3})+$/;

/** What has to be asked of a table before it can be read, in words; empty for nothing. */
export function openQuestions({ time, timeUnit, value, kind, unit }: Partial<TraceColumns>): string[] {
  return [
    ...(time === undefined ? ['which column says the time'] : []),
    ...(timeUnit === undefined ? ['in which unit the time is'] : []),
    ...(value === undefined ? ['which column says how much was moved'] : []),
    ...(kind === undefined ? ['whether that is all so far, since the row before, or a rate'] : []),
    ...(unit === undefined ? ['in which unit that is'] : []),
  ];
}

/**
 * The trace in a table. A rate, and what was moved since the row before, hold for the time up to their row; the first
 * row's time is taken to be as long as the others', for nothing stands before it.
 * @throws Problem `bad-input` that names the line at fault
 */
export function traceOfTable({ heads, rows }: TraceTable, columns: TraceColumns, where = 'table'): Progress {
  const fault = (line: number, what: string) => badInput(where, `${where}: line ${line}: ${what}`);
  const seconds: number[] = [];
  const values: number[] = [];
  let day = 0;
  for (const { line, cells } of rows) {
    const [timeCell, valueCell] = [cells[columns.time] ?? '', cells[columns.value] ?? ''];
    let second = secondsOf(timeCell, columns.timeUnit);
    const value = csvNumber(valueCell);
    if (second === null) throw fault(line, `“${timeCell.slice(0, 40)}” under ${heads[columns.time]} is no time.`);
    if (GROUPED.test(valueCell)) {
      const [whole, parted] = [valueCell.replaceAll(',', ''), valueCell.replace(',', '.')];
      throw fault(
        line,
        `“${valueCell}” under ${heads[columns.value]} can mean ${whole} or ${parted}. Write it without commas.`,
      );
    }
    if (!Number.isFinite(value))
      throw fault(line, `“${valueCell.slice(0, 40)}” under ${heads[columns.value]} is no number.`);
    if (value < 0) throw fault(line, `${heads[columns.value]} is less than nothing.`);
    // A clock that begins its day anew.
    const isClock = columns.timeUnit === 'moment' && /^\d{1,2}:\d{2}:/.test(timeCell);
    const last = seconds.at(-1);
    if (isClock && last !== undefined && second + day < last - 43_200) day += 86_400;
    second += day;
    if (last !== undefined && second < last) throw fault(line, 'time goes back.');
    seconds.push(second);
    values.push(value * DATA_UNITS[columns.unit]);
  }
  if (seconds.length < 2 || seconds.at(-1)! <= seconds[0]!) {
    throw badInput(where, `${where}: needs at least two rows with some time between them.`);
  }
  return columns.kind === 'total' ? fromTotals(seconds, values, rows, fault) : fromSteps(seconds, values, columns.kind);
}

function secondsOf(cell: string, unit: TimeUnit): number | null {
  if (unit === 'moment') return momentOf(cell);
  const value = csvNumber(cell);
  return Number.isFinite(value) ? value * TIME_UNITS[unit] : null;
}

function fromTotals(
  seconds: readonly number[],
  totals: readonly number[],
  rows: TraceTable['rows'],
  fault: (line: number, what: string) => Error,
): Progress {
  const back = totals.findIndex((one, index) => index > 0 && one < totals[index - 1]!);
  if (back >= 0) throw fault(rows[back]!.line, 'bytes go back. Are they counted by row, and not from the start?');
  return { seconds: seconds.map((one) => one - seconds[0]!), bytes: totals.map((one) => one - totals[0]!) };
}

function fromSteps(seconds: readonly number[], values: readonly number[], kind: 'step' | 'rate'): Progress {
  const gaps = seconds.slice(1).map((one, index) => one - seconds[index]!);
  const first = median(gaps.filter((gap) => gap > 0));
  const progress: Progress = { seconds: [0], bytes: [0] };
  values.forEach((value, row) => {
    const took = row === 0 ? first : gaps[row - 1]!;
    progress.seconds.push(progress.seconds.at(-1)! + took);
    progress.bytes.push(progress.bytes.at(-1)! + (kind === 'rate' ? value * took : value));
  });
  return progress;
}

/**
 * Columns as a person names them on a command line: “Elapsed in ms; Write in MB/s”, “t in s; Bytes in B so far”,
 * “clock; MiB in MiB a row”. What the table says by itself need not be said.
 * @throws Problem `bad-input` for a column or a unit that there is not
 */
export function columnsNamed(text: string, { heads, plain }: TraceTable, where = 'columns'): Partial<TraceColumns> {
  const [when, howMuch, ...more] = text.split(';').map((part) => part.trim());
  const fault = (what: string) =>
    badInput(where, `${where}: ${what} Write two columns, such as “Elapsed in ms; Write in MB/s”.`);
  if (!when || !howMuch || more.length > 0) throw fault(`“${text}” does not name two columns.`);
  const part = (words: string) => {
    const [, name = '', unit = ''] = /^(.*?)(?:\s+in\s+(.+))?$/.exec(words) ?? [];
    const column = heads.findIndex((head) => head.toLowerCase() === name.trim().toLowerCase());
    if (column < 0)
      throw fault(`there is no column “${name}”; there are ${heads.map((head) => `“${head}”`).join(', ')}.`);
    return { column, unit: unit.trim() };
  };
  const [time, value] = [part(when), part(howMuch)];
  const timeUnit =
    time.unit === '' ? plain.timeUnit : [...Object.keys(TIME_UNITS), 'moment'].find((unit) => unit === time.unit);
  if (time.unit !== '' && timeUnit === undefined)
    throw fault(`“${time.unit}” is no unit of time (${Object.keys(TIME_UNITS).join(', ')}).`);
  const [, unitText = '', rest = ''] = /^(\S+?)(\/s| so far| a row)?$/.exec(value.unit) ?? [];
  const unit = value.unit === '' ? plain.unit : (Object.keys(DATA_UNITS) as DataUnit[]).find((one) => one === unitText);
  if (value.unit !== '' && unit === undefined)
    throw fault(`“${value.unit}” is no unit of data (${Object.keys(DATA_UNITS).join(', ')}).`);
  const kinds: Record<string, ValueKind> = { '/s': 'rate', ' so far': 'total', ' a row': 'step' };
  const kind = kinds[rest] ?? (value.column === plain.value ? plain.kind : undefined);
  return {
    time: time.column,
    value: value.column,
    ...(timeUnit === undefined ? {} : { timeUnit: timeUnit as TimeUnit }),
    ...(unit === undefined ? {} : { unit }),
    ...(kind === undefined ? {} : { kind }),
  };
}

/**
 * The trace in a table as text, with what a person said of its columns.
 * @throws Problem `bad-input` that says what has to be said of it
 */
export function traceOfText(text: string, said: string | undefined, where: string): Progress {
  const table = readTraceTable(text, where);
  const columns = said === undefined ? table.plain : columnsNamed(said, table);
  const open = openQuestions(columns);
  if (open.length === 0) return traceOfTable(table, columns as TraceColumns, where);
  throw badInput(
    where,
    `${where}: the table does not say ${open.join(', ')}. Say it with --columns, such as --columns "${table.heads[0]} in s; ${table.heads[1]} in MB/s".`,
  );
}
