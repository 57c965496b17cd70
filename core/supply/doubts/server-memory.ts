import type { DoubtKind } from '#core/supply/doubts/doubt.ts';
import { readBackText } from '#core/supply/doubts/read-back.ts';

/** A file server may have answered from its memory. */
export const serverMemory: DoubtKind = {
  code: 'server-memory',
  effect: 'too-high',
  advice: 'Read more than the file server’s memory holds, or material that is older, with Existing material.',
  find(run, figures) {
    const what = run.drive.medium === 'network' ? readBackText(run, figures) : null;
    return what === null ? [] : [{ direction: 'read', evidence: `${what} out of the file server’s memory.` }];
  },
};
