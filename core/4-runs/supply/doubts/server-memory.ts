import type { DoubtKind } from '#core/4-runs/supply/doubts/doubt.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import type { RunFigures } from '#core/4-runs/trace/figures.ts';
import { readBackText } from '#core/4-runs/supply/doubts/read-back.ts';

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
