import { system } from '#engine/system/this-system.ts';

/** A process, told from a later one that got the same id. */
export interface ProcessIdentity {
  pid: number;
  /** Start time in clock ticks since boot, empty where the system does not tell. */
  startTicks: string;
}

export function ownIdentity(): ProcessIdentity {
  return { pid: process.pid, startTicks: system.processMark(process.pid) };
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
  return startTicks === '' || startTicks === system.processMark(pid);
}
