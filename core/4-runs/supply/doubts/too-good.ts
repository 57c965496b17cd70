import { type DoubtKind, PARTICIPLES } from '#core/4-runs/supply/doubts/doubt.ts';
import { BYPASS_TOLERANCE, bypassOf, storedNothing } from '#core/4-runs/supply/doubts/bypass.ts';
import { DIRECTIONS, type Direction } from '#core/1-ground/curves/direction.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import type { RunFigures } from '#core/4-runs/trace/figures.ts';
import { readBackText } from '#core/4-runs/supply/doubts/read-back.ts';
import { formatDuration } from '#core/1-ground/units/format.ts';

// Doubts about rates that may be higher than the drive’s.

/** Requests went through the system's cache, openly or quietly. */
export const buffered: DoubtKind = {
  code: 'buffered',
  effect: 'too-high',
  advice: 'Measure on a filesystem that takes direct I/O, or write far more than the machine has memory.',
  find(run) {
    if (run.conditions.ioMode === 'buffered') {
      return DIRECTIONS.map((direction) => ({
        direction,
        evidence: 'The filesystem refused direct I/O, so requests went through the system’s cache.',
      }));
    }
    const bypass = bypassOf(run, 'write');
    if (bypass === null || storedNothing(bypass) || bypass.share >= 1 - BYPASS_TOLERANCE) return [];
    return [
      {
        direction: 'write',
        evidence: `${bypass.evidence} by the last request; the rest was still in the system’s cache.`,
      },
    ];
  },
};

/** What was read did not come from the device. */
export const memoryRead: DoubtKind = {
  code: 'memory-read',
  effect: 'too-high',
  advice: 'Read material that was not just written, with Existing material, or restart the machine before.',
  find(run) {
    const bypass = bypassOf(run, 'read');
    if (bypass === null || bypass.share >= 1 - BYPASS_TOLERANCE) return [];
    return [{ direction: 'read', evidence: `${bypass.evidence}; the rest came out of memory.` }];
  },
};

/** Requests within a stretch that was laid out just before, and that the server's memory may hold. */
function ladderText(run: RunDocument, figures: RunFigures): string | null {
  if (!figures.ladder?.some(({ direction }) => direction === 'read')) return null;
  const written = run.samples.direction.includes('write');
  return written ? 'What its requests read had been laid out just before and may have come' : null;
}

/** A file server may have answered from its memory. */
export const serverMemory: DoubtKind = {
  code: 'server-memory',
  effect: 'too-high',
  advice: 'Read more than the file server’s memory holds, or material that is older, with Existing material.',
  find(run, figures) {
    if (run.drive.medium !== 'network') return [];
    const what = readBackText(run, figures) ?? ladderText(run, figures);
    return what === null ? [] : [{ direction: 'read', evidence: `${what} out of the file server’s memory.` }];
  },
};

/** A drive may have answered from its fast cache. */
export const readFromWriteCache: DoubtKind = {
  code: 'read-from-write-cache',
  effect: 'too-high',
  advice: 'Keep the scratch file of a Long fill and read it after a rest, or read Existing material.',
  find(run, figures) {
    const what = run.drive.medium === 'network' ? null : readBackText(run, figures);
    return what === null ? [] : [{ direction: 'read', evidence: `${what} from the drive’s fast cache.` }];
  },
};

const SHORT_RUN_SECONDS = 10;

function watchedSeconds({ markers, samples }: RunDocument, direction: Direction): number {
  const from = markers.find((one) => one.phase === 'watching' && one.direction === direction);
  if (!from) return 0;
  const row = samples.pass.findLastIndex((pass, index) => pass === from.pass && samples.direction[index] === direction);
  return row < 0 ? 0 : samples.atSeconds[row]! - from.atSeconds;
}

/** Too short to show a level. */
export const shortRun: DoubtKind = {
  code: 'short-run',
  effect: 'too-high',
  advice: 'Measure for longer: more passes, or a Long fill.',
  find: (run, figures) =>
    DIRECTIONS.flatMap((direction) => {
      const seconds = figures[direction]?.seconds ?? Infinity;
      // A drive that was watched on at the pace of a job was looked at for longer than it was moved as fast as it goes.
      if (seconds + watchedSeconds(run, direction) >= SHORT_RUN_SECONDS) return [];
      const moved = `${formatDuration(seconds)} were ${PARTICIPLES[direction]} in all`;
      return [{ direction, evidence: `Only ${moved}; a level shows after 10 s.` }];
    }),
};
