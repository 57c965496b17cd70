import type { Direction } from '#core/run/run-document.ts';

/** What makes one stand-in differ from another. Rates in bytes per second. */
export interface DeviceModel {
  writeBytesPerSecond: number;
  readBytesPerSecond: number;
  /** A fast cache that runs out while writing; null for media without one. */
  cache: { bytes: number; floorBytesPerSecond: number; foldBytesPerSecond: number } | null;
  /** Spinning media: rate at the first and last byte of the capacity, both directions. */
  zones: { outerBytesPerSecond: number; innerBytesPerSecond: number } | null;
  spinUpSeconds: number;
  /** Time of one request beside its bytes. */
  requestSeconds: number;
  /** Standard deviation of the logarithm of the rate. */
  noise: number;
  /** First-order heating: at rest, at full rate, and how quickly it gets there. */
  thermal: { restCelsius: number; riseCelsius: number; timeConstantSeconds: number };
  totalBytes: number;
  freeBytes: number;
}

/** A simulated device on its own clock. Deterministic for a seed. */
export interface Device {
  /** Moves up to `bytes` within `seconds`, at a position in the free space; returns what it did. */
  transfer(direction: Direction, position: number, bytes: number, seconds: number): { bytes: number; seconds: number };
  rest(seconds: number): void;
  /** A number from a normal distribution, mean 0 and deviation 1. */
  normal(): number;
  readonly temperatureCelsius: number;
  readonly clockSeconds: number;
}

/** mulberry32: a small seeded generator whose quality suffices for noise. */
export function randomFrom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32;
  };
}

/** How much of the noise lasts from one tenth of a second to the next. */
const NOISE_MEMORY = 0.6;

export function createDevice(model: DeviceModel, seed: number): Device {
  const random = randomFrom(seed);
  let clock = 0;
  let cacheUsed = 0;
  let temperature = model.thermal.restCelsius;
  let spinUpLeft = model.spinUpSeconds;
  let drift = 0;

  /** Box–Muller. */
  const normal = (): number => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());

  const rateOf = (direction: Direction, position: number): number => {
    if (model.zones) {
      const share = Math.min(1, (model.totalBytes - model.freeBytes + position) / model.totalBytes);
      return (
        model.zones.outerBytesPerSecond - share * (model.zones.outerBytesPerSecond - model.zones.innerBytesPerSecond)
      );
    }
    if (direction === 'read') return model.readBytesPerSecond;
    return model.cache && cacheUsed >= model.cache.bytes ? model.cache.floorBytesPerSecond : model.writeBytesPerSecond;
  };

  const pass = (seconds: number, load: number): void => {
    const { restCelsius, riseCelsius, timeConstantSeconds } = model.thermal;
    const goal = restCelsius + riseCelsius * load;
    temperature = goal + (temperature - goal) * Math.exp(-seconds / timeConstantSeconds);
    clock += seconds;
  };

  return {
    transfer(direction, position, bytes, seconds) {
      if (spinUpLeft > 0) {
        const waited = Math.min(spinUpLeft, seconds);
        spinUpLeft -= waited;
        pass(waited, 0.5);
        return { bytes: 0, seconds: waited };
      }
      drift = NOISE_MEMORY * drift + Math.sqrt(1 - NOISE_MEMORY ** 2) * normal() * model.noise;
      const full = rateOf(direction, position);
      const rate = full * Math.exp(drift - model.noise ** 2 / 2);
      let moved = Math.min(bytes, rate * seconds);
      if (direction === 'write' && model.cache && cacheUsed < model.cache.bytes) {
        // The slice ends where the cache does: the rate changes there.
        moved = Math.min(moved, model.cache.bytes - cacheUsed);
      }
      if (direction === 'write') cacheUsed += moved;
      const took = moved / rate;
      pass(took, rate / Math.max(model.writeBytesPerSecond, model.readBytesPerSecond));
      return { bytes: moved, seconds: took };
    },
    rest(seconds) {
      if (model.cache)
        cacheUsed = Math.max(0, Math.min(cacheUsed, model.cache.bytes) - seconds * model.cache.foldBytesPerSecond);
      pass(seconds, 0);
    },
    normal,
    get temperatureCelsius() {
      return temperature;
    },
    get clockSeconds() {
      return clock;
    },
  };
}
