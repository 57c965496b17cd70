import type { Direction, Marker, PassPhase, SampleColumns } from '#core/run/run-document.ts';
import { progressBytes, progressDuration, type Progress } from '#core/trace/progress.ts';

/** One continuous transfer of a run. */
export interface Pass {
  pass: number;
  direction: Direction;
  phase: PassPhase;
  startSeconds: number;
  bytes: number;
  /** Seconds of the transfer, without the flush. */
  transferSeconds: number;
  /** Seconds of the flush that ended the pass. */
  flushSeconds: number;
  /** Bytes ÷ (transfer + flush): what the pass was worth. 0 for a pass without time. */
  bytesPerSecond: number;
  /** The transfer alone, from its own origin. */
  progress: Progress;
  /** Mean rate of each sampling interval with its end, for drawing. */
  intervals: PassInterval[];
}

export interface PassInterval {
  fromSeconds: number;
  toSeconds: number;
  /** Bytes moved in the run and in this direction before the interval. */
  fromBytes: number;
  toBytes: number;
  bytesPerSecond: number;
}

type RunData = { samples: SampleColumns; markers: readonly Marker[] };

/** The passes of a run in the order in which they began. */
export function passesOf({ samples, markers }: RunData): Pass[] {
  const passes = new Map<string, Pass>();
  for (let row = 0; row < samples.atSeconds.length; row += 1) {
    const direction = samples.direction[row]!;
    const number = samples.pass[row]!;
    const key = `${number} ${direction}`;
    const known = passes.get(key);
    if (known) addRow(known, samples, row);
    else passes.set(key, openPass(samples, row, markers));
  }
  const all = [...passes.values()];
  for (const pass of all) closePass(pass, markers);
  return all.filter((pass) => pass.bytes > 0);
}

function openPass(samples: SampleColumns, row: number, markers: readonly Marker[]): Pass {
  const direction = samples.direction[row]!;
  const number = samples.pass[row]!;
  const marker = markers.find((one) => one.kind === 'pass' && one.pass === number && one.direction === direction);
  return {
    pass: number,
    direction,
    phase: marker?.phase ?? (direction === 'read' ? 'reading' : 'overwriting'),
    startSeconds: samples.atSeconds[row]!,
    bytes: samples.cumulativeBytes[row]!, // the origin's for now: closePass subtracts it
    transferSeconds: 0,
    flushSeconds: 0,
    bytesPerSecond: 0,
    progress: { seconds: [0], bytes: [0] },
    intervals: [],
  };
}

function addRow(pass: Pass, samples: SampleColumns, row: number): void {
  const originBytes = pass.bytes;
  const lastSeconds = pass.startSeconds + progressDuration(pass.progress);
  const lastBytes = originBytes + progressBytes(pass.progress);
  const toSeconds = samples.atSeconds[row]!;
  const toBytes = samples.cumulativeBytes[row]!;
  if (toSeconds <= lastSeconds) return;
  pass.progress.seconds.push(toSeconds - pass.startSeconds);
  pass.progress.bytes.push(toBytes - originBytes);
  pass.intervals.push({
    fromSeconds: lastSeconds,
    toSeconds,
    fromBytes: lastBytes,
    toBytes,
    bytesPerSecond: (toBytes - lastBytes) / (toSeconds - lastSeconds),
  });
}

function closePass(pass: Pass, markers: readonly Marker[]): void {
  pass.bytes = progressBytes(pass.progress);
  pass.transferSeconds = progressDuration(pass.progress);
  // Flushes on the way are stalls of the curve already; only those after its end are added.
  const endSeconds = pass.startSeconds + pass.transferSeconds - 1e-6;
  pass.flushSeconds = markers
    .filter((one) => one.kind === 'flush' && one.pass === pass.pass && one.direction === pass.direction)
    .filter((one) => one.atSeconds >= endSeconds)
    .reduce((sum, one) => sum + one.seconds, 0);
  const seconds = pass.transferSeconds + pass.flushSeconds;
  pass.bytesPerSecond = seconds > 0 ? pass.bytes / seconds : 0;
}

/**
 * Which passes count for the figures of a direction, and which is set apart. The pass that finds
 * the size never counts. The pass over new blocks is set apart when it lies outside what the later
 * ones span by more than 10 % of their median (spin-up, ramp, allocation); with fewer than two
 * later passes there is nothing to hold it against and it counts. A pass that was cut short counts
 * when it moved at least half of what the others did.
 */
export function countedPasses(passes: readonly Pass[], direction: Direction): { counted: Pass[]; apart: Pass[] } {
  const all = passes.filter((pass) => pass.direction === direction && pass.phase !== 'sizing');
  const fullBytes = Math.max(0, ...all.map((pass) => pass.bytes));
  const whole = all.filter((pass) => pass.bytes >= fullBytes / 2);
  const later = whole.slice(1);
  const first = whole[0];
  if (!first || later.length < 2) return { counted: whole, apart: [] };
  const rates = later.map((pass) => pass.bytesPerSecond).sort((a, b) => a - b);
  const slack = 0.1 * rates[rates.length >> 1]!;
  const odd = first.bytesPerSecond < rates[0]! - slack || first.bytesPerSecond > rates.at(-1)! + slack;
  return odd ? { counted: later, apart: [first] } : { counted: whole, apart: [] };
}
