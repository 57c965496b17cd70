import { CommanderError } from 'commander';
import type { VerdictWord } from '#core/5-answers/verdict/verdict.ts';
import { Problem } from '#core/1-ground/problem.ts';
import { plainJson, plainText } from '#core/1-ground/units/plain-text.ts';

/** Writes a line to standard output, where results go. */
export function print(line: string): void {
  process.stdout.write(`${plainText(line)}\n`);
}

/** One JSON document and nothing else. */
export function printJson(document: unknown): void {
  process.stdout.write(`${plainJson(JSON.stringify(document, null, 2))}\n`);
}

/** Writes to standard error, where progress and errors go. */
export function note(line: string): void {
  endProgress();
  process.stderr.write(`${plainText(line)}\n`);
}

/** Begins the line that a terminal shows anew, and takes away what stood there. */
const ANEW = '\r\u001b[K';
const OFTEN_ENOUGH_SECONDS = 10;
const shown = { isOpen: false, second: -1, words: '', seconds: -Infinity };

/**
 * Says how far something is, once a second at most: a terminal shows one line that changes; a file or a pipe gets a line
 * when something else goes on, and every ten seconds.
 * @param seconds since it began
 */
export function showProgress(
  line: string,
  seconds: number,
  { isTTY, columns }: Pick<NodeJS.WriteStream, 'isTTY' | 'columns'> = process.stderr,
): void {
  if (Math.floor(seconds) === shown.second) return;
  shown.second = Math.floor(seconds);
  if (isTTY) {
    process.stderr.write(`${ANEW}${plainText(line).slice(0, Math.max(20, (columns ?? 80) - 1))}`);
    shown.isOpen = true;
    return;
  }
  const words = line.replaceAll(/[\d.,:]+/g, '');
  if (words === shown.words && seconds >= shown.seconds && seconds < shown.seconds + OFTEN_ENOUGH_SECONDS) return;
  shown.words = words;
  shown.seconds = seconds;
  process.stderr.write(`${plainText(line)}\n`);
}

/** Leaves the line that shows progress, so that what is said next has one of its own. */
export function endProgress(): void {
  if (shown.isOpen) process.stderr.write('\n');
  shown.isOpen = false;
}

/** Ends the command line with a code although nothing failed: 3 for what breaks, 4 for what is not proven. */
export function endWith(exitCode: number): void {
  if (exitCode !== 0) process.exitCode = exitCode;
}

/** 3 where anything breaks, 4 where anything is not proven, else 0. */
export function exitCodeOf(verdicts: readonly VerdictWord[]): number {
  if (verdicts.includes('breaks')) return 3;
  return verdicts.includes('not-proven') ? 4 : 0;
}

/** Shows an error as one clear line and returns the exit code: 2 for bad input, 1 for what failed. */
export function reportError(error: unknown): number {
  // Commander has written its own line; what is not help is bad input.
  if (error instanceof CommanderError) return error.exitCode === 0 ? 0 : 2;
  if (error instanceof Problem) {
    note(error.detail);
    return error.exitCode;
  }
  note(`Tavrox failed: ${(error as Error)?.message ?? String(error)}`);
  return 1;
}

/** Lines of a table with columns as wide as their longest cell; numbers are given as text. */
export function tableLines(rows: readonly (readonly string[])[]): string[] {
  const widths = (rows[0] ?? []).map((_, column) => Math.max(...rows.map((row) => row[column]!.length)));
  return rows.map((row) =>
    row
      .map((cell, column) => cell.padEnd(widths[column]!))
      .join('  ')
      .trimEnd(),
  );
}
