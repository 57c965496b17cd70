import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Progress } from '#core/1-ground/curves/progress.ts';
import { randomFrom } from '#core/1-ground/random.ts';
import { evened } from '#core/4-runs/trace/evened.ts';
import { readTrace } from '#core/4-runs/trace/reading.ts';

const MB = 1e6;
const REQUEST = 8 * 1024 ** 2;

/** What a look every tenth of a second sees of a drive whose requests end one after the other at its rate. */
function looksAt(fast: number, slow: number, kneeBytes: number, moreSeconds: number, seed: number): Progress {
  const random = randomFrom(seed);
  const ends: number[] = [];
  const seconds = kneeBytes / fast + moreSeconds;
  for (let [at, bytes] = [0, 0]; at < seconds; bytes += REQUEST) {
    at += (REQUEST / (bytes < kneeBytes ? fast : slow)) * (1 + 0.1 * (random() - 0.5));
    ends.push(at);
  }
  const looks: Progress = { seconds: [0], bytes: [0] };
  for (let [at, ended] = [0.1, 0]; at < seconds; at += 0.1) {
    while (ended < ends.length && ends[ended]! <= at) ended += 1;
    looks.seconds.push(at);
    looks.bytes.push(ended * REQUEST);
  }
  return looks;
}

describe('samples that hold few requests', () => {
  it.each([
    [250, 40, 8],
    [250, 20, 10],
    [120, 60, 20],
    [150, 60, 10],
    [300, 150, 10],
    [100, 30, 20],
  ])('a fall from %d to %d MB/s is read within %d s of it', (fast, slow, seconds) => {
    let off = 0;
    for (let seed = 1; seed <= 60; seed += 1) {
      const kneeBytes = fast * MB * (4 + 0.1 * seed);
      const reading = readTrace(evened(looksAt(fast * MB, slow * MB, kneeBytes, seconds, seed), REQUEST));
      const isRead =
        reading !== null &&
        reading.kneeBytes !== null &&
        Math.abs(reading.kneeBytes / kneeBytes - 1) < 0.05 &&
        Math.abs(reading.floorBytesPerSecond! / (slow * MB) - 1) < 0.12;
      if (!isRead) off += 1;
    }
    // Of 60 none to 60 were found, or were off by more, when each look was a sample.
    expect(off).toBeLessThanOrEqual(3);
  });

  it('keeps all bytes and all of the time, and stops of its longest sample', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({ took: fc.double({ min: 0.05, max: 3, noNaN: true }), requests: fc.integer({ min: 0, max: 6 }) }),
          {
            minLength: 1,
            maxLength: 60,
          },
        ),
        (steps) => {
          const trace: Progress = { seconds: [0], bytes: [0] };
          for (const { took, requests } of steps) {
            trace.seconds.push(trace.seconds.at(-1)! + took);
            trace.bytes.push(trace.bytes.at(-1)! + requests * REQUEST);
          }
          const even = evened(trace, REQUEST);
          expect([even.seconds.at(-1), even.bytes.at(-1)]).toEqual([trace.seconds.at(-1), trace.bytes.at(-1)]);
          // Every point is one of the trace’s own.
          const own = new Set(trace.seconds.map((second, at) => `${second} ${trace.bytes[at]}`));
          for (const [at, second] of even.seconds.entries()) expect(own.has(`${second} ${even.bytes[at]}`)).toBe(true);
          const took = even.seconds.slice(1).map((second, at) => second - even.seconds[at]!);
          expect(Math.max(...took)).toBeLessThanOrEqual(2.5 + 3);
        },
      ),
    );
  });

  it('leaves alone what moved in no requests of one size, and samples that hold enough', () => {
    const random = randomFrom(3);
    const bytes = [0];
    for (let at = 1; at <= 200; at += 1) bytes.push(bytes[at - 1]! + 4e6 * (1 + random()));
    const seconds = bytes.map((_, at) => at / 10);
    expect(evened({ seconds, bytes }, REQUEST)).toEqual({ seconds, bytes });
    const full = { seconds, bytes: seconds.map((_, at) => at * 5 * REQUEST) };
    expect(evened(full, REQUEST)).toEqual(full);
    const few = { seconds, bytes: seconds.map((_, at) => at * REQUEST) };
    expect(evened(few, null)).toEqual(few);
    expect(evened(few, REQUEST).seconds).toHaveLength(51);
  });
});
