import type { AccessOrder } from '#core/3-jobs/recipes/block-ladder.ts';
import { normalFrom, randomFrom } from '#core/1-ground/random.ts';
import type { Direction } from '#core/1-ground/curves/direction.ts';
import { faultAt, type Fault } from '#core/4-runs/stand-ins/faults.ts';
import { PAGE_BYTES } from '#core/1-ground/units/page.ts';

/** What makes one stand-in differ from another. Rates in bytes per second; null parts do not apply. */
export interface DeviceModel {
  writeBytesPerSecond: number;
  readBytesPerSecond: number;
  /** A fast cache that runs out while writing. */
  cache: CacheModel | null;
  /** Spinning media: rate at the first and last byte of the capacity, both directions; seek and half a turn. */
  zones: { outerBytesPerSecond: number; innerBytesPerSecond: number; seekSeconds: number } | null;
  spinUpSeconds: number;
  /** Time of one request beside its bytes. */
  requestSeconds: { write: number; read: number };
  /** Requests that the device works on at the same time. */
  parallel: number;
  /** Time of one operation on a file (create, open, delete) and of one name in a listing. */
  fileSeconds: number;
  nameSeconds: number;
  /** Least ceiling of the links to it. */
  linkBytesPerSecond: number;
  /** Bytes of a file server’s memory, out of which it serves what was just written. */
  serverMemoryBytes: number;
  /** Standard deviation of the logarithm of the rate. */
  noise: number;
  thermal: ThermalModel;
  totalBytes: number;
  freeBytes: number;
}

export interface CacheModel {
  bytes: number;
  /** The cache is at most this share of the space still free, for drives that use free space as cache. */
  shareOfFree: number;
  floorBytesPerSecond: number;
  /** A floor that swings: high for a share of each period, `floorBytesPerSecond` for the rest. */
  sawtooth: { highBytesPerSecond: number; periodSeconds: number; highShare: number } | null;
  foldBytesPerSecond: number;
  /** The cache empties itself after so much idleness; 0 also between paced requests. */
  idleSeconds: number;
}

/** First-order heating: at rest, at work, and how quickly it gets there. */
export interface ThermalModel {
  restCelsius: number;
  riseCelsius: number;
  timeConstantSeconds: number;
  /** Slows by the factor when too hot until it has cooled. */
  throttle: { atCelsius: number; resumeCelsius: number; factor: number } | null;
}

/** How requests come. */
export interface Load {
  direction: Direction;
  blockBytes: number;
  depth: number;
  order: AccessOrder;
}

/** A simulated device on its own clock. Deterministic for a seed. */
export interface Device {
  /** Moves up to `bytes` within `seconds`, at a position in the free space; returns what it did. */
  transfer(load: Load, position: number, bytes: number, seconds: number): { bytes: number; seconds: number };
  /** Lets time pass on `count` file operations. */
  fileOperations(count: number): void;
  /** Lets time pass on reading `count` names. */
  listNames(count: number): void;
  rest(seconds: number): void;
  /** A number from a normal distribution, mean 0 and deviation 1. */
  normal(): number;
  readonly temperatureCelsius: number;
  readonly clockSeconds: number;
  /** Bytes per second of other programs just now. */
  readonly foreignBytesPerSecond: number;
}

/** How much of the noise lasts from one tenth of a second to the next. */
const NOISE_MEMORY = 0.6;
const NOISE_SECONDS = 0.1;
/** A rest this short is the gap between two requests. */
const MOST_SLICE_SECONDS = 1;
const STALL_SECONDS = 4;
/** Other traffic comes and goes, and takes this share while it is there. */
const TRAFFIC = { everySeconds: 6, forSeconds: 3, share: 0.4 };
const MEMORY_BYTES_PER_SECOND = 9e9;
/** With requests waiting, a spinning drive chooses the nearest: seeks shorten with the depth. */
const SEEK_GAIN = 0.22;

export function createDevice(model: DeviceModel, seed: number, faults: readonly Fault[] = []): Device {
  const random = randomFrom(seed);
  const { cache, zones, thermal } = model;
  let clock = 0;
  let cacheUsed = 0;
  let written = 0;
  let idleFor = 0;
  let temperature = thermal.restCelsius + (faultAt(faults, 'hot') === null ? 0 : 0.75 * thermal.riseCelsius);
  let throttled = false;
  let spinUpLeft = model.spinUpSeconds;
  let stallAt = faultAt(faults, 'stall');
  let stallLeft = 0;
  let drift = 0;
  let noiseUntil = 0;
  let slowSince: number | null = null;
  const busy = faultAt(faults, 'other-traffic') !== null;
  const cachedReads = faultAt(faults, 'cached-reads') !== null;

  const normal = normalFrom(random);

  const cacheBytes = (): number =>
    cache === null ? 0 : Math.min(cache.bytes, cache.shareOfFree * Math.max(0, model.freeBytes - written));

  const zoneRate = (position: number): number => {
    const share = Math.min(1, (model.totalBytes - model.freeBytes + position) / model.totalBytes);
    return zones!.outerBytesPerSecond - share * (zones!.outerBytesPerSecond - zones!.innerBytesPerSecond);
  };

  const foreignShare = (): number => (busy && clock % TRAFFIC.everySeconds < TRAFFIC.forSeconds ? TRAFFIC.share : 0);

  /** What the medium does in one stream, before requests, links and heat. */
  const mediumRate = (direction: Direction, position: number): number => {
    if (direction === 'read') return zones ? zoneRate(position) : model.readBytesPerSecond;
    if (cache && cacheUsed >= cacheBytes()) {
      const { sawtooth, floorBytesPerSecond } = cache;
      slowSince ??= clock;
      if (!sawtooth) return floorBytesPerSecond;
      const phase = ((clock - slowSince) % sawtooth.periodSeconds) / sawtooth.periodSeconds;
      return phase < 1 - sawtooth.highShare ? floorBytesPerSecond : sawtooth.highBytesPerSecond;
    }
    return zones ? zoneRate(position) : model.writeBytesPerSecond;
  };

  /** Rate of a load: by its requests' own time, the medium, and the link. */
  const rateOf = ({ direction, blockBytes, depth, order }: Load, position: number): number => {
    if (direction === 'read' && cachedReads) return MEMORY_BYTES_PER_SECOND;
    if (
      direction === 'read' &&
      model.serverMemoryBytes > 0 &&
      position < model.serverMemoryBytes &&
      written > position
    ) {
      return model.linkBytesPerSecond;
    }
    const medium = mediumRate(direction, position);
    const own = model.requestSeconds[direction];
    let rate: number;
    if (zones && order === 'random') {
      rate = blockBytes / (zones.seekSeconds / (1 + SEEK_GAIN * Math.log2(depth)) + blockBytes / medium);
    } else {
      const outstanding = Math.min(depth, model.parallel);
      rate = Math.min(medium, (outstanding * blockBytes) / (own + blockBytes / medium));
    }
    return Math.min(rate, model.linkBytesPerSecond) * (throttled ? thermal.throttle!.factor : 1);
  };

  const pass = (seconds: number, load: number): void => {
    const goal = thermal.restCelsius + thermal.riseCelsius * load;
    temperature = goal + (temperature - goal) * Math.exp(-seconds / thermal.timeConstantSeconds);
    clock += seconds;
    if (!thermal.throttle) return;
    if (temperature >= thermal.throttle.atCelsius) throttled = true;
    else if (temperature <= thermal.throttle.resumeCelsius) throttled = false;
  };

  const noiseFactor = (): number => {
    if (clock >= noiseUntil) {
      drift = NOISE_MEMORY * drift + Math.sqrt(1 - NOISE_MEMORY ** 2) * normal() * model.noise;
      noiseUntil = clock + NOISE_SECONDS - 1e-9;
    }
    return Math.exp(drift - model.noise ** 2 / 2);
  };

  return {
    transfer(load, position, bytes, seconds) {
      idleFor = 0;
      if (stallAt !== null && clock >= stallAt) {
        stallAt = null;
        stallLeft = STALL_SECONDS;
      }
      if (spinUpLeft > 0 || stallLeft > 0) {
        const waited = Math.min(spinUpLeft > 0 ? spinUpLeft : stallLeft, seconds);
        if (spinUpLeft > 0) spinUpLeft -= waited;
        else stallLeft -= waited;
        pass(waited, 0.5);
        return { bytes: 0, seconds: waited };
      }
      const rate = rateOf(load, position) * noiseFactor() * (1 - foreignShare());
      let moved = Math.min(bytes, rate * Math.min(seconds, MOST_SLICE_SECONDS));
      const left = cacheBytes() - cacheUsed;
      // The slice ends where the cache does: the rate changes there. A cache that shrinks with the
      // free space while it is written to is met half-way.
      if (load.direction === 'write' && left > 0) {
        const shrinks = cache !== null && cacheBytes() < cache.bytes ? 1 + cache.shareOfFree : 1;
        moved = Math.min(moved, Math.max(PAGE_BYTES, left / shrinks));
      }
      if (load.direction === 'write') {
        if (cache) cacheUsed += moved;
        written = Math.max(written, position + moved);
      }
      const took = moved / rate;
      // Folding the cache works the flash as hard as filling it: what matters is being busy.
      pass(took, throttled ? thermal.throttle!.factor : 1);
      return { bytes: moved, seconds: took };
    },
    fileOperations(count) {
      pass(count * model.fileSeconds * Math.exp(0.3 * normal() - 0.045), 0.4);
    },
    listNames(count) {
      pass(model.fileSeconds + count * model.nameSeconds, 0.1);
    },
    rest(seconds) {
      idleFor += seconds;
      if (cache && idleFor > cache.idleSeconds) {
        const folding = Math.min(seconds, idleFor - cache.idleSeconds);
        cacheUsed = Math.max(0, Math.min(cacheUsed, cacheBytes()) - folding * cache.foldBytesPerSecond);
        slowSince = null;
      }
      pass(seconds, 0);
    },
    normal,
    get temperatureCelsius() {
      return temperature;
    },
    get clockSeconds() {
      return clock;
    },
    get foreignBytesPerSecond() {
      return foreignShare() * model.writeBytesPerSecond;
    },
  };
}
