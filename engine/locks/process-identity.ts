import { readFileSync } from 'node:fs';

/** A process, told from a later one that got the same id. */
export interface ProcessIdentity {
  pid: number;
  /** Start time in clock ticks since boot, empty where the system does not tell. */
  startTicks: string;
}

function startTicksOf(pid: number): string {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    return stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19] ?? '';
  } catch {
    return '';
  }
}

export function ownIdentity(): ProcessIdentity {
  return { pid: process.pid, startTicks: startTicksOf(process.pid) };
}

export function isSameProcess(a: ProcessIdentity, b: ProcessIdentity): boolean {
  return a.pid === b.pid && a.startTicks === b.startTicks;
}

export function isAlive({ pid, startTicks }: ProcessIdentity): boolean {
  try {
    process.kill(pid, 0);
  } catch (error) {
    // EPERM: it exists and belongs to somebody else.
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
  return startTicks === '' || startTicks === startTicksOf(pid);
}
