import { normalFrom, randomFrom } from '#core/1-ground/random.ts';
import type { Progress } from '#core/1-ground/curves/progress.ts';

/** Traces of known truth, for tests and proofs of trace reading. */
export interface MadeTrace {
  progress: Progress;
  kneeBytes: number | null;
  openingBytesPerSecond: number;
  floorBytesPerSecond: number;
  /** Longest sample, in bytes at the knee: the knee cannot be known finer. */
  sampleBytes: number;
  noise: number;
}

/** Rate of the made drive with `bytes` written after `seconds`. */
type RateAt = (bytes: number, seconds: number) => number;

export const TRACE_KINDS = [
  'drop',
  'small-drop',
  'dips',
  'two-steps',
  'ramp-then-drop',
  'sawtooth',
  'high-sawtooth',
  'heat-saw',
  'correlated',
  'heavy-tails',
  'steady',
  'slope',
] as const;
export type TraceKind = (typeof TRACE_KINDS)[number];

/** A trace of a kind, its parameters drawn by the seed. */
export function madeTrace(kind: TraceKind, seed: number): MadeTrace {
  const random = randomFrom(seed * 7919 + TRACE_KINDS.indexOf(kind) * 104_729);
  const between = (low: number, high: number) => low + random() * (high - low);
  const normal = normalFrom(random);
  const noise = kind === 'steady' ? 0.15 : between(0.03, kind.endsWith('sawtooth') ? 0.08 : 0.12);
  const sampleSeconds = [0.1, 0.2, 0.5][Math.floor(random() * 3)]!;
  const opening = Math.exp(between(Math.log(150e6), Math.log(5e9)));
  const openingSeconds = between(10, 90);
  const floorSeconds = between(30, 150);
  const dipAt = Array.from({ length: 4 }, () => between(0, openingSeconds + floorSeconds));
  const memory = kind === 'correlated' ? 0.6 : 0;

  const drop = kind === 'small-drop' ? between(0.62, 0.68) : between(0.08, 0.6);
  let floor = opening * drop;
  const knee = opening * openingSeconds;
  let kneeBytes: number | null = knee;
  let rateAt: RateAt = (bytes) => (bytes < knee ? opening : floor);
  if (kind === 'steady') {
    kneeBytes = null;
    floor = opening;
    rateAt = () => opening;
  } else if (kind === 'slope') {
    kneeBytes = null;
    const inner = between(0.42, 0.6);
    const total = opening * (openingSeconds + floorSeconds) * 0.75;
    rateAt = (bytes) => opening * (1 - (1 - inner) * Math.min(1, bytes / total));
  } else if (kind === 'two-steps') {
    const middle = opening * between(0.45, 0.6);
    floor = middle * between(0.3, 0.6);
    const second = knee + middle * between(20, 60);
    rateAt = (bytes) => (bytes < knee ? opening : bytes < second ? middle : floor);
  } else if (kind === 'ramp-then-drop') {
    rateAt = (bytes, seconds) => (bytes < knee ? opening * Math.min(1, 0.5 + seconds / 4) : floor);
  } else if (kind === 'heat-saw') {
    // Throttles and recovers: longer fast than slow, so that there is no knee.
    kneeBytes = null;
    const [period, slowShare] = [between(15, 30), between(0.2, 0.4)];
    const hot = opening * between(0.4, 0.65);
    const warm = between(0, period);
    rateAt = (_bytes, seconds) => ((seconds + warm) % period < (1 - slowShare) * period ? opening : hot);
  } else if (kind === 'sawtooth' || kind === 'high-sawtooth') {
    const bursts = kind === 'sawtooth' ? between(0.25, 0.6) : between(0.75, 1);
    const [low, high] = [opening * between(0.04, 0.15), opening * bursts];
    const period = between(4, 9);
    const highShare = between(0.25, 0.45);
    let fellAt: number | null = null;
    floor = low * (1 - highShare) + high * highShare;
    rateAt = (bytes, seconds) => {
      if (bytes < knee) return opening;
      fellAt ??= seconds;
      return ((seconds - fellAt) % period) / period < 1 - highShare ? low : high;
    };
  }

  const seconds = [0];
  const bytes = [0];
  let [clock, moved, drift] = [0, 0, 0];
  const end = kind === 'slope' ? (openingSeconds + floorSeconds) * 1.1 : openingSeconds + floorSeconds + 10;
  while (clock < end) {
    drift = memory * drift + Math.sqrt(1 - memory ** 2) * normal() * noise;
    let factor = Math.exp(drift - noise ** 2 / 2);
    if (kind === 'heavy-tails' && random() < 0.01) factor *= between(0.2, 0.6);
    if (kind === 'dips' && dipAt.some((at) => clock >= at && clock < at + 0.8)) factor *= 0.3;
    // Small steps: the rate changes within a sample, at the very byte.
    let left = sampleSeconds;
    while (left > 1e-9) {
      const step = Math.min(left, sampleSeconds / 10);
      moved += rateAt(moved, clock) * factor * step;
      clock += step;
      left -= step;
    }
    seconds.push(clock);
    bytes.push(moved);
  }
  return {
    progress: { seconds, bytes },
    kneeBytes,
    openingBytesPerSecond: opening,
    floorBytesPerSecond: floor,
    sampleBytes: sampleSeconds * opening,
    noise,
  };
}
