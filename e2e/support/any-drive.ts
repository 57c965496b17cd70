import { randomFrom } from '#core/1-ground/random.ts';
import type { StandIn } from '#engine/volumes/stand-in/catalogue.ts';

const MB = 1e6;

/** A flash drive of any size, speed and cache; `empties` empties the cache between paced requests. */
export function anyDrive(seed: number, empties: boolean, noise: number): StandIn {
  const random = randomFrom(seed);
  const between = (low: number, high: number) => low * (high / low) ** random();
  const opening = between(600 * MB, 5000 * MB);
  const floor = opening * between(0.08, 0.5);
  const swings = random() < 0.3;
  return {
    id: `drive-${seed}`,
    label: `Drive ${seed}`,
    description: '',
    medium: 'flash',
    connection: { hops: [] },
    model: {
      writeBytesPerSecond: opening,
      readBytesPerSecond: opening,
      cache: {
        bytes: between(4e9, 60e9),
        shareOfFree: 1,
        floorBytesPerSecond: floor,
        sawtooth: swings ? { highBytesPerSecond: floor * 2, periodSeconds: between(4, 12), highShare: 0.3 } : null,
        foldBytesPerSecond: floor * between(0.2, 0.6),
        idleSeconds: empties ? 0 : 1e9,
      },
      zones: null,
      spinUpSeconds: 0,
      requestSeconds: { write: 0, read: 0 },
      parallel: 64,
      fileSeconds: 0,
      nameSeconds: 0,
      linkBytesPerSecond: 1e12,
      serverMemoryBytes: 0,
      noise,
      thermal: { restCelsius: 30, riseCelsius: 5, timeConstantSeconds: 60, throttle: null },
      totalBytes: 2e12,
      freeBytes: 1.6e12,
    },
  };
}
