import { readFileSync, readdirSync } from 'node:fs';
import type { ProcessCounters, ProcessEntry, Programs } from '#engine/system/system.ts';

/** Linux counts processor time in hundredths of a second for everybody, whatever its own clock. */
const TICKS_PER_SECOND = 100;

/** The fields of /proc/PID/stat behind the name, which may hold spaces and brackets. */
function statFields(text: string): string[] {
  return text.slice(text.lastIndexOf(')') + 2).split(' ');
}

/** Counters from the texts of /proc/PID/io and /proc/PID/stat: with the children that have ended and were waited for. */
export function parseCounters(io: string, stat: string): ProcessCounters {
  const lines = new Map(io.split('\n').map((line) => line.split(': ') as [string, string]));
  const count = (name: string): number => Number(lines.get(name) ?? 0);
  const fields = statFields(stat);
  // utime, stime, cutime, cstime are the 14th to 17th field; the third is the first behind the name.
  const ticks = [11, 12, 13, 14].reduce((sum, field) => sum + Number(fields[field] ?? 0), 0);
  return {
    readBytes: count('read_bytes'),
    // What was deleted again before it reached the device was no work for it.
    writtenBytes: Math.max(0, count('write_bytes') - count('cancelled_write_bytes')),
    askedReadBytes: count('rchar'),
    askedWrittenBytes: count('wchar'),
    readCalls: count('syscr'),
    writeCalls: count('syscw'),
    processorSeconds: ticks / TICKS_PER_SECOND,
  };
}

/** Counters of one process; null when it has ended. @throws the system's error when it may not be looked at */
export function readCounters(pid: number): ProcessCounters | null {
  try {
    return parseCounters(readFileSync(`/proc/${pid}/io`, 'utf8'), readFileSync(`/proc/${pid}/stat`, 'utf8'));
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'ENOENT' || code === 'ESRCH') return null;
    throw error;
  }
}

/** Processes of the machine as they are now; those that end meanwhile are left out. */
export function listProcesses(): ProcessEntry[] {
  return readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .flatMap((name) => readProcess(Number(name)) ?? []);
}

export function readProcess(pid: number): ProcessEntry | null {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    const fields = statFields(stat);
    const command = readFileSync(`/proc/${pid}/cmdline`, 'utf8').replaceAll('\0', ' ').trim();
    const name = stat.slice(stat.indexOf('(') + 1, stat.lastIndexOf(')'));
    return {
      pid,
      parent: Number(fields[1]),
      name,
      command: command.slice(0, 200) || name,
      mark: fields[19] ?? '',
    };
  } catch {
    return null;
  }
}

/** Start time of a process in clock ticks since the machine started; empty where there is none. */
export function processMark(pid: number): string {
  try {
    return statFields(readFileSync(`/proc/${pid}/stat`, 'utf8'))[19] ?? '';
  } catch {
    return '';
  }
}

/**
 * The shell waits for the command and then tells its own counters, which hold those of all children that were waited for:
 * the sum is whole, whatever happened between two samples.
 */
const WRAPPER = `"$@" 0<&3; code=$?
while IFS= read -r line; do printf '%s\\n' "$line"; done </proc/$$/io >&4
printf '%s\\n' '--' >&4
while IFS= read -r line; do printf '%s\\n' "$line"; done </proc/$$/stat >&4
exit $code`;

export const programs: Programs = {
  list: listProcesses,
  find: readProcess,
  counters: readCounters,
  wrapped: (command, args) => ({ program: '/bin/sh', args: ['-c', WRAPPER, 'tavrox', command, ...args] }),
  readTold(text) {
    const [io, stat] = text.split('--\n');
    return io === undefined || stat === undefined ? null : parseCounters(io, stat);
  },
};
