import { spawn } from 'node:child_process';
import { availableParallelism } from 'node:os';
import { setTimeout as wait } from 'node:timers/promises';
import { describe, expect, it } from 'vitest';
import { untilQuiet } from '#engine/watch/quiet-processor.ts';
import { system } from '#engine/system/this-system.ts';

/** A processor that is busy as told, second by second, on a clock of its own. */
function made(shares: readonly number[]) {
  const clock = { seconds: 0, busy: 0 };
  return {
    clock,
    times: () => ({ busy: clock.busy, total: clock.seconds }),
    wait: (seconds: number) => {
      clock.busy += seconds * (shares[Math.floor(clock.seconds)] ?? 0);
      clock.seconds += seconds;
      return Promise.resolve();
    },
  };
}
const look = (shares: readonly number[], signal = new AbortController().signal, mostSeconds = 60) => {
  const processor = made(shares);
  return untilQuiet({ signal, mostSeconds, ...processor }).then((found) => ({
    ...found,
    tookSeconds: processor.clock.seconds,
  }));
};

describe('a busy processor', () => {
  it('is not waited for where it is quiet', async () => {
    expect(await look([0.3])).toEqual({ waitedSeconds: 0, isQuiet: true, tookSeconds: 0.25 });
  });

  it('is waited for until it was quiet for two seconds, whatever it did between', async () => {
    const busy = [1, 1, 1, 0.2, 1, 1, 0.1, 0.1, 0.1, 0.1];
    const { waitedSeconds, isQuiet } = await look(busy);
    expect(isQuiet).toBe(true);
    // Looks stand a quarter of a second behind whole seconds: the one that begins in second 5 is the last busy one.
    expect(waitedSeconds).toBe(8.25);
  });

  it('is not waited for for ever, nor once a run is stopped', async () => {
    const always = new Array<number>(100).fill(1);
    expect(await look(always, undefined, 10)).toMatchObject({ waitedSeconds: 10.25, isQuiet: false });
    expect(await look(always, AbortSignal.abort())).toMatchObject({ waitedSeconds: 0 });
  });

  // That it is at rest cannot be asked of a machine on which other tests run beside this one.
  it.skipIf(system.name !== 'Linux')('is found on this machine where something computes on all of it', async () => {
    const spinning = Array.from({ length: 2 * availableParallelism() }, () =>
      spawn(process.execPath, ['-e', 'console.log(1); for (;;);'], { stdio: ['ignore', 'pipe', 'ignore'] }),
    );
    try {
      await Promise.all(spinning.map((one) => new Promise((resolve) => one.stdout.once('data', resolve))));
      const found = await untilQuiet({
        signal: new AbortController().signal,
        mostSeconds: 2,
        wait: (seconds) => wait(seconds * 1000),
      });
      expect(found).toEqual({ waitedSeconds: 2.25, isQuiet: false });
    } finally {
      for (const one of spinning) one.kill('SIGKILL');
    }
  });
});
