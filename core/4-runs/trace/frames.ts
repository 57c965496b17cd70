import { pacedFramesOptionsSchema } from '#core/3-jobs/recipes/paced-frames.ts';
import { paddedFrameBytes, type FrameStream } from '#core/2-trade/media/frame-stream.ts';
import type { Direction } from '#core/1-ground/curves/direction.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { framesPerSecond } from '#core/1-ground/units/frame-rate.ts';

/** How one stream of paced frames fared. */
export interface StreamFigures {
  name: string;
  direction: Direction;
  framesPerSecond: number;
  frames: number;
  /** Done after their deadline, but not lost: the buffer caught them, or they were shown late. */
  late: number;
  dropped: number;
  /** Seconds after the deadline, of frames that were not dropped; negative is early. */
  latenessP50Seconds: number | null;
  latenessP99Seconds: number | null;
  latenessMaxSeconds: number | null;
  /** Deadline of the first frame that was dropped, seconds since the first deadline; null when none was. */
  firstDroppedSeconds: number | null;
  bufferFrames: number;
  /** Fewest frames that still fitted into the buffer (recording) or lay ready in it (playing). */
  lowWaterFrames: number;
  /** Bytes that padding frames to whole pages added. */
  paddingBytes: number;
}

export interface FrameFigures {
  streams: StreamFigures[];
  frames: number;
  late: number;
  dropped: number;
  /** Seconds of the run at the first deadline, and from it to the last. */
  beginSeconds: number;
  seconds: number;
}

/** The lines of the options as single streams, in the order in which they are counted. */
function singleStreams(streams: readonly FrameStream[]): FrameStream[] {
  return streams.flatMap((stream) =>
    Array.from({ length: stream.count }, (_, index) => ({
      ...stream,
      name: stream.count === 1 ? stream.name : `${stream.name}, ${index + 1} of ${stream.count}`,
    })),
  );
}

export function framesOf({ options, frames }: Pick<RunDocument, 'options' | 'frames'>): FrameFigures | null {
  if (frames.dueSeconds.length === 0) return null;
  const { streams, bufferSeconds } = pacedFramesOptionsSchema.cast(options);
  const singles = singleStreams(streams);
  const rows = singles.map(() => ({ due: [] as number[], lateness: [] as (number | null)[] }));
  frames.stream.forEach((stream, row) => {
    const own = rows[stream];
    if (!own) return;
    own.due.push(frames.dueSeconds[row]!);
    own.lateness.push(frames.latenessSeconds[row]!);
  });
  let [begin, end] = [Infinity, -Infinity];
  for (const due of frames.dueSeconds) {
    begin = Math.min(begin, due);
    end = Math.max(end, due);
  }
  const figures = singles.map((stream, index) => streamFigures(stream, rows[index]!, bufferSeconds, begin));
  const sum = (of: (one: StreamFigures) => number) => figures.reduce((total, one) => total + of(one), 0);
  return {
    streams: figures,
    frames: sum((one) => one.frames),
    late: sum((one) => one.late),
    dropped: sum((one) => one.dropped),
    beginSeconds: begin,
    seconds: end - begin,
  };
}

function streamFigures(
  { name, action, frameBytes, frameRate }: FrameStream,
  { due, lateness }: { due: number[]; lateness: (number | null)[] },
  bufferSeconds: number,
  begin: number,
): StreamFigures {
  const rate = framesPerSecond(frameRate);
  const done = lateness.filter((one) => one !== null).sort((a, b) => a - b);
  const percentile = (share: number) => done[Math.min(done.length - 1, Math.ceil(share * done.length) - 1)] ?? null;
  const firstDropped = lateness.indexOf(null);
  const bufferFrames = Math.max(1, Math.floor(bufferSeconds * rate));
  return {
    name,
    direction: action === 'record' ? 'write' : 'read',
    framesPerSecond: rate,
    frames: lateness.length,
    late: done.filter((one) => one > 0).length,
    dropped: lateness.length - done.length,
    latenessP50Seconds: percentile(0.5),
    latenessP99Seconds: percentile(0.99),
    latenessMaxSeconds: done.at(-1) ?? null,
    firstDroppedSeconds: firstDropped < 0 ? null : due[firstDropped]! - begin,
    bufferFrames,
    lowWaterFrames:
      action === 'record'
        ? lowWaterRecording(due, lateness, 1 / rate, bufferFrames)
        : lowWaterPlaying(due, lateness, bufferFrames),
    paddingBytes: (paddedFrameBytes(frameBytes) - frameBytes) * done.length,
  };
}

/** When each frame that was not dropped was done, in the order of their deadlines. */
function doneTimes(due: readonly number[], lateness: readonly (number | null)[]): number[] {
  return due.flatMap((seconds, index) => (lateness[index] === null ? [] : [seconds + lateness[index]!]));
}

/** Room left when the buffer was fullest: at each arrival, the frames that wait or are being written. */
function lowWaterRecording(
  due: readonly number[],
  lateness: readonly (number | null)[],
  periodSeconds: number,
  bufferFrames: number,
): number {
  const done = doneTimes(due, lateness);
  let [finished, accepted, fullest] = [0, 0, 0];
  due.forEach((seconds, index) => {
    const arrival = seconds - periodSeconds;
    while (finished < accepted && done[finished]! <= arrival) finished += 1;
    if (lateness[index] === null) fullest = bufferFrames;
    else accepted += 1;
    fullest = Math.max(fullest, accepted - finished);
  });
  return Math.max(0, bufferFrames - fullest);
}

/** Frames that lay ready when one was shown, at the worst moment. */
function lowWaterPlaying(due: readonly number[], lateness: readonly (number | null)[], bufferFrames: number): number {
  const done = doneTimes(due, lateness);
  let [ready, shown, least] = [0, 0, bufferFrames];
  due.forEach((seconds, index) => {
    // Sums of seconds are not exact to the last digit.
    while (ready < done.length && done[ready]! <= seconds + 1e-6) ready += 1;
    if (lateness[index] === null) least = 0;
    else shown += 1;
    // At the end there is nothing left to read ahead: that is no low water.
    if (ready < done.length) least = Math.min(least, Math.max(0, ready - shown));
  });
  return least;
}
