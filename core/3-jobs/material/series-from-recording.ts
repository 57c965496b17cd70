import { formatDuration, formatNumber } from '#core/1-ground/units/format.ts';
import { median } from '#core/1-ground/numbers/statistics.ts';
import { askedToWrite, type RecordingRows } from '#core/3-jobs/recording/recording.ts';
import type { SeriesFromFiles } from '#core/3-jobs/material/series-from-files.ts';

/** A recording whose writing has a pace is a series: it computes, writes a frame, computes the next. */

/** Frames that tell a pace. */
const LEAST_FRAMES = 3;
/** Writing that pauses for less than this many samples goes on. */
const JOINED_SAMPLES = 3;
/** A pause shorter than this share of the usual one lies within a frame. */
const WITHIN_SHARE = 0.3;
/** Of frames and of the times between them, so many lie between half and twice the usual one. */
const LEAST_ALIKE_SHARE = 0.75;

interface Burst {
  fromSeconds: number;
  toSeconds: number;
  bytes: number;
}

/**
 * The frames of a recording, with the time that was not spent writing before each; null where it writes without a pace,
 * as a program does that writes in the background all the time.
 */
export function seriesOfRecording({ name, rows }: { name: string; rows: RecordingRows }): SeriesFromFiles | null {
  const bursts = framesIn(burstsOf(rows));
  if (bursts.length < LEAST_FRAMES) return null;
  const [start] = rows.seconds as [number];
  const before = bursts.map(({ fromSeconds }, at) => fromSeconds - (bursts[at - 1]?.toSeconds ?? start));
  const bytes = bursts.map((one) => one.bytes);
  // What came before the first is the program’s beginning, or the middle of a frame.
  const paced = before.slice(1);
  if (isUneven(bytes) || isUneven(paced)) return null;
  const usual = median(paced);
  const compute = [usual, ...paced].map((seconds) => Number(seconds.toFixed(3)));
  const writing = median(bursts.map(({ fromSeconds, toSeconds }) => toSeconds - fromSeconds));
  return {
    frames: { kind: 'files', label: name.slice(0, 120), firstFrame: 1, bytes, missingCount: 0 },
    secondsPerFrame: compute,
    holdsWriting: false,
    notes: [
      `${formatNumber(bursts.length, 'full')} frames were written while it was recorded, ${formatDuration(usual)} apart; writing one took ${formatDuration(writing)}. What is between them counts as computing.`,
    ],
  };
}

/** Stretches of writing, sample by sample. */
function burstsOf(rows: RecordingRows): Burst[] {
  const written = askedToWrite(rows);
  const { seconds } = rows;
  const steps = seconds.slice(1).map((second, at) => second - seconds[at]!);
  const joined = JOINED_SAMPLES * median(steps);
  const bursts: Burst[] = [];
  for (let row = 1; row < written.length; row += 1) {
    const bytes = written[row]! - written[row - 1]!;
    if (bytes === 0) continue;
    const last = bursts.at(-1);
    if (last && seconds[row - 1]! - last.toSeconds < joined) {
      last.toSeconds = seconds[row]!;
      last.bytes += bytes;
    } else bursts.push({ fromSeconds: seconds[row - 1]!, toSeconds: seconds[row]!, bytes });
  }
  return bursts;
}

/** Bursts joined where the pause between them is short against most of the others, without what is no frame, such as a log. */
function framesIn(bursts: readonly Burst[]): Burst[] {
  const most = Math.max(0, ...bursts.map(({ bytes }) => bytes));
  const large = bursts.filter(({ bytes }) => bytes > most / 20);
  const pauses = large.slice(1).map(({ fromSeconds }, at) => fromSeconds - large[at]!.toSeconds);
  const longest = Math.max(0, ...pauses);
  const frames: Burst[] = [];
  for (const burst of large) {
    const last = frames.at(-1);
    if (last && burst.fromSeconds - last.toSeconds < WITHIN_SHARE * longest) {
      last.toSeconds = burst.toSeconds;
      last.bytes += burst.bytes;
    } else frames.push({ ...burst });
  }
  return frames;
}

function isUneven(values: readonly number[]): boolean {
  const usual = median(values);
  const alike = values.filter((value) => value >= usual / 2 && value <= usual * 2);
  return usual <= 0 || alike.length < LEAST_ALIKE_SHARE * values.length;
}
