import { badInput } from '#core/1-ground/problem.ts';
import { bytesAt, progressDuration, type Progress } from '#core/1-ground/curves/progress.ts';
import { csvNumber, csvRows, type CsvRow } from '#core/1-ground/csv.ts';
import { median } from '#core/1-ground/numbers/statistics.ts';

/** Rows beyond this are refused: a day at a hundred samples a second. */
export const MOST_ROWS = 10_000_000;

/**
 * A progress curve from CSV: header `seconds,bytes`, both cumulative, piecewise linear between rows.
 * The first row is the origin. Semicolons and tabs may stand for the commas, with decimal commas beside them.
 * @throws Problem `bad-input` that names the line at fault
 */
export function parseTraceCsv(text: string, where = 'trace'): Progress {
  const progress: Progress = { seconds: [], bytes: [] };
  const fault = (line: number, what: string) => badInput(where, `${where}: line ${line}: ${what}`);
  // One line too many is enough to refuse it.
  const [head, ...rows] = csvRows(text, MOST_ROWS + 1);
  if (!head) throw badInput(where, `${where}: is empty. It needs a line “seconds,bytes” and two rows or more.`);
  if ((rows.at(-1)?.line ?? 0) > MOST_ROWS)
    throw badInput(where, `${where}: has more than ${MOST_ROWS} lines. Thin it out.`);
  const said = ({ cells }: CsvRow) => `“${cells.join(',').slice(0, 60)}”`;
  if (head.cells.join(',').toLowerCase().replaceAll('"', '') !== 'seconds,bytes')
    throw fault(head.line, `${said(head)} is not the header. Begin with a line “seconds,bytes”.`);
  let origin: [number, number] | null = null;
  for (const row of rows) {
    const [seconds, bytes] = row.cells.map(csvNumber);
    if (row.cells.length !== 2 || !Number.isFinite(seconds) || !Number.isFinite(bytes)) {
      throw fault(row.line, `${said(row)} is not two numbers. Write seconds, a comma and bytes.`);
    }
    origin ??= [seconds!, bytes!];
    const [atSeconds, movedBytes] = [seconds! - origin[0], bytes! - origin[1]];
    if (atSeconds < (progress.seconds.at(-1) ?? 0))
      throw fault(row.line, 'time goes back. Seconds are counted from the start.');
    if (movedBytes < (progress.bytes.at(-1) ?? 0))
      throw fault(row.line, 'bytes go back. They are counted from the start, not by row.');
    progress.seconds.push(atSeconds);
    progress.bytes.push(movedBytes);
  }
  if (progress.seconds.length < 2 || progressDuration(progress) <= 0) {
    throw badInput(where, `${where}: needs at least two rows with some time between them.`);
  }
  return progress;
}

/** Fewer rows than this say little of when things happened: straight lines between them are cut up. */
const FEW_ROWS = 400;

/** Fewer rows than this are too few to be samples. */
const LEAST_SAMPLES = 8;
/** Rates of neighbours that differ by so much, as a logarithm, are those of samples with noise; by more, of levels. */
const [LEAST_NOISE, MOST_NOISE] = [0.002, 0.35];

/** Whether rows are samples of a drive, and not lines that somebody drew: their rates differ a little from row to row. */
function areSamples({ seconds, bytes }: Progress): boolean {
  const logs: number[] = [];
  for (let row = 1; row < seconds.length; row += 1) {
    const [took, moved] = [seconds[row]! - seconds[row - 1]!, bytes[row]! - bytes[row - 1]!];
    if (took > 0 && moved > 0) logs.push(Math.log(moved / took));
  }
  if (logs.length < LEAST_SAMPLES) return false;
  const steps = logs.slice(1).map((log, index) => Math.abs(log - logs[index]!));
  const middle = median(steps);
  return middle > LEAST_NOISE && middle < MOST_NOISE;
}

/**
 * The same curve with more points, where it has few: what reads levels looks at samples and not at lines. Rows that are
 * samples stay as they are: cut up, their noise would look like levels.
 */
export function finelySampled(progress: Progress): Progress {
  if (progress.seconds.length >= FEW_ROWS || areSamples(progress)) return progress;
  const step = progressDuration(progress) / FEW_ROWS;
  const fine: Progress = { seconds: [], bytes: [] };
  progress.seconds.forEach((second, row) => {
    const before = progress.seconds[row - 1];
    if (before !== undefined) {
      const parts = Math.ceil((second - before) / step);
      for (let part = 1; part < parts; part += 1) {
        const at = before + ((second - before) * part) / parts;
        fine.seconds.push(at);
        fine.bytes.push(bytesAt(progress, at));
      }
    }
    fine.seconds.push(second);
    fine.bytes.push(progress.bytes[row]!);
  });
  return fine;
}
