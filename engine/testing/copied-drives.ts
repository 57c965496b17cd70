import { copyingSeconds } from '#core/5-answers/copies/copy-words.ts';
import { predictCopy, type CopyPrediction } from '#core/5-answers/copies/predict.ts';
import { randomFrom } from '#core/1-ground/random.ts';
import { PROFILE_VERSION, profileRunOf, type Profile } from '#core/4-runs/supply/profile.ts';
import { simulateRun } from '#engine/run/simulate.ts';
import { STAND_INS, type StandIn } from '#engine/volumes/stand-in/catalogue.ts';

/** Drives to copy between, for tests: what is predicted of them against what a simulated copy takes. */

const GB = 1e9;

export const standInById = (id: string): StandIn => STAND_INS.find((one) => one.id === id)!;

export const predictedSeconds = (copy: CopyPrediction): number => copyingSeconds(copy);

/** What three runs tell of a drive, each begun rested: how it is written, how it is read, and what its files cost. */
export async function profileOf(device: StandIn, bytes: number, seed = 7): Promise<Profile> {
  const fill = await simulateRun({
    standIn: device,
    recipeId: 'long-fill',
    options: { amountBytes: bytes, untilFloor: false },
    seed,
  });
  const read = await simulateRun({
    standIn: device,
    recipeId: 'existing-material',
    options: { amountBytes: bytes, passes: 1 },
    seed,
  });
  const scatter = await simulateRun({ standIn: device, recipeId: 'file-scatter', options: { files: 400 }, seed });
  return {
    tavrox: PROFILE_VERSION,
    drive: fill.drive,
    connection: fill.connection,
    runs: [fill, read, scatter].map((run) => profileRunOf(run)),
  };
}

/** Drives of all kinds with figures of their own: flash with caches, with swinging floors, spinning ones, slow links. */
function drawnDrive(seed: number): StandIn {
  const random = randomFrom(seed);
  const between = (low: number, high: number) => low * (high / low) ** random();
  const parent = standInById(['petrel-2t', 'limpet-1t', 'cormorant-x2', 'anchor-16t'][seed % 4]!);
  const { model } = parent;
  const cache = model.cache && {
    ...model.cache,
    bytes: between(4, 60) * GB,
    floorBytesPerSecond: between(0.1, 0.6) * model.writeBytesPerSecond,
  };
  return {
    ...parent,
    id: `drawn-${seed}`,
    label: `Drawn ${seed}`,
    model: {
      ...model,
      writeBytesPerSecond: model.writeBytesPerSecond * between(0.5, 1.2),
      readBytesPerSecond: model.readBytesPerSecond * between(0.5, 1.2),
      cache: cache?.sawtooth ? { ...cache, floorBytesPerSecond: between(60, 200) * 1e6 } : cache,
      thermal: { ...model.thermal, throttle: null },
    },
  };
}

const PAIR_BYTES = 80 * GB;

/** Pairs of drawn drives of which the prediction is more than three per cent off, each as a line; empty where none is. */
export async function pairsOff(driveCount: number, pairs: number): Promise<string[]> {
  const drives = Array.from({ length: driveCount }, (_, index) => drawnDrive(index + 1));
  const profiles = await Promise.all(drives.map((drive) => profileOf(drive, PAIR_BYTES)));
  const off: string[] = [];
  for (let pair = 0; pair < pairs; pair += 1) {
    const a = pair % driveCount;
    const b = (pair * 7 + Math.floor(pair / driveCount) + 1) % driveCount;
    const [from, to] = [drives[a]!, drives[b]!];
    const options = { bytes: PAIR_BYTES, files: 8, verify: 'none' };
    const run = await simulateRun({ standIn: from, targets: [to], recipeId: 'copy', options, seed: 100 + pair });
    const payload = { bytes: PAIR_BYTES, files: 8, parallelFiles: 2, verifies: false };
    // What a drive that stands still takes to turn is set apart in its runs, and is no part of a rate.
    const spinUp = Math.max(from.model.spinUpSeconds, to.model.spinUpSeconds);
    const predicted = predictedSeconds(predictCopy(payload, profiles[a]!, [profiles[b]!])!) + spinUp;
    const measured = run.copy!.legs[0]!.copySeconds;
    const error = predicted / measured - 1;
    // Whether the end just misses a slow time of a drive that swings by the clock, nobody can know.
    const saw = to.model.cache?.sawtooth;
    const slack = saw ? ((1 - saw.highShare) * saw.periodSeconds) / measured : 0;
    if (Math.abs(error) > 0.03 + slack) off.push(`${from.label} to ${to.label}: ${(100 * error).toFixed(1)} %`);
  }
  return off;
}
