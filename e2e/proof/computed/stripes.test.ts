import { describe, expect, it } from 'vitest';
import { randomFrom } from '#core/1-ground/random.ts';
import { composedEvidence } from '#core/5-answers/sizing/composed.ts';
import { copyTime } from '#core/5-answers/sizing/copy-time.ts';
import { profileRunOf } from '#core/4-runs/supply/profile.ts';
import { supplyFrom } from '#core/testing/curves.ts';
import { median } from '#core/1-ground/numbers/statistics.ts';
import { simulateRun } from '#engine/run/simulate.ts';
import { createDevice, type DeviceModel } from '#engine/volumes/stand-in/device.ts';
import { anyDrive } from '../../support/any-drive.ts';
import { extent } from '../extent.ts';

/**
 * Several drives in a stripe, predicted from one Long fill of one of them, against so many simulated drives that really
 * go in step: each row of the stripe takes as long as the slowest of them, and the clocks of the others go on meanwhile.
 */
const ROW_BYTES = 16 * 1024 * 1024;

/** Drives of one kind are not alike to the byte: caches and periods differ by a few per cent. */
function oneOf(model: DeviceModel, seed: number): DeviceModel {
  const random = randomFrom(seed);
  const about = (value: number, share: number) => value * (1 + share * (2 * random() - 1));
  const { cache } = model;
  return {
    ...model,
    cache: cache && {
      ...cache,
      bytes: about(cache.bytes, 0.04),
      sawtooth: cache.sawtooth && { ...cache.sawtooth, periodSeconds: about(cache.sawtooth.periodSeconds, 0.1) },
    },
  };
}

/** Seconds in which drives in step each write so many bytes. */
function inStepSeconds(models: readonly DeviceModel[], bytesEach: number, seed: number): number {
  const drives = models.map((model, index) => createDevice(model, seed + index));
  let seconds = 0;
  for (let position = 0; position < bytesEach; position += ROW_BYTES) {
    const took = drives.map((drive) => {
      const from = drive.clockSeconds;
      let moved = 0;
      while (moved < ROW_BYTES) {
        const load = { direction: 'write', blockBytes: ROW_BYTES, depth: 4, order: 'sequential' } as const;
        moved += drive.transfer(load, position + moved, ROW_BYTES - moved, Infinity).bytes;
      }
      return drive.clockSeconds - from;
    });
    const row = Math.max(...took);
    drives.forEach((drive, index) => drive.rest(row - took[index]!));
    seconds += row;
  }
  return seconds;
}

/** Predicted and real seconds of a stripe of so many drives of a kind. */
async function stripeOf(seed: number, drives: number, noise: number) {
  const drive = anyDrive(seed, false, noise);
  const { cache } = drive.model;
  const bytesEach = cache!.bytes + cache!.floorBytesPerSecond * 120;
  const options = { amountBytes: cache!.bytes + cache!.floorBytesPerSecond * 200, untilFloor: false };
  const fill = await simulateRun({ standIn: drive, recipeId: 'long-fill', options, seed });
  const [evidence] = profileRunOf(fill).traces;
  const together = { dataDrives: drives, waitedFor: drives };
  const composed = composedEvidence([{ evidence: evidence!, count: drives }], together, 1, Infinity);
  const models = Array.from({ length: drives }, (_, index) => oneOf(drive.model, 1000 * seed + index));
  const bytes = drives * bytesEach;
  const alone = composedEvidence(
    [{ evidence: evidence!, count: 1 }],
    { dataDrives: drives, waitedFor: 1 },
    1,
    Infinity,
  );
  return {
    predicted: copyTime(supplyFrom([composed]), bytes, false)!.writeSeconds,
    /** What so many times one drive would take, if none were waited for. */
    unwaited: copyTime(supplyFrom([alone]), bytes, false)!.writeSeconds,
    real: inStepSeconds(models, bytesEach, 7000 * seed),
    swings: cache!.sawtooth !== null,
  };
}

describe('a stripe predicted from one of its drives', () => {
  const KINDS = extent(60, 30);

  it.each([2, 4, 8])(
    `of %i takes as long as they take in step: ${KINDS} kinds each within 15 of 100, in the middle within 2`,
    async (drives) => {
      const ratios: number[] = [];
      const unwaited: number[] = [];
      for (let seed = 1; seed <= KINDS; seed += 1) {
        const stripe = await stripeOf(seed, drives, seed % 2 === 0 ? 0.03 : 0);
        const ratio = stripe.predicted / stripe.real;
        ratios.push(ratio);
        if (stripe.swings) unwaited.push(stripe.unwaited / stripe.real);
        expect(ratio, `kind ${seed}`).toBeGreaterThan(0.85);
        expect(ratio, `kind ${seed}`).toBeLessThan(1.15);
      }
      expect(Math.abs(median(ratios) - 1)).toBeLessThan(0.025);
      // Without waiting for the slowest, floors that swing would be promised far too much.
      expect(unwaited.length).toBeGreaterThan(KINDS / 6);
      expect(median(unwaited)).toBeLessThan(median(ratios) - 0.05);
      console.log(
        `${drives} drives in step: predicted ÷ real from ${Math.min(...ratios).toFixed(2)} to ${Math.max(...ratios).toFixed(2)}, ${median(ratios).toFixed(3)} in the middle; swinging floors without waiting ${median(unwaited).toFixed(2)}`,
      );
    },
  );
});
