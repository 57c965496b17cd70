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
  process.stderr.write(`${plainText(line)}\n`);
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
