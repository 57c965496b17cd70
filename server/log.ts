import { mkdirSync, openSync, closeSync, fstatSync, renameSync, writeSync } from 'node:fs';
import { dirname, join } from 'node:path';
import pino, { type DestinationStream, type Logger } from 'pino';

export type Log = Logger;

/** Beyond this a file becomes the earlier one, and the earlier one goes: two of them at most. */
const LARGEST_FILE_BYTES = 2e6;

export const logFileOf = (dataFolder: string): string => join(dataFolder, 'logs', 'tavrox.log');
const earlierFile = (file: string): string => file.replace(/\.log$/, '.earlier.log');

/** A file that does not grow without bound. What cannot be written is left out: a full disk stops no server. */
function boundedFile(file: string, largestBytes: number): DestinationStream & { end(): void } {
  let descriptor: number | undefined;
  let bytes = 0;
  const open = (): number => {
    mkdirSync(dirname(file), { recursive: true, mode: 0o700 });
    const opened = openSync(file, 'a', 0o600);
    bytes = fstatSync(opened).size;
    return opened;
  };
  const end = (): void => {
    if (descriptor !== undefined) closeSync(descriptor);
    descriptor = undefined;
  };
  return {
    write(line) {
      try {
        descriptor ??= open();
        if (bytes > 0 && bytes + line.length > largestBytes) {
          end();
          renameSync(file, earlierFile(file));
          descriptor = open();
        }
        bytes += writeSync(descriptor, line);
      } catch {
        end();
      }
    },
    end,
  };
}

/** A message without the paths in it, which say whose machine it is and what lies on it. */
export const withoutPaths = (message: string): string =>
  message
    .replace(/(['"“])[^'"”]*[\\/][^'"”]*['"”]/g, '$1…$1')
    .replace(/(?<![\w.…'"“])(?:[a-z]:)?(?:[\\/][^\s'"\\/:,;()]+)+[\\/]?/gi, '…');

/** An error as it is logged: without paths, and with its stack only where that was asked for. */
function logged(error: unknown, isWhole: boolean): Record<string, unknown> {
  if (!(error instanceof Error)) return { message: withoutPaths(String(error)) };
  const { name, message, stack, cause } = error;
  const { code } = error as NodeJS.ErrnoException;
  return {
    name,
    ...(code === undefined ? {} : { code }),
    message: isWhole ? message : withoutPaths(message),
    ...(isWhole ? { stack } : {}),
    ...(cause === undefined ? {} : { cause: logged(cause, isWhole) }),
  };
}

/** What goes wrong is reported on the terminal too, in a line. */
const terminal: DestinationStream = {
  write(line) {
    const { msg, err } = JSON.parse(line) as { msg: string; err?: { message: string; stack?: string } };
    process.stderr.write(`${msg}${err ? `: ${err.stack ?? err.message}` : ''}\n`);
  },
};

/**
 * The log of a server, in its data folder: a line of JSON for what it begins, ends and cannot do. TAVROX_LOG sets the
 * level: error, warn, info or, with paths and stacks, debug.
 * @param largestBytes of a file, before it becomes the earlier one
 */
export function openLog(
  dataFolder: string,
  level = process.env['TAVROX_LOG'] ?? 'info',
  largestBytes = LARGEST_FILE_BYTES,
): { log: Log; close: () => void } {
  const known = level in pino.levels.values ? level : 'info';
  const isWhole = pino.levels.values[known]! <= pino.levels.values['debug']!;
  const file = boundedFile(logFileOf(dataFolder), largestBytes);
  const log = pino(
    {
      level: known,
      base: null,
      timestamp: pino.stdTimeFunctions.isoTime,
      formatters: { level: (label) => ({ level: label }) },
      serializers: { err: (error: unknown) => logged(error, isWhole) },
    },
    pino.multistream([
      { level: known, stream: file },
      { level: 'error', stream: terminal },
    ]),
  );
  return { log, close: () => file.end() };
}
