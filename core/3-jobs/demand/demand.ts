import type { Direction } from '#core/1-ground/curves/direction.ts';
import { progressBytes, type Progress } from '#core/1-ground/curves/progress.ts';

export const BETWEEN = ['stay', 'take-off'] as const;
export type Between = (typeof BETWEEN)[number];

/** For what is done once. */
export const ONE_TAKE = { takes: 1, gapSeconds: 0, between: 'stay', takeOffSeconds: null } as const;

/** Bytes of one take. */
export function takeBytesOf({ curve, bytesPerSecond, takeSeconds, parts }: Demand): number {
  if (parts.length > 0) return parts.reduce((sum, one) => sum + takeBytesOf(one), 0);
  return curve ? progressBytes(curve) : bytesPerSecond * takeSeconds;
}

/** What an item asks of a drive, in the units of the verdict. */
export interface Demand {
  itemId: string;
  name: string;
  direction: Direction;
  /** What happens, in a word. */
  act: 'record' | 'play' | 'simulate' | 'load';
  /** Average of all streams. */
  bytesPerSecond: number;
  /** Highest bytes in any one second. */
  peakBytesPerSecond: number;
  /** Bytes by which any stretch of the demand exceeds its average: what its own peaks take of the buffer. */
  burstBytes: number;
  /** Demand over one take, where it is no constant rate: bytes asked for by a moment. */
  curve: Progress | null;
  /** Frames per second; null where there are none to drop. */
  framesPerSecond: number | null;
  /** Bytes of one frame of one stream; what a program moves at a time. */
  bytesPerFrame: number;
  streams: number;
  /** Whether it is the sum of several items. */
  isSum: boolean;
  /** Those items, each with its own length and buffer; empty for a single one. */
  parts: readonly Demand[];
  takeSeconds: number;
  takes: number;
  gapSeconds: number;
  /** What becomes of a take before the next: it stays on the drive, or is taken off. */
  between: Between;
  /** How long taking off one take takes; null for as long as the gap. */
  takeOffSeconds: number | null;
  bufferBytes: number;
  /** The format in words. */
  formatText: string;
}

/** Most bytes by which any stretch of a demand's curve exceeds a constant rate: its arrival curve's burst. */
export function burstOver({ seconds, bytes }: Progress, bytesPerSecond: number): number {
  let [lowest, burst] = [0, 0];
  for (let point = 0; point < seconds.length; point += 1) {
    const value = bytes[point]! - bytesPerSecond * seconds[point]!;
    if (point === 0 || value < lowest) lowest = value;
    burst = Math.max(burst, value - lowest);
  }
  return burst;
}
