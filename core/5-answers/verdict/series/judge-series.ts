import type { Demand } from '#core/3-jobs/demand/demand.ts';
import { seriesWork } from '#core/3-jobs/demand/series/series-kind.ts';
import type { SeriesItem } from '#core/3-jobs/demand/series/series-item.ts';
import type { Supply } from '#core/4-runs/supply/profile.ts';
import { bytesText, formatDuration, formatNumber, formatShare } from '#core/1-ground/units/format.ts';
import { provingRun } from '#core/5-answers/verdict/proving-run.ts';
import {
  fullAt,
  seriesOnDrive,
  slowerShare,
  type SeriesOnDrive,
} from '#core/5-answers/verdict/series/series-on-drive.ts';
import {
  noRunVerdict,
  UNKNOWN,
  verdictName,
  type ItemVerdict,
  type Policy,
  type Verdict,
} from '#core/5-answers/verdict/verdict.ts';

/**
 * The verdict on writing a series. *Breaks* when it does not fit, or when the drive takes more of the
 * time than it may even with a cache that always empties itself; *Holds* when it takes less even on a
 * cache that never does and with the headroom laid on its writing; in between it is not proven.
 */
export function judgeSeries(
  item: SeriesItem,
  demand: Demand,
  supply: Supply,
  { headroomShare }: Policy,
  roomBytes: number | null,
): ItemVerdict {
  const on = seriesOnDrive(item, supply);
  const full = fullAt(item, roomBytes);
  if (full) return fullVerdict(item, on, full, roomBytes!);
  if (on === null) {
    return {
      verdict: noRunVerdict(fillFor(demand, on, item)),
      sentence: `No run of this drive says anything about writing ${bytesText(demand.bytesPerFrame)} a frame.`,
      short: 'Not proven: no run',
    };
  }
  const { neverEmptied: slow, alwaysEmptied: quick, evidence } = on;
  const common = {
    ...UNKNOWN,
    runId: on.runId,
    guaranteedBytesPerSecond: on.bytesPerSecond,
    provenBytes: Math.min(on.bytes, on.provenBytes),
    provenSeconds: slow.totalSeconds * Math.min(1, on.provenBytes / Math.max(1, on.bytes)),
  };
  const most = item.mostDriveShare;
  const costs = costText(item, on);
  const breaks = quick.driveShare > most;
  // What a frame takes beyond the last byte of the run was not seen.
  const isSeen = on.provenBytes >= on.largestFrameBytes;
  if (breaks && evidence.mayProveBreaks && isSeen) {
    return {
      verdict: {
        ...common,
        verdict: 'breaks',
        reason: 'drive-share',
        breaksAtSeconds: quick.computeSeconds / (1 - most),
        breaksAtBytes: on.bytes,
      },
      sentence: `${costs}, more than the ${formatShare(most)} it may.`,
      short: `Drive takes ${shareRange(on)}`,
    };
  }
  const unproven = (reason: Verdict['reason'], sentence: string, short: string): ItemVerdict => ({
    verdict: { ...common, verdict: 'not-proven', reason, wouldProve: fillFor(demand, on, item) },
    sentence,
    short,
  });
  if (!isSeen) {
    return unproven(
      'too-short',
      `The run behind it wrote ${bytesText(on.provenBytes)}, and its largest frame alone has ${bytesText(on.largestFrameBytes)}: neither way is proven.`,
      `Proven for ${bytesText(on.provenBytes)}`,
    );
  }
  if (breaks || !evidence.mayProveHolds) {
    return unproven('doubtful', `${costs}, but that run proves neither way.`, 'Not proven: doubts');
  }
  if (on.provenBytes < on.bytes) {
    return unproven(
      'too-short',
      `The run behind it wrote ${bytesText(on.provenBytes)} of the ${bytesText(on.bytes)} of a version; the rest is not proven.`,
      `Proven for ${bytesText(on.provenBytes)}`,
    );
  }
  if (slow.driveShare > most) {
    return unproven(
      'cache-between',
      `${costs}: whether it stays under ${formatShare(most)} hangs on how far its fast cache empties while a frame is computed, which a Long fill with rests shows.`,
      'Not proven: cache between frames',
    );
  }
  const holds = slowerShare(item, on, 1 + headroomShare, most) <= most;
  const verdict = holds ? 'holds' : 'tight';
  return {
    verdict: { ...common, verdict, reason: 'carried' },
    sentence: `${costs}${holds ? '' : ', just under what it may'}.`,
    short: `${verdictName({ verdict, isPromise: supply.isPromise })}: ${shareRange(on)} of ${formatDuration(slow.totalSeconds)}`,
  };
}

function fullVerdict(
  item: SeriesItem,
  on: SeriesOnDrive | null,
  { version, frame }: { version: number; frame: number },
  roomBytes: number,
): ItemVerdict {
  const one = on?.neverEmptied;
  const seconds = one ? (version - 1) * one.totalSeconds + (frame > 1 ? one.written[frame - 2]! : 0) : 0;
  const which = item.versions > 1 ? ` of version ${formatNumber(version)}` : '';
  return {
    verdict: {
      ...UNKNOWN,
      verdict: 'breaks',
      reason: 'full',
      breaksAtSeconds: seconds,
      breaksAtBytes: roomBytes,
      runId: on?.runId ?? null,
    },
    sentence: `Is full at frame ${formatNumber(frame, 'full')}${which}: ${bytesText(roomBytes)} can be used.`,
    short: `Full at frame ${formatNumber(frame, 'full')}`,
  };
}

/** A fill as long as a version, with rests where the cache is what is not known. */
function fillFor(demand: Demand, on: SeriesOnDrive | null, item: SeriesItem): Verdict['wouldProve'] {
  const bytes = demand.bytesPerFrame * item.frameCount;
  const proving = provingRun(
    { ...demand, takeSeconds: bytes / demand.bytesPerSecond },
    on?.evidence ?? null,
    'too-short',
  );
  const between = on !== null && on.evidence.kneeBytes !== null && on.provenBytes >= bytes;
  return { ...proving, restSeconds: between ? 60 : null };
}

/** “12 %”, or “4 to 12 %” where the two bounds differ. */
export function shareRange({ neverEmptied, alwaysEmptied }: SeriesOnDrive): string {
  const [low, high] = [alwaysEmptied.driveShare, neverEmptied.driveShare];
  if (high - low < 0.005) return formatShare(high);
  return `${formatNumber(low * 100)} to ${formatShare(high)}`;
}

function costText(item: SeriesItem, on: SeriesOnDrive): string {
  const whole = formatDuration(on.neverEmptied.totalSeconds);
  const frames = `${formatNumber(item.frameCount, 'full')} ${item.frameCount === 1 ? 'frame' : 'frames'}`;
  const held = seriesWork(item).holdsWriting ? ', as if it were the one that its times were made on,' : '';
  return `Of ${whole} for ${frames} the drive${held} takes ${shareRange(on)}`;
}
