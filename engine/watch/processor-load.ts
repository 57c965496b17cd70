import { readFileSync } from 'node:fs';
import { cpus } from 'node:os';

/** Time of all processors together since the machine was started, in any one unit. */
export interface ProcessorTimes {
  busy: number;
  total: number;
}

/** Times of all processors now. */
export function processorTimes(): ProcessorTimes {
  try {
    return parseProcessorTimes(readFileSync('/proc/stat', 'utf8')) ?? timesByNode();
  } catch {
    return timesByNode();
  }
}

/**
 * Times from the text of Linux's /proc/stat (proc_stat(5)); null where it is another text. A processor that waits for a
 * drive is free, which is most of what it does beside a slow one; one that the host of a virtual machine gave to another
 * is not.
 */
export function parseProcessorTimes(text: string): ProcessorTimes | null {
  const fields = /^cpu +(.+)$/m.exec(text)?.[1]?.split(' ').map(Number);
  if (!fields || fields.length < 7 || fields.some(Number.isNaN)) return null;
  const [user, nice, system, idle, waiting, interrupts, softInterrupts, stolen = 0] = fields as [
    ...[number, number, number, number, number, number, number],
    number?,
  ];
  const busy = user + nice + system + interrupts + softInterrupts + stolen;
  return { busy, total: busy + idle + waiting };
}

/** Where the system keeps no such text. On Linux this leaves out the time in which a processor waits for a drive. */
function timesByNode(): ProcessorTimes {
  return cpus().reduce(
    ({ busy, total }, { times }) => {
      const all = times.user + times.nice + times.sys + times.irq + times.idle;
      return { busy: busy + all - times.idle, total: total + all };
    },
    { busy: 0, total: 0 },
  );
}

/** Busy share of all processors between two readings, 0 to 1; null when no time passed. */
export function busyShare(before: ProcessorTimes, now: ProcessorTimes): number | null {
  const total = now.total - before.total;
  return total > 0 ? Math.min(1, Math.max(0, (now.busy - before.busy) / total)) : null;
}
