import { paddedFrameBytes } from '#core/2-trade/media/frame-stream.ts';
import { framesPerSecond } from '#core/1-ground/units/frame-rate.ts';
import type { FramesStep } from '#engine/volumes/volume.ts';

/** One of the equal streams of a line, as volumes carry it out. */
export interface PacedStream {
  /** Counted through all lines, from 0. */
  number: number;
  direction: 'write' | 'read';
  /** Bytes that a frame takes on the drive. */
  bytes: number;
  periodSeconds: number;
  frames: number;
  /** Frames that the program can hold; at least the one at hand. */
  bufferFrames: number;
  ownFiles: boolean;
}

/** The streams of a step, each on its own. */
export function pacedStreams({ streams, seconds, bufferSeconds }: FramesStep): PacedStream[] {
  const all: PacedStream[] = [];
  for (const { action, frameBytes, frameRate, files, count } of streams) {
    const rate = framesPerSecond(frameRate);
    for (let index = 0; index < count; index += 1) {
      all.push({
        number: all.length,
        direction: action === 'record' ? 'write' : 'read',
        bytes: paddedFrameBytes(frameBytes),
        periodSeconds: 1 / rate,
        frames: Math.max(1, Math.floor(seconds * rate)),
        bufferFrames: Math.max(1, Math.floor(bufferSeconds * rate)),
        ownFiles: files === 'sequence',
      });
    }
  }
  return all;
}

/** Bytes that have to be laid out before playing begins. */
export function playedBytes(streams: readonly PacedStream[]): number {
  return streams
    .filter((stream) => stream.direction === 'read')
    .reduce((sum, stream) => sum + stream.bytes * stream.frames, 0);
}
