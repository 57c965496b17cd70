import { readFileSync } from 'node:fs';
import { timesByNode } from '#engine/system/processors.ts';
import type { ProcessorTimes } from '#engine/system/system.ts';

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
