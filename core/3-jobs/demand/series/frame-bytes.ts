import {
  LARGEST_FRAME_BYTES,
  type Channel,
  type GridFrames,
  type SeriesItem,
} from '#core/3-jobs/demand/series/series-item.ts';
import { badInput } from '#core/1-ground/problem.ts';
import { formatNumber } from '#core/1-ground/units/format.ts';
import { wholeUp } from '#core/1-ground/units/whole.ts';

/** Voxels that are kept of a frame. */
export function activeVoxels({ voxels: { x, y, z }, occupancyShare }: GridFrames): number {
  return x * y * z * occupancyShare;
}

/** Bytes that one channel takes in a frame: components × bits ÷ 8 × active voxels ÷ ratio. */
export function channelBytes(grid: GridFrames, { components, bits }: Channel): number {
  return (components * (bits / 8) * activeVoxels(grid)) / grid.ratio;
}

/**
 * Bytes of one frame of a grid.
 * @throws Problem `bad-input` when it is larger than anything that could be written
 */
export function gridFrameBytes(grid: GridFrames): number {
  const bytes = grid.channels.reduce((sum, channel) => sum + channelBytes(grid, channel), grid.headerBytes);
  if (bytes <= LARGEST_FRAME_BYTES) return wholeUp(bytes);
  const { x, y, z } = grid.voxels;
  throw badInput(
    'grid',
    `grid: ${formatNumber(x)} × ${formatNumber(y)} × ${formatNumber(z)} voxels come to ${bytes.toExponential(1)} bytes a frame, more than can be written. Type fewer voxels a side, such as 512x512x512.`,
  );
}

/** Bytes of every frame, in order. */
export function frameSizes({ frames, frameCount }: Pick<SeriesItem, 'frames' | 'frameCount'>): Float64Array {
  if (frames.kind === 'grid') return new Float64Array(frameCount).fill(gridFrameBytes(frames));
  if (frames.kind === 'size') return new Float64Array(frameCount).fill(frames.frameBytes);
  const { bytes } = frames;
  return Float64Array.from({ length: frameCount }, (_, frame) => bytes[Math.min(frame, bytes.length - 1)]!);
}

/** Seconds of every frame as they were given, the last of which goes on. */
export function computeTimes({
  computeSeconds,
  frameCount,
}: Pick<SeriesItem, 'computeSeconds' | 'frameCount'>): Float64Array {
  return Float64Array.from(
    { length: frameCount },
    (_, frame) => computeSeconds[Math.min(frame, computeSeconds.length - 1)]!,
  );
}

export const sumOf = (values: ArrayLike<number>): number => {
  let sum = 0;
  for (let index = 0; index < values.length; index += 1) sum += values[index]!;
  return sum;
};

/** By what factor the last tenth of the frames is larger than the first; 1 where they do not grow. */
export function growthOf(sizes: ArrayLike<number>): number {
  const part = Math.max(1, Math.floor(sizes.length / 10));
  const all = Array.from(sizes);
  const first = sumOf(all.slice(0, part));
  return first > 0 ? sumOf(all.slice(-part)) / first : 1;
}
