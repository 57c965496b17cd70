import type { DoubtKind } from '#core/4-runs/supply/doubts/doubt.ts';
import { readBackText } from '#core/4-runs/supply/doubts/read-back.ts';

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
