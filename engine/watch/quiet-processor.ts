import type { ProcessorTimes } from '#engine/system/system.ts';
import { system } from '#engine/system/this-system.ts';
import { busyShare } from '#engine/watch/processor-load.ts';

/** Busier than this by what others do, it may hold back what is measured. */
const BUSY_SHARE = 0.7;
/** It is looked at for so long before anything is said of it. */
const FIRST_LOOK_SECONDS = 0.25;
/** It is quiet once it was so for this long: what computes draws breath between two files. */
const QUIET_SECONDS = 2;

interface Looking {
  signal: AbortSignal;
  mostSeconds: number;
  /** Waits so long, or until it is stopped. */
  wait: (seconds: number) => Promise<void>;
  /** Given by tests. */
  times?: () => ProcessorTimes;
}

/**
 * Waits for a processor that others keep busy. Nothing of ours goes on meanwhile, so that all of it is theirs.
 * @returns seconds that were waited, 0 for one that was quiet, and whether it became so
 */
export async function untilQuiet({
  signal,
  mostSeconds,
  wait,
  times = () => system.processorTimes(),
}: Looking): Promise<{ waitedSeconds: number; isQuiet: boolean }> {
  let before = times();
  const isBusy = async (seconds: number): Promise<boolean> => {
    await wait(seconds);
    const now = times();
    const share = busyShare(before, now);
    before = now;
    return share !== null && share > BUSY_SHARE;
  };
  if (!(await isBusy(FIRST_LOOK_SECONDS)) || signal.aborted) return { waitedSeconds: 0, isQuiet: true };
  let [waitedSeconds, quietSeconds] = [FIRST_LOOK_SECONDS, 0];
  while (quietSeconds < QUIET_SECONDS && waitedSeconds < mostSeconds && !signal.aborted) {
    quietSeconds = (await isBusy(1)) ? 0 : quietSeconds + 1;
    waitedSeconds += 1;
  }
  return { waitedSeconds, isQuiet: quietSeconds >= QUIET_SECONDS };
}
