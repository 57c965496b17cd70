import type { Progress } from '#core/1-ground/curves/progress.ts';
import {
  noiseOf,
  segmentsOf,
  sortedOf,
  withoutSpikes,
  type Noise,
  type SampledRates,
} from '#core/4-runs/trace/segments.ts';
import {
  sawtoothOf,
  segmentList,
  slopeOf,
  type Sawtooth,
  type Segment,
  type SlopeCurve,
} from '#core/4-runs/trace/shape.ts';

/** A stretch in which the rate stayed about the same. */
export interface Level {
  fromBytes: number;
  toBytes: number;
  fromSeconds: number;
  toSeconds: number;
  /** Bytes over seconds without single outliers. */
  bytesPerSecond: number;
}

/** What a trace says of its drive: levels, where the rate falls for good, and to what. */
export interface TraceReading {
  levels: Level[];
  /** Level at the start; null for slopes, which have none. */
  openingBytesPerSecond: number | null;
  /** Bytes and seconds at which the rate falls under 75 % of the opening and stays there; null when it does not. */
  kneeBytes: number | null;
  kneeSeconds: number | null;
  /** A fall spread over more than 2 % of the knee's bytes, from–to; null for one that is sharp. */
  kneeSpreadBytes: [number, number] | null;
  /** Level it falls to; null without a knee. */
  floorBytesPerSecond: number | null;
  /** Where that level begins; null without a knee. */
  floorFromBytes: number | null;
  floorBytes: number;
  floorSeconds: number;
  sawtooth: Sawtooth | null;
  /** Slows again and again without a knee, as a drive does that is too hot. */
  throttling: boolean;
  /** A rate that falls steadily from outer to inner tracks; null for steps. */
  slope: { startBytesPerSecond: number; endBytesPerSecond: number } | null;
}

/** Under this share of the opening the rate has fallen. */
export const KNEE_SHARE = 0.75;
const LN_KNEE = Math.log(KNEE_SHARE);
const LEAST_OPENING_SECONDS = 3;
const RAMP_RISE = 0.05;
/** A fall smaller than this from the level before is creeping. */
const LEAST_STEP = 0.12;
const LEAST_FLOOR_SECONDS = 3;
const FLOOR_SECONDS = 60;
const FLOOR_BYTES = 20e9;
const SPREAD_SHARE = 0.02;

interface Samples extends SampledRates {
  /** Raw rates, bytes per second. */
  rates: Float64Array;
}

/** Samples of a curve whose time advances. Plain loops: a live run of hours is read again and again. */
function samplesOf({ seconds, bytes }: Progress): Samples {
  const most = Math.max(0, seconds.length - 1);
  const samples = {
    seconds: new Float64Array(most),
    bytes: new Float64Array(most),
    rates: new Float64Array(most),
    logRates: new Float64Array(most),
  };
  const [originSeconds, originBytes] = [seconds[0] ?? 0, bytes[0] ?? 0];
  let [lastSeconds, lastBytes, count] = [originSeconds, originBytes, 0];
  for (let index = 1; index < seconds.length; index += 1) {
    const took = seconds[index]! - lastSeconds;
    if (took <= 1e-9) continue;
    samples.seconds[count] = seconds[index]! - originSeconds;
    samples.bytes[count] = bytes[index]! - originBytes;
    samples.rates[count] = (bytes[index]! - lastBytes) / took;
    lastSeconds = seconds[index]!;
    lastBytes = bytes[index]!;
    count += 1;
  }
  const typical = middleOf(sortedOf(samples.rates, 0, count)) ?? 1;
  const least = Math.max(1, typical / 1000);
  for (let index = 0; index < count; index += 1) {
    samples.logRates[index] = Math.log(Math.max(samples.rates[index]!, least));
  }
  return {
    seconds: samples.seconds.subarray(0, count),
    bytes: samples.bytes.subarray(0, count),
    rates: samples.rates.subarray(0, count),
    logRates: samples.logRates.subarray(0, count),
  };
}

const middleOf = (sorted: Float64Array): number | undefined => sorted[sorted.length >> 1];

/** Fewer samples than this show no levels. */
const LEAST_SAMPLES = 8;

/**
 * Reads a trace. Method: log rates, robust noise, running median, PELT on blocks, refinement on raw
 * samples, then slopes, opening, knee, sawtooth and floor are told apart; see core/4-runs/trace/segments.ts
 * and core/4-runs/trace/shape.ts. Null for a trace too short to have levels.
 * @param progress one continuous transfer, pauses cut out
 */
export function readTrace(progress: Progress): TraceReading | null {
  const raw = samplesOf(progress);
  if (raw.rates.length < LEAST_SAMPLES) return null;
  const noise = noiseOf(raw.logRates);
  const clean = { ...raw, logRates: withoutSpikes(raw.logRates, noise.stepSigma) };
  const segments = segmentList(clean, segmentsOf(clean, noise));
  const slope = slopeOf(clean, segments, noise);
  if (slope) return slopeReading(raw, segments, slope, noise);

  const opening = openingOf(segments, raw.seconds.at(-1)!);
  const kneeAt = kneeOf(segments, opening, raw);
  const tooth = sawtoothOf(raw, raw.rates, kneeAt === null ? segments[opening]!.from : segments[kneeAt]!.from, noise);
  if (kneeAt === null) {
    return {
      ...emptyReading(),
      levels: segments.map((segment) => levelOf(raw, segment.from, segment.to, noise)),
      openingBytesPerSecond: levelOf(raw, segments[opening]!.from, segments[opening]!.to, noise).bytesPerSecond,
      sawtooth: tooth,
      throttling: tooth !== null && tooth.highShare > 0.5,
    };
  }
  const openingEnd = lastOpening(segments, opening, kneeAt);
  const knee = sharpen(raw, segments[openingEnd]!, segments[kneeAt]!, noise);
  return kneeReading(raw, segments, { opening, openingEnd, kneeAt, knee }, tooth, noise);
}

function emptyReading(): TraceReading {
  return {
    levels: [],
    openingBytesPerSecond: null,
    kneeBytes: null,
    kneeSeconds: null,
    kneeSpreadBytes: null,
    floorBytesPerSecond: null,
    floorFromBytes: null,
    floorBytes: 0,
    floorSeconds: 0,
    sawtooth: null,
    throttling: false,
    slope: null,
  };
}

function slopeReading(raw: Samples, segments: readonly Segment[], { a, b, c }: SlopeCurve, noise: Noise): TraceReading {
  return {
    ...emptyReading(),
    levels: segments.map((segment) => levelOf(raw, segment.from, segment.to, noise)),
    slope: { startBytesPerSecond: Math.exp(a), endBytesPerSecond: Math.exp(a + b + c) },
  };
}

/** Number of the segment that is the opening: a slow ramp before it is set apart. */
function openingOf(segments: readonly Segment[], totalSeconds: number): number {
  let at = 0;
  while (at < segments.length - 1) {
    const [here, next] = [segments[at]!, segments[at + 1]!];
    const [lasts, nextLasts] = [here.toSeconds - here.fromSeconds, next.toSeconds - next.fromSeconds];
    const ramp = next.logRate > here.logRate + RAMP_RISE && nextLasts > lasts / 2;
    const tooShort =
      lasts < Math.min(LEAST_OPENING_SECONDS, totalSeconds / 10) &&
      here.toSeconds < totalSeconds / 2 &&
      next.logRate > here.logRate + LN_KNEE;
    if (!ramp && !tooShort) break;
    at += 1;
  }
  return at;
}

/** Number of the first segment under 75 % of the opening from which the rate does not recover. */
function kneeOf(segments: readonly Segment[], opening: number, raw: Samples): number | null {
  const level = segments[opening]!.logRate + LN_KNEE;
  const end = raw.seconds.at(-1)!;
  const slack = end / raw.seconds.length + 0.05;
  const openingSeconds = (to: number) => segments[to]!.fromSeconds - segments[opening]!.fromSeconds;
  for (let at = opening + 1; at < segments.length; at += 1) {
    const segment = segments[at]!;
    if (segment.logRate >= level || segments[at - 1]!.logRate - segment.logRate < LEAST_STEP) continue;
    if (end - segment.fromSeconds < LEAST_FLOOR_SECONDS - slack) continue;
    let [low, high, longestReturn, returns] = [0, 0, 0, 0];
    let recovered = false;
    let returning = 0;
    for (const later of segments.slice(at)) {
      const seconds = later.toSeconds - later.fromSeconds;
      if (later.logRate < level) {
        low += seconds;
        returning = 0;
      } else {
        high += seconds;
        if (returning === 0) returns += 1;
        returning += seconds;
        longestReturn = Math.max(longestReturn, returning);
      }
      if (high >= low) recovered = true;
    }
    if (recovered) continue;
    if (low < EARLIER_FALLS * longestFall(segments.slice(opening + 1, at), level)) continue;
    const lasted = openingSeconds(at);
    if (lasted < 0.9 * Math.min(LEAST_OPENING_SECONDS, end / 4)) continue;
    if (returns >= 2 && lasted <= 1.3 * longestReturn) continue;
    return at;
  }
  return null;
}

/** A fall that has not lasted longer than earlier ones, from which the rate came back, is one of them. */
const EARLIER_FALLS = 1.5;

/** Longest time without a break under a level, seconds. */
function longestFall(segments: readonly Segment[], level: number): number {
  let [longest, falling] = [0, 0];
  for (const { logRate, fromSeconds, toSeconds } of segments) {
    falling = logRate < level ? falling + toSeconds - fromSeconds : 0;
    longest = Math.max(longest, falling);
  }
  return longest;
}

/** Last segment before the knee that is still about the opening: between the two the fall is spread. */
function lastOpening(segments: readonly Segment[], opening: number, kneeAt: number): number {
  let last = opening;
  for (let at = opening; at < kneeAt; at += 1) {
    if (segments[at]!.logRate > segments[opening]!.logRate + Math.log(0.9)) last = at;
  }
  return last;
}

const SHARPEN_SAMPLES = 20;

/** Sample at which the knee lies, by squared residuals to both levels, outliers capped. */
function sharpen(raw: Samples, before: Segment, after: Segment, noise: Noise): number {
  const at = after.from;
  if (before.to !== at) return at;
  const cap = (3 * noise.sigma) ** 2;
  const from = Math.max(before.from + 1, at - SHARPEN_SAMPLES);
  const to = Math.min(after.to - 1, at + SHARPEN_SAMPLES);
  const residual = (sample: number, level: number) => Math.min(cap, (raw.logRates[sample]! - level) ** 2);
  let cost = 0;
  for (let sample = from; sample < to; sample += 1) cost += residual(sample, after.logRate);
  let [least, best] = [cost, from];
  for (let sample = from; sample < to; sample += 1) {
    cost += residual(sample, before.logRate) - residual(sample, after.logRate);
    if (cost < least) [least, best] = [cost, sample + 1];
  }
  return best;
}

function kneeReading(
  raw: Samples,
  segments: readonly Segment[],
  found: { opening: number; openingEnd: number; kneeAt: number; knee: number },
  tooth: Sawtooth | null,
  noise: Noise,
): TraceReading {
  const { opening, openingEnd, kneeAt, knee } = found;
  const startBytes = (sample: number) => (sample === 0 ? 0 : raw.bytes[sample - 1]!);
  const startSeconds = (sample: number) => (sample === 0 ? 0 : raw.seconds[sample - 1]!);
  const openingLevel = levelOf(raw, segments[opening]!.from, Math.min(segments[openingEnd]!.to, knee), noise);
  const before = segments.slice(0, kneeAt).filter((segment) => segment.to <= knee);
  const after = segments.slice(kneeAt);
  const tail: Level[] =
    tooth === null
      ? after.map((segment, index) => levelOf(raw, index === 0 ? knee : segment.from, segment.to, noise))
      : [{ ...levelOf(raw, knee, raw.rates.length, noise), bytesPerSecond: tooth.meanBytesPerSecond }];
  const floor = floorOf(tail);
  const kneeBytes = startBytes(knee);
  const openingBytes = segments[openingEnd]!.toBytes;
  const isSpread = openingEnd < kneeAt - 1 && kneeBytes - openingBytes > SPREAD_SHARE * kneeBytes;
  return {
    ...emptyReading(),
    levels: [
      ...before.map((segment) => levelOf(raw, segment.from, segment.to, noise)),
      ...(before.length === kneeAt ? [] : [levelOf(raw, segments[before.length]!.from, knee, noise)]),
      ...tail,
    ],
    openingBytesPerSecond: openingLevel.bytesPerSecond,
    kneeBytes,
    kneeSeconds: startSeconds(knee),
    kneeSpreadBytes: isSpread ? [openingBytes, kneeBytes] : null,
    floorBytesPerSecond: floor.bytesPerSecond,
    floorFromBytes: floor.fromBytes,
    floorBytes: floor.toBytes - floor.fromBytes,
    floorSeconds: floor.toSeconds - floor.fromSeconds,
    sawtooth: tooth,
  };
}

/** The lowest level that lasts a minute or 20 GB, else the last of at least three seconds. */
function floorOf(tail: readonly Level[]): Level {
  const long = tail.filter(
    (level) => level.toSeconds - level.fromSeconds >= FLOOR_SECONDS || level.toBytes - level.fromBytes >= FLOOR_BYTES,
  );
  if (long.length > 0) return long.reduce((low, level) => (level.bytesPerSecond < low.bytesPerSecond ? level : low));
  const lasting = tail.filter((level) => level.toSeconds - level.fromSeconds >= LEAST_FLOOR_SECONDS - 0.2);
  return lasting.at(-1) ?? tail.at(-1)!;
}

/** Bytes over seconds of a stretch, single outliers left out of both. */
function levelOf(raw: Samples, from: number, to: number, noise: Noise): Level {
  const start = (column: Float64Array) => (from === 0 ? 0 : column[from - 1]!);
  const end = Math.max(from + 1, to);
  const middle = middleOf(sortedOf(raw.logRates, from, end))!;
  const limit = 4 * Math.max(0.02, noise.sigma);
  let [bytes, seconds] = [0, 0];
  for (let sample = from; sample < end; sample += 1) {
    if (Math.abs(raw.logRates[sample]! - middle) > limit) continue;
    const took = raw.seconds[sample]! - (sample === 0 ? 0 : raw.seconds[sample - 1]!);
    bytes += raw.rates[sample]! * took;
    seconds += took;
  }
  return {
    fromBytes: start(raw.bytes),
    toBytes: raw.bytes[end - 1]!,
    fromSeconds: start(raw.seconds),
    toSeconds: raw.seconds[end - 1]!,
    bytesPerSecond: seconds > 0 ? bytes / seconds : 0,
  };
}
