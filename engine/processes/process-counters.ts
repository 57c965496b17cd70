import { readFileSync, readdirSync } from 'node:fs';

/** What the system counted for processes. Bytes, calls and seconds. */
export interface ProcessCounters {
  readBytes: number;
  writtenBytes: number;
  askedReadBytes: number;
  askedWrittenBytes: number;
  readCalls: number;
  writeCalls: number;
  processorSeconds: number;
}

const NAMES: readonly (keyof ProcessCounters)[] = [
  'readBytes',
  'writtenBytes',
  'askedReadBytes',
  'askedWrittenBytes',
  'readCalls',
  'writeCalls',
  'processorSeconds',
];

export const noCounters = (): ProcessCounters => ({
  readBytes: 0,
  writtenBytes: 0,
  askedReadBytes: 0,
  askedWrittenBytes: 0,
  readCalls: 0,
  writeCalls: 0,
  processorSeconds: 0,
});

export function addCounters(sum: ProcessCounters, more: ProcessCounters): void {
  for (const name of NAMES) sum[name] += more[name];
}

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

export interface ProcessEntry {
  pid: number;
  parent: number;
  name: string;
  /** What it was started with, shortened. */
  command: string;
  /** When it started, in ticks since the machine did: a number that is used again has another. */
  startTicks: number;
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
      startTicks: Number(fields[19]),
    };
  } catch {
    return null;
  }
}

/** A process and everything that it started, as far as the chain of parents still holds. */
export function treeOf(root: number, all: readonly ProcessEntry[]): number[] {
  const children = new Map<number, number[]>();
  for (const { pid, parent } of all) children.set(parent, [...(children.get(parent) ?? []), pid]);
  const tree: number[] = [];
  const waiting = [root];
  while (waiting.length > 0) {
    const pid = waiting.pop()!;
    if (tree.includes(pid)) continue;
    tree.push(pid);
    waiting.push(...(children.get(pid) ?? []));
  }
  return tree;
}
