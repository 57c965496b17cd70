import { cpus } from 'node:os';
import type { ProcessorTimes } from '#engine/system/system.ts';

/** Times as Node tells them. On Linux this leaves out the time in which a processor waits for a drive. */
export function timesByNode(): ProcessorTimes {
  return cpus().reduce(
    ({ busy, total }, { times }) => {
      const all = times.user + times.nice + times.sys + times.irq + times.idle;
      return { busy: busy + all - times.idle, total: total + all };
    },
    { busy: 0, total: 0 },
  );
}
