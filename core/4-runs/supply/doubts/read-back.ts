import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import type { RunFigures } from '#core/4-runs/trace/figures.ts';
import { bytesText } from '#core/1-ground/units/format.ts';

/** What a server’s memory or a drive’s cache may hold of what was just written. */
const LARGEST_MEMORY_BYTES = 64e9;

/**
 * Opening of a sentence on a run that reads what it has just written, and not more than a memory may hold;
 * null where it does not.
 */
export function readBackText(run: RunDocument, figures: RunFigures): string | null {
  const { ioMode } = run.conditions;
  if (figures.read === null || ioMode === 'memory' || run.drive.medium === 'spinning') return null;
  if (!run.samples.direction.includes('write') || figures.read.longestPassBytes >= LARGEST_MEMORY_BYTES) return null;
  return `The ${bytesText(figures.read.longestPassBytes)} read had just been written and may have come`;
}
