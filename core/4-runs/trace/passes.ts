import { greatest } from '#core/1-ground/numbers/statistics.ts';
import type { Direction } from '#core/1-ground/curves/direction.ts';
import type { Marker, PassPhase, SampleColumns } from '#core/4-runs/run/run-document.ts';
import { evened } from '#core/4-runs/trace/evened.ts';
import { progressBytes, progressDuration, type Progress } from '#core/1-ground/curves/progress.ts';

/** One continuous transfer of a run. */
export interface Pass {
  pass: number;
  direction: Direction;
  phase: PassPhase;
  startSeconds: number;
  bytes: number;
  /** Seconds at its start in which nothing moved (a drive that spins up); not part of the rest. */
  spinUpSeconds: number;
  /** Seconds of the transfer, without the flush. */
  transferSeconds: number;
  /** Seconds of the flush that ended the pass. */
  flushSeconds: number;
  /** Seconds for which the person held the run; in neither of the above. */
  pausedSeconds: number;
  /** Bytes ÷ (transfer + flush): what the pass was worth. 0 for a pass without time. */
  bytesPerSecond: number;
  /** The transfer alone, from its own origin, in samples that hold enough requests. */
  progress: Progress;
  /** Mean rates of stretches long enough for a rate to be one, for drawing. */
  intervals: PassInterval[];
}

export interface PassInterval {
  fromSeconds: number;
  toSeconds: number;
  /** Bytes moved in the run and in this direction before the interval. */
  fromBytes: number;
  toBytes: number;
  operations: number;
  bytesPerSecond: number;
}

/** The pass that moved most; there has to be one. */
export const longestPass = (passes: readonly Pass[]): Pass =>
  passes.reduce((long, pass) => (pass.bytes > long.bytes ? pass : long));

/** Whether a pass shows what the drive does: what only finds a size, lays out data or keeps to a job's rate does not. */
export const isMeasuring = ({ phase }: Pass): boolean => !['sizing', 'laying-out', 'watching'].includes(phase);

type RunData = {
  samples: SampleColumns;
  markers: readonly Marker[];
  options?: Readonly<Record<string, unknown>>;
};

/** The passes of a run in the order in which they began. */
export function passesOf({ samples, markers, options }: RunData): Pass[] {
  const block = options?.['blockBytes'];
  const requestBytes = typeof block === 'number' ? block : null;
  const passes = new Map<string, Pass>();
  const pauses = markers.filter((marker) => marker.kind === 'pause');
  // A run that goes on overnight has tens of thousands of passes: each finds its own markers at once.
  const own = markersByPass(markers);
  for (let row = 0; row < samples.atSeconds.length; row += 1) {
    const direction = samples.direction[row]!;
    const number = samples.pass[row]!;
    const key = `${number} ${direction}`;
    const known = passes.get(key);
    if (known) addRow(known, samples, row, pauses);
    else passes.set(key, openPass(samples, row, own.get(key) ?? []));
  }
  const all = [...passes.values()];
  for (const pass of all) {
    closePass(pass, own.get(`${pass.pass} ${pass.direction}`) ?? []);
    pass.progress = evened(pass.progress, requestBytes);
  }
  return all.filter((pass) => pass.bytes > 0);
}

/** Markers of each pass and direction, by the key of the pass. */
function markersByPass(markers: readonly Marker[]): Map<string, Marker[]> {
  const own = new Map<string, Marker[]>();
  for (const marker of markers) {
    if (marker.pass === null || marker.direction === null) continue;
    const key = `${marker.pass} ${marker.direction}`;
    const known = own.get(key);
    if (known) known.push(marker);
    else own.set(key, [marker]);
  }
  return own;
}

function openPass(samples: SampleColumns, row: number, markers: readonly Marker[]): Pass {
  const direction = samples.direction[row]!;
  const number = samples.pass[row]!;
  const marker = markers.find((one) => one.kind === 'pass');
  return {
    pass: number,
    direction,
    phase: marker?.phase ?? (direction === 'read' ? 'reading' : 'overwriting'),
    startSeconds: samples.atSeconds[row]!,
    bytes: samples.cumulativeBytes[row]!, // the origin's for now: closePass subtracts it
    spinUpSeconds: 0,
    transferSeconds: 0,
    flushSeconds: 0,
    pausedSeconds: 0,
    bytesPerSecond: 0,
    progress: { seconds: [0], bytes: [0] },
    intervals: [],
  };
}

function addRow(pass: Pass, samples: SampleColumns, row: number, pauses: readonly Marker[]): void {
  const originBytes = pass.bytes;
  const lastSeconds = pass.startSeconds + progressDuration(pass.progress) + pass.pausedSeconds;
  const toSeconds = samples.atSeconds[row]!;
  const toBytes = samples.cumulativeBytes[row]!;
  if (toSeconds <= lastSeconds) return addBytesAtOnce(pass, toBytes - originBytes);
  const paused = pauses.reduce(
    (sum, { atSeconds, seconds }) => sum + overlap(atSeconds, seconds, lastSeconds, toSeconds),
    0,
  );
  pass.pausedSeconds += paused;
  const moving = toSeconds - lastSeconds - paused;
  if (moving <= 1e-9) return;
  pass.progress.seconds.push(toSeconds - pass.startSeconds - pass.pausedSeconds);
  pass.progress.bytes.push(toBytes - originBytes);
  addToIntervals(pass, toSeconds - moving, toSeconds, toBytes, samples.operations[row]!, paused > 0);
}

/** A row at the moment of the one before: requests that ended between two looks at the clock. */
function addBytesAtOnce({ progress, intervals }: Pass, bytes: number): void {
  const last = progress.bytes.length - 1;
  const interval = intervals.at(-1);
  if (last === 0 || !interval || bytes <= progress.bytes[last]!) return;
  interval.toBytes += bytes - progress.bytes[last]!;
  interval.bytesPerSecond = (interval.toBytes - interval.fromBytes) / (interval.toSeconds - interval.fromSeconds);
  progress.bytes[last] = bytes;
}

/** Seconds that a stretch of time shares with another. */
function overlap(atSeconds: number, seconds: number, from: number, to: number): number {
  return Math.max(0, Math.min(to, atSeconds + seconds) - Math.max(from, atSeconds));
}

/**
 * Requests that an interval should hold: a sample counts whole requests, so one of a few large
 * requests says less of the rate than of where the sample happened to fall.
 */
const INTERVAL_OPERATIONS = 16;
const LONGEST_INTERVAL_SECONDS = 1;
const LEAST_STOP_SECONDS = 0.25;

function addToIntervals(
  pass: Pass,
  fromSeconds: number,
  toSeconds: number,
  toBytes: number,
  operations: number,
  afterPause: boolean,
): void {
  const last = pass.intervals.at(-1);
  const open =
    last !== undefined &&
    !afterPause &&
    last.operations < INTERVAL_OPERATIONS &&
    last.toSeconds - last.fromSeconds < LONGEST_INTERVAL_SECONDS;
  // What moved nothing stands by itself, if it is longer than a few requests take.
  const isStop = open && last.toBytes === last.fromBytes && last.toSeconds - last.fromSeconds >= LEAST_STOP_SECONDS;
  if (open && !isStop) {
    last.toSeconds = toSeconds;
    last.toBytes = toBytes;
    last.operations += operations;
  } else {
    const fromBytes = last?.toBytes ?? pass.bytes;
    pass.intervals.push({ fromSeconds, toSeconds, fromBytes, toBytes, operations, bytesPerSecond: 0 });
  }
  const grown = pass.intervals.at(-1)!;
  grown.bytesPerSecond = (grown.toBytes - grown.fromBytes) / (grown.toSeconds - grown.fromSeconds);
}

/** The last interval may hold a moment only: it belongs to the one before. */
function closeIntervals({ intervals }: Pass): void {
  const [before, last] = intervals.slice(-2);
  if (!before || !last || last.operations >= INTERVAL_OPERATIONS / 2) return;
  if (last.toSeconds - last.fromSeconds >= LONGEST_INTERVAL_SECONDS) return;
  intervals.pop();
  before.toSeconds = last.toSeconds;
  before.toBytes = last.toBytes;
  before.operations += last.operations;
  before.bytesPerSecond = (before.toBytes - before.fromBytes) / (before.toSeconds - before.fromSeconds);
}

/** A wait at the start of a pass this long is the drive waking up and not its rate. */
const SPIN_UP_SECONDS = 0.5;

function setSpinUpApart(pass: Pass): void {
  const { seconds, bytes } = pass.progress;
  const moving = bytes.findIndex((value) => value > 0);
  const waited = moving > 0 ? seconds[moving - 1]! : 0;
  if (waited < SPIN_UP_SECONDS) return;
  pass.spinUpSeconds = waited;
  pass.startSeconds += waited;
  pass.intervals = pass.intervals.filter((interval) => interval.fromSeconds >= pass.startSeconds - 1e-9);
  pass.progress = {
    seconds: seconds.slice(moving - 1).map((value) => value - waited),
    bytes: bytes.slice(moving - 1),
  };
}

function closePass(pass: Pass, markers: readonly Marker[]): void {
  setSpinUpApart(pass);
  closeIntervals(pass);
  pass.bytes = progressBytes(pass.progress);
  pass.transferSeconds = progressDuration(pass.progress);
  // Flushes on the way are stalls of the curve already; only those after its end are added.
  const endSeconds = pass.startSeconds + pass.transferSeconds + pass.pausedSeconds - 1e-6;
  pass.flushSeconds = markers
    .filter((one) => one.kind === 'flush' && one.atSeconds >= endSeconds)
    .reduce((sum, one) => sum + one.seconds, 0);
  const seconds = pass.transferSeconds + pass.flushSeconds;
  pass.bytesPerSecond = seconds > 0 ? pass.bytes / seconds : 0;
}

/** What finds a size, lays something out or tries what a rest regained is no level of the drive. */
const COUNTED_PHASES: ReadonlySet<PassPhase> = new Set(['allocating', 'overwriting', 'reading']);

/**
 * Which passes count for the figures of a direction, and which is set apart. The pass that finds
 * the size never counts. The pass over new blocks is set apart when it lies outside what the later
 * ones span by more than 10 % of their median (spin-up, ramp, allocation); with fewer than two
 * later passes there is nothing to hold it against and it counts. A pass that was cut short counts
 * when it moved at least half of what the others did.
 */
export function countedPasses(passes: readonly Pass[], direction: Direction): { counted: Pass[]; apart: Pass[] } {
  const all = passes.filter((pass) => pass.direction === direction && COUNTED_PHASES.has(pass.phase));
  const fullBytes = greatest(
    all.map((pass) => pass.bytes),
    0,
  );
  const whole = all.filter((pass) => pass.bytes >= fullBytes / 2);
  const later = whole.slice(1);
  const first = whole[0];
  if (!first || later.length < 2) return { counted: whole, apart: [] };
  const rates = later.map((pass) => pass.bytesPerSecond).sort((a, b) => a - b);
  const slack = 0.1 * rates[rates.length >> 1]!;
  const odd = first.bytesPerSecond < rates[0]! - slack || first.bytesPerSecond > rates.at(-1)! + slack;
  return odd ? { counted: later, apart: [first] } : { counted: whole, apart: [] };
}
