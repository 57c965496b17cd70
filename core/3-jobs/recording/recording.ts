import { number, object, string, type InferType } from 'yup';
import type { Phase } from '#core/3-jobs/demand/loads/load-item.ts';
import { SMALLEST_REQUEST_BYTES } from '#core/3-jobs/demand/loads/load-item.ts';
import { csvNumber, csvRows, csvText } from '#core/1-ground/csv.ts';
import { badInput } from '#core/1-ground/problem.ts';
import { numberColumn } from '#core/1-ground/schema/columns.ts';
import { parseDocument } from '#core/1-ground/schema/parse-document.ts';
import type { Progress } from '#core/1-ground/curves/progress.ts';

/**
 * What a program moved while it ran, as the system counted it. The JSON Schema is
 * docs/formats/recording.schema.json; as CSV it is the same columns under their names.
 */
export const RECORDING_VERSION = 'recording/1';

/** Columns, one row a sample; all of them count from the beginning of the recording and never fall. */
export const recordingRowsSchema = object({
  seconds: numberColumn(),
  /** Bytes that came from and went to a device. */
  readBytes: numberColumn(),
  writtenBytes: numberColumn(),
  /** Bytes that the program asked for, out of memory or not. */
  askedReadBytes: numberColumn(),
  askedWrittenBytes: numberColumn(),
  readCalls: numberColumn(),
  writeCalls: numberColumn(),
  processorSeconds: numberColumn(),
});
export type RecordingRows = InferType<typeof recordingRowsSchema>;
export const RECORDING_COLUMNS = Object.keys(recordingRowsSchema.fields) as (keyof RecordingRows)[];

export const recordingSchema = object({
  tavrox: string()
    .oneOf([RECORDING_VERSION] as const)
    .required(),
  id: string().required().max(80),
  /** Name of the program. */
  name: string().required().max(120),
  startedAt: string().required().max(40),
  /** Processes that were seen, the first and all that it started. */
  processes: number().integer().min(1).required(),
  rows: recordingRowsSchema.required(),
});
export type Recording = InferType<typeof recordingSchema>;

export function emptyRows(): RecordingRows {
  return Object.fromEntries(RECORDING_COLUMNS.map((column) => [column, []])) as unknown as RecordingRows;
}

/** @throws Problem `bad-input` that names the place of the first fault */
export function parseRecording(input: unknown): Recording {
  const recording = parseDocument(recordingSchema, input, 'recording');
  checkRows(recording.rows, 'recording');
  return recording;
}

function checkRows(rows: RecordingRows, where: string): void {
  const length = rows.seconds.length;
  if (length < 2) throw badInput(where, `${where}: has fewer than two rows, so nothing happened in it.`);
  for (const column of RECORDING_COLUMNS) {
    const values = rows[column];
    if (values.length !== length)
      throw badInput(where, `${where}: ${column}: has ${values.length} rows, seconds has ${length}.`);
    const back = values.findIndex((value, row) => !(value >= 0) || (row > 0 && value < values[row - 1]!));
    if (back >= 0) throw badInput(where, `${where}: ${column}: row ${back + 1} goes back to ${values[back]}.`);
  }
}

/** The columns as CSV, for keeping and for other programs. */
export const recordingCsv = ({ rows }: Pick<Recording, 'rows'>): string =>
  csvText(
    RECORDING_COLUMNS,
    rows.seconds.map((_, row) => RECORDING_COLUMNS.map((column) => rows[column][row]!)),
  );

/**
 * Rows from a CSV whose header names `seconds` and at least one of the other columns; what is not
 * there counts nothing. @throws Problem `bad-input` with the line at fault
 */
export function parseRecordingCsv(text: string, where: string): RecordingRows {
  const [head, ...lines] = csvRows(text);
  const names = head?.cells ?? [];
  const known = names.map((name) => RECORDING_COLUMNS.find((column) => column === name));
  if (!known.includes('seconds') || known.filter(Boolean).length < 2) {
    throw badInput(
      where,
      `${where}: line 1: no recording: its header must name seconds and one of ${RECORDING_COLUMNS.slice(1).join(', ')}.`,
    );
  }
  const rows = emptyRows();
  for (const { line, cells } of lines) {
    const values = new Map(
      known.flatMap((column, at) => (column ? [[column, csvNumber(cells[at] ?? '')] as const] : [])),
    );
    for (const column of RECORDING_COLUMNS) {
      const value = values.get(column) ?? 0;
      if (!Number.isFinite(value)) throw badInput(where, `${where}: line ${line}: ${column} is no number.`);
      rows[column].push(value);
    }
  }
  // What the system could not count is what the program asked for, and the other way round.
  if (!names.includes('askedReadBytes')) rows.askedReadBytes = [...rows.readBytes];
  if (!names.includes('askedWrittenBytes')) rows.askedWrittenBytes = [...rows.writtenBytes];
  checkRows(rows, where);
  return rows;
}

const last = (column: readonly number[]): number => (column.at(-1) ?? 0) - (column[0] ?? 0);

/** What came to in all. */
export function recordingTotals({ seconds, ...rows }: RecordingRows): Record<
  Exclude<keyof RecordingRows, 'seconds'>,
  number
> & {
  seconds: number;
} {
  const totals = Object.fromEntries(Object.entries(rows).map(([column, values]) => [column, last(values)]));
  return { ...(totals as ReturnType<typeof recordingTotals>), seconds: last(seconds) };
}

/** What a program writes goes to the device later, some of it after its end: what it asked for counts, where it is known. */
export const askedToWrite = ({ askedWrittenBytes, writtenBytes }: RecordingRows): number[] =>
  askedWrittenBytes.some((one) => one > 0) ? askedWrittenBytes : writtenBytes;

/** Bytes of one direction by the clock, for a demand that follows them. */
export function recordingProgress(rows: RecordingRows, direction: 'read' | 'write'): Progress {
  const bytes = direction === 'read' ? rows.readBytes : askedToWrite(rows);
  return {
    seconds: rows.seconds.map((value) => value - rows.seconds[0]!),
    bytes: bytes.map((value) => value - bytes[0]!),
  };
}

/** A stretch without reading this long ends a phase. */
const PAUSE_SECONDS = 2;
const MOST_PHASES = 12;

/**
 * A recording as phases of a load. A phase is a stretch in which it reads, with the computing that
 * follows up to the next; requests are as large as its calls were on the whole. Waiting that is
 * neither reading nor computing is no work and left out.
 * @param fromDevice bytes that came from a device; else those that were asked for, as when it ran from memory
 */
export function phasesOfRecording(rows: RecordingRows, fromDevice = true): Phase[] {
  const bytes = fromDevice ? rows.readBytes : rows.askedReadBytes;
  const written = askedToWrite(rows);
  const starts = [0];
  let quietSince = rows.seconds[0]!;
  for (let row = 1; row < bytes.length; row += 1) {
    const moves = bytes[row]! > bytes[row - 1]! || written[row]! > written[row - 1]!;
    if (moves && rows.seconds[row - 1]! - quietSince >= PAUSE_SECONDS && row - 1 > starts.at(-1)!) starts.push(row - 1);
    if (moves) quietSince = rows.seconds[row]!;
  }
  const kept = starts.slice(0, MOST_PHASES);
  return kept.flatMap((from, index) => {
    const to = kept[index + 1] ?? bytes.length - 1;
    const within = (column: readonly number[]) => column[to]! - column[from]!;
    const [read, calls, processor] = [within(bytes), within(rows.readCalls), within(rows.processorSeconds)];
    const wrote = within(written);
    if (read === 0 && processor === 0 && wrote === 0) return [];
    const asked = within(rows.askedReadBytes);
    return [
      {
        name: kept.length === 1 ? 'Run' : `Phase ${index + 1}`,
        processorSeconds: Number(processor.toFixed(3)),
        bytes: read,
        requestBytes: requestOf(calls > 0 ? asked / calls : 0),
        parallel: 1,
        operations: 0,
        overlapShare: 0,
        limitSeconds: null,
        stream: null,
        ...(wrote > 0 ? { writtenBytes: wrote } : {}),
      },
    ];
  });
}

/** The power of two nearest to a mean request, within what a load may have. */
function requestOf(bytes: number): number {
  return 2 ** Math.min(24, Math.max(Math.log2(SMALLEST_REQUEST_BYTES), Math.round(Math.log2(Math.max(1, bytes)))));
}
