import { readTrace } from '#core/4-runs/trace/reading.ts';
import { summaryOf } from '#core/4-runs/supply/run-summary.ts';
import { simulateRun } from '#engine/run/simulate.ts';
import { STAND_INS } from '#engine/volumes/stand-in/catalogue.ts';

const ms = (value: number) => `${value.toFixed(0)} ms`;

/** Four hours at ten samples a second, with a knee and noise. */
export function fourHours() {
  const progress = { seconds: [0], bytes: [0] };
  let state = 1;
  for (let sample = 1; sample <= 144_000; sample += 1) {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    const rate = (sample < 4000 ? 2000e6 : 400e6) * (0.95 + (0.1 * state) / 2 ** 32);
    progress.seconds.push(sample / 10);
    progress.bytes.push(progress.bytes.at(-1)! + rate / 10);
  }
  return progress;
}

/** Reading a long trace, the first time and warm. */
export function benchReading(): string[][] {
  const progress = fourHours();
  const timed = () => {
    const begin = performance.now();
    readTrace(progress);
    return performance.now() - begin;
  };
  const cold = timed();
  const warm = Math.min(timed(), timed(), timed());
  return [['reading a trace of 144,000 samples, first and warm', `${ms(cold)}, ${ms(warm)}`]];
}

/** What simulating takes, and whether memory stays flat over four hours of a run. */
export async function benchStandIns(): Promise<string[][]> {
  const rows: string[][] = [];
  for (const standIn of ['petrel-2t', 'cormorant-x2'] as const) {
    const begin = performance.now();
    const options = { amountBytes: 400e9, untilFloor: false };
    const run = await simulateRun({ standIn, recipeId: 'long-fill', options });
    const took = performance.now() - begin;
    const bytes = run.samples.cumulativeBytes.at(-1)!;
    rows.push([
      `filling ${standIn} with 400 GB`,
      `${ms(took)}, ${(bytes / 1e9 / (took / 1e3)).toFixed(0)} simulated GB/s`,
    ]);
  }
  rows.push(await fourHourMemory());
  return rows;
}

/** The heap while a run of four hours goes on, less what its own samples take. */
async function fourHourMemory(): Promise<string[]> {
  const disc = STAND_INS.find((one) => one.id === 'anchor-16t')!;
  const heap: number[] = [];
  const timer = setInterval(() => heap.push(process.memoryUsage().heapUsed), 100);
  const options = { amountBytes: 3.1e12, untilFloor: false };
  const run = await simulateRun({ standIn: disc, recipeId: 'long-fill', options });
  clearInterval(timer);
  const samples = run.samples.atSeconds.length;
  const begin = performance.now();
  summaryOf(run);
  const judged = performance.now() - begin;
  const hours = run.samples.atSeconds.at(-1)! / 3600;
  const peak = Math.max(...heap, process.memoryUsage().heapUsed);
  return [
    `a run of ${hours.toFixed(1)} h (${samples} samples)`,
    `heap at most ${(peak / 1e6).toFixed(0)} MB, ${(peak / samples).toFixed(0)} B a sample; figures and doubts ${ms(judged)}`,
  ];
}
