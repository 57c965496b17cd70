import type { Direction } from '#core/1-ground/curves/direction.ts';
import type { Evidence } from '#core/4-runs/supply/evidence.ts';
import { curveOf } from '#core/4-runs/trace/supply-curve.ts';

/** Long enough for any job: what is typed of a drive is taken to hold. */
export const EVER_SECONDS = 3650 * 86_400;

/** What a typed rate testifies: that rate, for ever, as a promise. */
export function bareEvidence(id: string, direction: Direction, bytesPerSecond: number): Evidence {
  const bytes = bytesPerSecond * EVER_SECONDS;
  return {
    runId: `typed-${id}`,
    direction,
    medium: 'flash',
    curves: [curveOf({ seconds: [0, EVER_SECONDS], bytes: [0, bytes] })],
    parted: null,
    provenBytes: bytes,
    continuedBytes: bytes,
    levelEnds: [],
    kneeBytes: null,
    swingsFrom: null,
    recovery: [],
    mayProveHolds: true,
    mayProveBreaks: true,
    isPromise: true,
    doubts: [],
    medianBytesPerSecond: bytesPerSecond,
    span: {
      worstSecondBytesPerSecond: bytesPerSecond,
      floorBytesPerSecond: bytesPerSecond,
      openingBytesPerSecond: bytesPerSecond,
    },
  };
}
