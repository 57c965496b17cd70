import type { Demand } from '#core/3-jobs/demand/demand.ts';
import type { Evidence } from '#core/4-runs/supply/evidence.ts';
import { transfersOf } from '#core/4-runs/supply/transfers.ts';
import { continued, longestCurve, type SupplyCurve } from '#core/4-runs/trace/supply-curve.ts';
import { askedOf, summed } from '#core/5-answers/verdict/asked.ts';
import { courseByBytes, courseByTime, waitingOn } from '#core/5-answers/verdict/replay.ts';
import { serviceOf } from '#core/5-answers/verdict/service.ts';

/** What waits in the buffer over a take: seconds of the take against bytes that wait. */
export interface BacklogCurve {
  seconds: number[];
  bytes: number[];
  /** Where the trace ends and its continuation begins, seconds; null when it is not needed. */
  continuedFromSeconds: number | null;
}

const MOST_POINTS = 2000;

/**
 * The backlog of a demand along the curve of a run on which most waits. Recording goes along it by bytes, playing by
 * time, from the beginning of the trace.
 */
export function backlogCurve(demand: Demand, evidence: Evidence): BacklogCurve {
  const asked = summed((demand.parts.length > 0 ? demand.parts : [demand]).map(askedOf));
  const on = (curve: SupplyCurve, index: number): BacklogCurve => {
    const course =
      demand.direction === 'read'
        ? courseByTime(continued(curve), 0)
        : courseByBytes(curve, 0, serviceOf(transfersOf(evidence)[index]!.levels, NOTHING_LOST));
    const ownBytes = curve.bytes.at(-1)!;
    const seconds: number[] = [];
    const bytes: number[] = [];
    let continuedFromSeconds: number | null = null;
    const closest = asked.seconds.at(-1)! / MOST_POINTS;
    waitingOn(asked, course, (second, waiting, done) => {
      if (done > ownBytes) continuedFromSeconds ??= second;
      // Points that lie closer than can be drawn are one, at the larger backlog.
      if (seconds.length > 1 && second - seconds.at(-1)! < closest) {
        bytes[bytes.length - 1] = Math.max(bytes.at(-1)!, waiting);
      } else {
        seconds.push(second);
        bytes.push(waiting);
      }
    });
    return { seconds, bytes, continuedFromSeconds };
  };
  const long = longestCurve(evidence.curves);
  const curves = evidence.curves.map(on);
  const worst = curves.reduce((a, b) => (Math.max(...b.bytes) > Math.max(...a.bytes) ? b : a));
  // What a short transfer says nothing of, the longest one shows.
  return worst.seconds.at(-1)! >= curves[evidence.curves.indexOf(long)]!.seconds.at(-1)!
    ? worst
    : curves[evidence.curves.indexOf(long)]!;
}

const NOTHING_LOST = { windowSeconds: [1], lostSeconds: [0] };
