import { recipeKindById } from '#core/3-jobs/recipes/registry.ts';
import type { Direction } from '#core/1-ground/curves/direction.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { formatShare } from '#core/1-ground/units/format.ts';
import { PARTICIPLES } from '#core/4-runs/supply/doubts/doubt.ts';

/** Device and own bytes may differ by this share before it is a doubt. */
export const BYPASS_TOLERANCE = 0.05;

/** The proof of the bypass in one direction: what reached the device against what was asked for. */
export interface Bypass {
  /** Of our own bytes, the share that the device had moved by the last request. */
  share: number;
  /** The same after the flush. */
  flushedShare: number;
  /** Opening of a sentence on it. */
  evidence: string;
}

/** Null where nothing is known: no device behind it, no direct I/O, or nothing moved in that direction. */
export function bypassOf(run: RunDocument, direction: Direction): Bypass | null {
  const { bypass, ioMode } = run.conditions;
  // A memory disk has no device behind it to be bypassed: its medium says all there is to say.
  if (ioMode === 'memory' || ioMode === 'buffered') return null;
  const rows = bypass.filter((row) => row.direction === direction && row.deviceBytes !== null);
  const own = rows.reduce((sum, row) => sum + row.ownBytes, 0);
  if (own === 0) return null;
  const share = rows.reduce((sum, row) => sum + (row.deviceBytes ?? 0), 0) / own;
  return {
    share,
    flushedShare: rows.reduce((sum, row) => sum + (row.deviceBytesAfterFlush ?? row.deviceBytes ?? 0), 0) / own,
    evidence: `The device moved ${formatShare(share)} of the bytes ${PARTICIPLES[direction]}`,
  };
}

/** Of bytes written, less than this on the device after the flush means that none were stored. */
const CLONE_SHARE = 0.02;

/** Whether what was written never reached the device at all. */
export const storedNothing = ({ flushedShare }: Bypass): boolean => flushedShare < CLONE_SHARE;

/** Names and folders of many files are written beside their bytes: that is no other traffic. */
export const writesNames = ({ recipe }: RunDocument): boolean => recipeKindById(recipe).writesNames;
