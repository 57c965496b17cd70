import type { RequestRung } from '#core/4-runs/supply/request-profile.ts';
import type { RequestSupply } from '#core/4-runs/supply/request-rate.ts';

/** A drive whose requests take a time of their own plus their bytes, so many at a time. For tests. */
export interface RequestDrive {
  requestSeconds: number;
  bytesPerSecond: number;
  parallel: number;
}

export const LADDER_BLOCKS = [4, 16, 64, 256, 1024, 4096].map((kibibytes) => kibibytes * 1024);
export const LADDER_DEPTHS = [1, 4, 16];

/** Bytes per second of requests on it: the closed form. */
export function trueRate(
  { requestSeconds, bytesPerSecond, parallel }: RequestDrive,
  blockBytes: number,
  depth: number,
): number {
  return Math.min(
    bytesPerSecond,
    (Math.min(depth, parallel) * blockBytes) / (requestSeconds + blockBytes / bytesPerSecond),
  );
}

/** What a Block ladder of these sizes, so many at a time, would say of it. */
export function ladderSupply(
  drive: RequestDrive,
  more: Partial<RequestSupply> = {},
  { blocks, depths } = { blocks: LADDER_BLOCKS, depths: LADDER_DEPTHS },
): RequestSupply {
  return {
    rungs: depths.flatMap((depth) =>
      blocks.map((blockBytes): RequestRung => {
        const one = drive.requestSeconds + blockBytes / drive.bytesPerSecond;
        return {
          runId: 'ladder',
          direction: 'read',
          order: 'random',
          blockBytes,
          depth,
          bytesPerSecond: trueRate(drive, blockBytes, depth),
          latencyP50Seconds: one,
          latencyP99Seconds: 3 * one,
          latencyMaxSeconds: 30 * one,
        };
      }),
    ),
    sequentialBytesPerSecond: drive.bytesPerSecond,
    ceilingBytesPerSecond: null,
    operationSeconds: 0.001,
    ...more,
  };
}
