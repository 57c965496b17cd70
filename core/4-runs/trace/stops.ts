import {
  largerOf,
  lostIn,
  longestWindow,
  lostTimeOf,
  withoutSmallSteps,
  type Closeness,
  type LostCurve,
  type LostTime,
} from '#core/4-runs/trace/lost-time.ts';

/** What loses nearly all of its time stands still, and is a stop when it loses this much. */
const STANDING_SHARE = 0.97;
const LEAST_STOP_SECONDS = 0.25;
/** A stop has no noise: its edges are where the buffer decides. */
const STOP_NOISE_SECONDS = 1e-4;
/** Where it stands still for more of the trace than this, that is how it works and no stop beside it. */
const MOST_STOPPED_SHARE = 0.12;
/** So few stops do not tell whether all of them come by the clock. */
const FEW_STOPS = 5;
/** What is left of a sample beside a stop, when it is less than this, is nothing. */
const LEAST_REST_SHARE = 0.05;

/**
 * The most time lost in any window when stops may come at any moment of the rest: a trace shows a few stops and where
 * they happened to fall, in a swing's high or its low. They come as near to each other as in the trace, looked at twice in
 * a row: after its last stop the next is as far as from its end and its beginning. Of a few, one may be no matter of the
 * clock but of its bytes, and fall beside any other.
 */
export function lostTimeWithStops(curve: LostCurve, closeness?: Closeness): LostTime {
  const parted = partStops(curve);
  if (!parted) return lostTimeOf(curve, closeness);
  const longest = longestWindow(curve);
  const lostBy = (stops: LostCurve) =>
    lostTimeOf(inARow(stops, longest), closeness, { longest, noiseSeconds: STOP_NOISE_SECONDS });
  let stops = lostBy(parted.stops);
  const each = stretchesOf(parted.stops.lost);
  if (each.length > 1 && each.length <= FEW_STOPS) {
    for (const one of each) {
      const others = without(parted.stops, one);
      const seconds = parted.stops.lost[one.to]! - parted.stops.lost[one.from]!;
      stops = largerOf(stops, withStopsIn(lostBy(others), singleStop(seconds, longest), longest));
    }
  }
  return withStopsIn(lostTimeOf(parted.rest, closeness), stops, longest);
}

const singleStop = (seconds: number, longest: number): LostTime => ({
  windowSeconds: [Math.min(seconds, longest), longest],
  lostSeconds: [Math.min(seconds, longest), Math.min(seconds, longest)],
});

/** What is lost when the stops of a window lie wherever the rest of it loses the most. */
function withStopsIn(rest: LostTime, stops: LostTime, longest: number): LostTime {
  const windows = new Set([...stops.windowSeconds, longest]);
  for (const window of rest.windowSeconds) {
    windows.add(window);
    for (const stopped of stops.lostSeconds) windows.add(window + stopped);
  }
  const windowSeconds = [...windows].filter((window) => window <= longest).sort((a, b) => a - b);
  const lostSeconds = windowSeconds.map((window) => {
    const stopped = lostIn(stops, window);
    return stopped + lostIn(rest, window - stopped);
  });
  return withoutSmallSteps({ windowSeconds, lostSeconds });
}

/** The stops of a trace by its own clock, and the rest as if they had not been; null where there are none to part. */
function partStops({ seconds, lost }: LostCurve): { stops: LostCurve; rest: LostCurve } | null {
  const samples = seconds.length - 1;
  const isStop = new Uint8Array(samples + 1);
  let [stopped, from] = [0, 0];
  for (let sample = 0; sample <= samples; sample += 1) {
    const stands =
      sample < samples &&
      lost[sample + 1]! - lost[sample]! >= STANDING_SHARE * (seconds[sample + 1]! - seconds[sample]!);
    if (stands) continue;
    // The samples at its edges hold some of it.
    const [first, behind] = [Math.max(0, from - 1), Math.min(samples, sample + 1)];
    if (sample > from && lost[behind]! - lost[first]! >= LEAST_STOP_SECONDS) {
      stopped += lost[behind]! - lost[first]!;
      isStop.fill(1, first, behind);
    }
    from = sample + 1;
  }
  if (stopped === 0 || stopped > MOST_STOPPED_SHARE * (seconds[samples]! - seconds[0]!)) return null;
  const stops: LostCurve = { seconds, lost: new Float64Array(samples + 1) };
  const restSeconds = [seconds[0]!];
  const restLost = [0];
  for (let sample = 0; sample < samples; sample += 1) {
    const took = seconds[sample + 1]! - seconds[sample]!;
    const lostHere = lost[sample + 1]! - lost[sample]!;
    const inStop = isStop[sample] === 1 ? Math.max(0, lostHere) : 0;
    stops.lost[sample + 1] = stops.lost[sample]! + inStop;
    if (took - inStop < LEAST_REST_SHARE * took) continue;
    restSeconds.push(restSeconds.at(-1)! + took - inStop);
    restLost.push(restLost.at(-1)! + lostHere - inStop);
  }
  return { stops, rest: { seconds: Float64Array.from(restSeconds), lost: Float64Array.from(restLost) } };
}

/** Moments between which a curve grows. */
interface Stretch {
  from: number;
  to: number;
}

function stretchesOf(lost: Float64Array): Stretch[] {
  const found: Stretch[] = [];
  for (let moment = 1; moment < lost.length; moment += 1) {
    if (lost[moment]! <= lost[moment - 1]!) continue;
    const last = found.at(-1);
    if (last?.to === moment - 1) last.to = moment;
    else found.push({ from: moment - 1, to: moment });
  }
  return found;
}

function without({ seconds, lost }: LostCurve, { from, to }: Stretch): LostCurve {
  const less = lost[to]! - lost[from]!;
  return { seconds, lost: lost.map((one, moment) => (moment <= from ? one : moment <= to ? lost[from]! : one - less)) };
}

/** A curve, and behind it its own beginning once more. */
function inARow({ seconds, lost }: LostCurve, more: number): LostCurve {
  const last = seconds.length - 1;
  const [endSeconds, endLost] = [seconds[last]! - seconds[0]!, lost[last]! - lost[0]!];
  let again = 1;
  while (again < last && seconds[again]! - seconds[0]! < more) again += 1;
  const all: LostCurve = { seconds: new Float64Array(last + 1 + again), lost: new Float64Array(last + 1 + again) };
  all.seconds.set(seconds);
  all.lost.set(lost);
  for (let moment = 1; moment <= again; moment += 1) {
    all.seconds[last + moment] = endSeconds + seconds[moment]!;
    all.lost[last + moment] = endLost + lost[moment]!;
  }
  return all;
}
