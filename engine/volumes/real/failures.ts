import { Problem } from '#core/1-ground/problem.ts';
import type { Direction } from '#core/1-ground/curves/direction.ts';
import { systemWords, whatHappened } from '#engine/system-words.ts';
import type { WorkerFailure } from '#engine/volumes/real/io-protocol.ts';

/** What a failed request means, as the end of a run. */
export function transferFailure(
  { code, fileOffset }: Pick<WorkerFailure, 'code' | 'fileOffset'>,
  direction: Direction,
  mountPoint: string,
): Problem {
  const what = systemWords(code) ?? `A request failed (${code})`;
  const verb = direction === 'write' ? 'writing' : 'reading';
  const then = ['ENOSPC', 'EDQUOT'].includes(code)
    ? 'free some space, or measure less'
    : 'check the drive and its cable before the next run';
  return new Problem(
    'drive-failed',
    `${what} while ${verb} at byte ${fileOffset} on ${mountPoint}. What was measured before is kept; ${then}.`,
    { status: 500 },
  );
}

/** A volume that was taken off under the run: what was moved since went nobody knows where. */
export function volumeGone(mountPoint: string): Problem {
  return new Problem(
    'drive-failed',
    `The volume at ${mountPoint} was taken off (unmounted) while the run went on. What was measured before is kept, and what lies on it of the run is removed when it is back; attach it again before the next run.`,
    { status: 500 },
  );
}

/** A scratch folder that somebody moved or removed under the run. */
export function scratchMoved(folder: string): Problem {
  return new Problem(
    'scratch-moved',
    `The scratch folder ${folder} was moved or removed by somebody while the run went on. What was measured before is kept; leave it alone until the run is over.`,
    { status: 409 },
  );
}

export function openFailure(error: unknown, mountPoint: string): Problem {
  return new Problem(
    'scratch-failed',
    `No scratch file could be made on ${mountPoint}. ${whatHappened(error)}. Check the volume and try again.`,
    { status: 500, cause: error },
  );
}
