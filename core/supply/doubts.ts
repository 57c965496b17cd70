import { bindingHop, downgradedHops } from '#core/links/connection.ts';
import { DIRECTIONS, type Direction, type RunDocument } from '#core/run/run-document.ts';
import { heatOf } from '#core/supply/heat.ts';
import type { DirectionFigures, RunFigures } from '#core/trace/figures.ts';
import { bytesText, formatDuration, formatNumber, formatShare, rateText } from '#core/units/format.ts';

/**
 * Reasons not to trust a run. What a doubt does to a verdict is its effect:
 * `too-high`: the rates may be higher than the drive's, so the run may prove *Breaks*, never *Holds*;
 * `too-low`: they may be lower, so it may prove *Holds*, never *Breaks*;
 * `apart`: the odd part is set apart and the rest counts; `finding`: it is the drive, and counts;
 * `partial`: counts up to the gap; `void`: proves nothing.
 */
export const DOUBT_EFFECTS = ['too-high', 'too-low', 'apart', 'finding', 'partial', 'void'] as const;
export type DoubtEffect = (typeof DOUBT_EFFECTS)[number];

export type DoubtCode =
  | 'memory-read'
  | 'buffered'
  | 'read-from-write-cache'
  | 'server-memory'
  | 'short-run'
  | 'busy-drive'
  | 'busy-processor'
  | 'link-downgrade'
  | 'spin-up'
  | 'ramp'
  | 'nearly-full'
  | 'unsteady'
  | 'interrupted'
  | 'hot-start'
  | 'on-battery'
  | 'heat'
  | 'slept'
  | 'clone'
  | 'impossible'
  | 'wrong-data';

export interface Doubt {
  code: DoubtCode;
  effect: DoubtEffect;
  /** The direction it concerns; null for both. */
  direction: Direction | null;
  /** One sentence with the figures that raised it. */
  evidence: string;
  /** One sentence: what to do about it. */
  advice: string;
  /** Moment of the run at which it shows, seconds; null for what concerns all of it. */
  atSeconds: number | null;
}

/** What to do about each. */
const ADVICE: Record<DoubtCode, string> = {
  'memory-read': 'Read material that was not just written, with Existing material, or restart the machine before.',
  buffered: 'Measure on a filesystem that takes direct I/O, or write far more than the machine has memory.',
  'read-from-write-cache': 'Keep the scratch file of a Long fill and read it after a rest, or read Existing material.',
  'server-memory': 'Read more than the file server’s memory holds, or material that is older, with Existing material.',
  'short-run': 'Measure for longer: more passes, or a Long fill.',
  'busy-drive': 'Close what uses the drive (indexing, backup, synchronising) and measure again.',
  'busy-processor': 'Close other programs and measure again.',
  'hot-start': 'Let the drive cool for some minutes and measure again.',
  'link-downgrade': 'Try another slot, port or cable, and look at what both ends can do.',
  'on-battery': 'Plug the machine in and measure again.',
  'spin-up': 'Nothing: the wait is set apart. Wake the drive before a take.',
  ramp: 'Nothing: the odd pass is set apart.',
  heat: 'Give the drive air or a heat sink, or pause between takes.',
  'nearly-full': 'Free some space before the job.',
  unsteady: 'Look at the slowest second; the job has to live with it.',
  slept: 'Keep the machine awake and measure again for the whole.',
  interrupted: 'Measure again for the whole; what was measured counts.',
  'wrong-data': 'Do not trust this drive, cable or memory with anything. Copy off what is on it.',
  impossible: 'Look for memory or compression on the way; this is not the drive.',
  clone: 'The filesystem stored no new data. Measure with incompressible data on another volume.',
};

/** Device and own bytes may differ by this share before it is a doubt. */
const BYPASS_TOLERANCE = 0.05;
/** Of bytes written, less than this on the device after the flush means that none were stored. */
const CLONE_SHARE = 0.02;
const HOT_START_CELSIUS = 10;
const FOREIGN_TOLERANCE = 0.03;
const BUSY_PROCESSOR = 0.85;
const NEARLY_FULL = 0.85;
const UNSTEADY = 0.15;
const SHORT_RUN_SECONDS = 10;
/** What a server’s memory or a drive’s cache may hold of what was just written. */
const LARGEST_MEMORY_BYTES = 64e9;
/** A ceiling is computed from round figures; a rate may exceed it by this much and still be real. */
const CEILING_TOLERANCE = 1.05;

const verb = (direction: Direction): string => (direction === 'write' ? 'written' : 'read');

/** Every doubt about a run, from its document and figures. */
export function doubtsOf(run: RunDocument, figures: RunFigures): Doubt[] {
  const perDirection = DIRECTIONS.flatMap((direction) => directionDoubts(run, direction, figures[direction]));
  return [...perDirection, ...runDoubts(run)];
}

function directionDoubts(run: RunDocument, direction: Direction, figures: DirectionFigures | null): Doubt[] {
  const doubts: Doubt[] = [];
  const add = (code: DoubtCode, effect: DoubtEffect, evidence: string) =>
    doubts.push({ code, effect, direction, evidence, advice: ADVICE[code], atSeconds: null });

  bypassDoubts(run, direction, add);
  if (figures === null) return doubts;
  const ceiling = bindingHop(run.connection);
  if (ceiling && figures.medianBytesPerSecond > ceiling.ceilingBytesPerSecond * CEILING_TOLERANCE) {
    add(
      'impossible',
      'void',
      `${rateText(figures.medianBytesPerSecond)} ${verb(direction)} is more than ${ceiling.label} can carry, ${rateText(ceiling.ceilingBytesPerSecond)}.`,
    );
  }
  if (figures.seconds < SHORT_RUN_SECONDS) {
    add(
      'short-run',
      'too-high',
      `Only ${formatDuration(figures.seconds)} were ${verb(direction)} in all; a level shows after 10 s.`,
    );
  }
  if (direction === 'read' && readsOwnWriting(run) && figures.longestPassBytes < LARGEST_MEMORY_BYTES) {
    const what = `The ${bytesText(figures.longestPassBytes)} read had just been written and may have come`;
    if (run.drive.medium === 'network') add('server-memory', 'too-high', `${what} out of the file server’s memory.`);
    else add('read-from-write-cache', 'too-high', `${what} from the drive’s fast cache.`);
  }
  if (figures.passesApart > 0) {
    add('ramp', 'apart', 'The first pass lay outside what the others span and is set apart.');
  }
  if (figures.spinUpSeconds > 0) {
    add(
      'spin-up',
      'apart',
      `Nothing moved for the first ${formatDuration(figures.spinUpSeconds)}; that wait is set apart.`,
    );
  }
  if (figures.coefficientOfVariation > UNSTEADY) {
    add(
      'unsteady',
      'finding',
      `The passes ${direction === 'write' ? 'writing' : 'reading'} differ by ${formatShare(figures.coefficientOfVariation)} (standard deviation ÷ mean).`,
    );
  }
  return doubts;
}

type AddDoubt = (code: DoubtCode, effect: DoubtEffect, evidence: string) => void;

/** The proof of the bypass: what reached the device against what was asked for. */
function bypassDoubts(run: RunDocument, direction: Direction, add: AddDoubt): void {
  const { bypass, ioMode } = run.conditions;
  // A memory disk has no device behind it to be bypassed: its medium says all there is to say.
  if (ioMode === 'memory') return;
  if (ioMode === 'buffered') {
    add('buffered', 'too-high', 'The filesystem refused direct I/O, so requests went through the system’s cache.');
    return;
  }
  const rows = bypass.filter((row) => row.direction === direction && row.deviceBytes !== null);
  const own = rows.reduce((sum, row) => sum + row.ownBytes, 0);
  if (own === 0) return;
  const share = rows.reduce((sum, row) => sum + (row.deviceBytes ?? 0), 0) / own;
  const evidence = `The device moved ${formatShare(share)} of the bytes ${verb(direction)}`;
  const flushed = rows.reduce((sum, row) => sum + (row.deviceBytesAfterFlush ?? row.deviceBytes ?? 0), 0) / own;
  if (direction === 'write' && flushed < CLONE_SHARE) {
    add('clone', 'void', `${evidence}, even after the flush: nothing was stored.`);
    return;
  }
  if (share < 1 - BYPASS_TOLERANCE) {
    if (direction === 'read') add('memory-read', 'too-high', `${evidence}; the rest came out of memory.`);
    else add('buffered', 'too-high', `${evidence} by the last request; the rest was still in the system’s cache.`);
  } else if (share > 1 + BYPASS_TOLERANCE && !writesNames(run)) {
    add('busy-drive', 'too-low', `${evidence}: something else used the drive too.`);
  }
}

/** Names and folders of many files are written beside their bytes: that is no other traffic. */
function writesNames({ recipe }: RunDocument): boolean {
  return recipe === 'file-scatter' || recipe === 'paced-frames';
}

/** Whether the reading passes of a run read what its own writing passes wrote. */
function readsOwnWriting(run: RunDocument): boolean {
  return (
    run.conditions.ioMode !== 'memory' && run.drive.medium !== 'spinning' && run.samples.direction.includes('write')
  );
}

function runDoubts(run: RunDocument): Doubt[] {
  const doubts: Doubt[] = [];
  const add = (code: DoubtCode, effect: DoubtEffect, evidence: string, atSeconds: number | null = null) =>
    doubts.push({ code, effect, direction: null, evidence, advice: ADVICE[code], atSeconds });
  const { start, series, verification } = run.conditions;

  const foreign = mean(series.foreignBytesPerSecond);
  const own = ownBytesPerSecond(run);
  if (foreign !== null && own > 0 && !writesNames(run) && foreign / own > FOREIGN_TOLERANCE) {
    add(
      'busy-drive',
      'too-low',
      `Other programs moved ${rateText(foreign)} on the drive, ${formatShare(foreign / own)} of our own rate.`,
    );
  }
  const busy = mean(series.processorShare);
  if (busy !== null && busy > BUSY_PROCESSOR) {
    add('busy-processor', 'too-low', `The processor was ${formatShare(busy)} busy.`);
  }
  for (const hop of downgradedHops(run.connection)) {
    add(
      'link-downgrade',
      'too-low',
      `${hop.label} carries ${rateText(hop.ceilingBytesPerSecond)}; both ends could do ${rateText(hop.capableBytesPerSecond ?? 0)}.`,
    );
  }
  if (run.conditions.end?.connection) {
    const [before, after] = [bindingHop(run.connection), bindingHop(run.conditions.end.connection)];
    add(
      'link-downgrade',
      'too-low',
      `The link changed during the run, from ${before?.label ?? 'one not told'} to ${after?.label ?? 'one not told'}.`,
    );
  }
  if (start.onBattery === true) add('on-battery', 'too-low', 'The machine ran on its battery, which can slow drives.');
  const startCelsius = series.temperatureCelsius.find((celsius) => celsius !== null) ?? null;
  if (
    startCelsius !== null &&
    start.coolestCelsius !== null &&
    startCelsius > start.coolestCelsius + HOT_START_CELSIUS
  ) {
    add(
      'hot-start',
      'too-low',
      `It began at ${formatNumber(startCelsius)} °C; this drive has begun at ${formatNumber(start.coolestCelsius)} °C.`,
    );
  }
  const sleeps = run.markers.filter((marker) => marker.kind === 'sleep');
  const slept = sleeps.reduce((sum, marker) => sum + marker.seconds, 0);
  if (sleeps.length > 0) {
    add('slept', 'partial', `The machine slept for ${formatDuration(slept)} during the run.`, sleeps[0]!.atSeconds);
  }
  const heat = heatOf(run);
  if (heat) {
    add(
      'heat',
      'finding',
      `At ${formatNumber(heat.celsius)} °C the rate fell from ${rateText(heat.beforeBytesPerSecond)} to ${rateText(heat.afterBytesPerSecond)}.`,
      heat.atSeconds,
    );
  }
  const fill = start.totalBytes > 0 ? 1 - start.freeBytes / start.totalBytes : 0;
  if (fill > NEARLY_FULL) {
    add('nearly-full', 'finding', `The volume was ${formatShare(fill)} full, where many drives are slower.`);
  }
  if (verification.mismatches.length > 0) {
    const { fileOffset, foundOffset } = verification.mismatches[0]!;
    const found = foundOffset === null ? 'other data' : `the data of byte ${formatNumber(foundOffset, 'full')}`;
    add(
      'wrong-data',
      'void',
      `At byte ${formatNumber(fileOffset, 'full')} of the scratch file ${found} was read back instead of what was written.`,
    );
  }
  if (run.state === 'interrupted') {
    add('interrupted', 'partial', 'The program ended during the run; what had been measured counts.');
  }
  return doubts;
}

function mean(values: readonly (number | null)[]): number | null {
  const known = values.filter((value) => value !== null);
  return known.length === 0 ? null : known.reduce((sum, value) => sum + value, 0) / known.length;
}

function ownBytesPerSecond({ samples }: RunDocument): number {
  const last = (direction: Direction) => samples.cumulativeBytes[samples.direction.lastIndexOf(direction)] ?? 0;
  const seconds = samples.atSeconds.at(-1) ?? 0;
  return seconds > 0 ? (last('write') + last('read')) / seconds : 0;
}
