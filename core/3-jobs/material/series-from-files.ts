import type { FileFrames, SeriesItem } from '#core/3-jobs/demand/series/series-item.ts';
import { growthOf } from '#core/3-jobs/demand/series/frame-bytes.ts';
import { missingText, onlySequence } from '#core/3-jobs/material/sequence.ts';
import { formatDuration, formatNumber } from '#core/1-ground/units/format.ts';
import { median } from '#core/1-ground/numbers/statistics.ts';

/** A file as a folder lists it. */
export interface CacheFile {
  name: string;
  bytes: number;
  /** When it was last written, seconds since any beginning; null when not known. */
  modifiedSeconds: number | null;
}

export interface SeriesFromFiles {
  frames: FileFrames;
  /** Seconds from one frame to the next of the past simulation; null when the files do not tell. */
  secondsPerFrame: number[] | null;
  /** Whether those seconds hold the writing of each frame. */
  holdsWriting: boolean;
  /** One sentence each on what was noticed. */
  notes: string[];
}

/** A gap this many times the usual is somebody's night and no frame. */
const PAUSE_FACTOR = 20;

/**
 * A series from numbered files: sizes, growth, missing frames, and the past pace from the files' own
 * times. @throws Problem `bad-input` when none of them is numbered
 */
export function seriesFromFiles(files: readonly CacheFile[], label: string): SeriesFromFiles {
  const sequence = onlySequence(files.map(({ name, bytes }) => ({ name, bytes })));
  const frames: FileFrames = {
    kind: 'files',
    label: (label || sequence.pattern).slice(0, 120),
    firstFrame: sequence.files[0]!.number,
    bytes: sequence.files.map(({ bytes }) => bytes),
    missingCount: sequence.missingCount,
  };
  const pace = paceOf(
    files,
    sequence.files.map(({ number }) => number),
  );
  const growth = growthOf(frames.bytes);
  const notes = [
    ...(sequence.missingCount > 0
      ? [`${formatNumber(sequence.missingCount, 'full')} of its frames are missing: ${missingText(sequence)}.`]
      : []),
    ...(sequence.empty.length > 0 ? [`${formatNumber(sequence.empty.length, 'full')} of its frames are empty.`] : []),
    ...(Math.abs(growth - 1) > 0.02
      ? [`Its last frames are ${formatNumber(growth)} times as large as its first.`]
      : []),
    pace === null
      ? 'The files’ own times do not tell how long a frame took.'
      : `By the files’ own times a frame took ${formatDuration(median(pace))}, writing included: it is not charged again.`,
  ];
  return { frames, secondsPerFrame: pace, holdsWriting: true, notes };
}

/** Times between frames that follow each other; copied files all have the time of the copy and tell nothing. */
function paceOf(files: readonly CacheFile[], numbers: readonly number[]): number[] | null {
  const byNumber = new Map(
    files.flatMap(({ name, modifiedSeconds }) => {
      const digits = /(\d+)\.[a-z0-9]+$/i.exec(name)?.[1];
      return digits === undefined || modifiedSeconds === null ? [] : [[Number(digits), modifiedSeconds] as const];
    }),
  );
  const times = numbers.map((number) => byNumber.get(number));
  const gaps = times.slice(1).map((time, index) => (time ?? NaN) - (times[index] ?? NaN));
  if (gaps.length < 2 || gaps.some((gap) => !(gap >= 0))) return null;
  const usual = median(gaps);
  if (usual < 0.05) return null;
  const kept = gaps.map((gap) => (gap > PAUSE_FACTOR * usual ? usual : gap));
  // The first frame has none before it.
  return [median(kept), ...kept].map((seconds) => Number(seconds.toFixed(2)));
}

/** The item that a folder makes of one that is being given, with the past pace as its computing. */
export function withFiles(item: SeriesItem, { frames, secondsPerFrame, holdsWriting }: SeriesFromFiles): SeriesItem {
  return {
    ...item,
    frames,
    frameCount: frames.bytes.length,
    ...(secondsPerFrame ? { computeSeconds: secondsPerFrame.map((seconds) => Math.max(0, seconds)) } : {}),
    // What is known of another folder, or was typed, is not of this one.
    heldWriting: secondsPerFrame && holdsWriting ? { bytesPerSecond: null } : undefined,
  };
}
