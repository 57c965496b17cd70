import type { Essence } from '#core/3-jobs/demand/essences/registry.ts';
import { essenceOfMaterial, type MaterialRates } from '#core/3-jobs/material/sample-rates.ts';
import { missingText, onlySequence, sequenceRates, type NamedSize } from '#core/3-jobs/material/sequence.ts';
import type { TimelineStretch } from '#core/3-jobs/material/timeline.ts';
import type { Clip } from '#core/3-jobs/material/clip.ts';
import { progressDuration, type Progress } from '#core/1-ground/curves/progress.ts';
import type { FrameRate } from '#core/1-ground/units/frame-rate.ts';

/** Real material as a format of its own, with what there is to see of it. */
export interface Material {
  kind: 'clip' | 'sequence' | 'timeline' | 'curve';
  essence: Essence;
  rates: MaterialRates | null;
  /** Bytes of each frame in order, gathered for drawing; empty where there are no frames. */
  frames: FrameColumn[];
  /** One sentence each on what was noticed. */
  notes: string[];
  /** Where it asks for most; timelines only. */
  peaks: TimelineStretch[];
}

/** Frames gathered into a column of a picture: the smallest and the largest of them. */
export interface FrameColumn {
  fromFrame: number;
  low: number;
  high: number;
}

const MOST_COLUMNS = 360;
/** A curve of more points is thinned where it changes least. */
const MOST_POINTS = 20_000;

function frameColumns(sizes: readonly number[], most = MOST_COLUMNS): FrameColumn[] {
  const perColumn = Math.max(1, Math.ceil(sizes.length / most));
  const columns: FrameColumn[] = [];
  for (let from = 0; from < sizes.length; from += perColumn) {
    const part = sizes.slice(from, from + perColumn);
    columns.push({ fromFrame: from, low: Math.min(...part), high: Math.max(...part) });
  }
  return columns;
}

export function materialOfClip(name: string, { description, rates, frames }: Clip): Material {
  return {
    kind: 'clip',
    essence: essenceOfMaterial(`${name} (${description})`, rates, false),
    rates,
    frames: frameColumns(frames.map((frame) => frame.bytes)),
    notes: [],
    peaks: [],
  };
}

/** @throws Problem `bad-input` when the files are no sequence */
export function materialOfFiles(files: readonly NamedSize[], frameRate: FrameRate): Material {
  const sequence = onlySequence(files);
  const rates = sequenceRates(sequence, frameRate);
  const notes: string[] = [];
  if (sequence.missingCount > 0) {
    const are = sequence.missingCount === 1 ? 'is' : 'are';
    notes.push(
      `${sequence.missingCount} of its numbers ${are} missing: ${missingText(sequence)}. The rate counts such frames as large as the others.`,
    );
  }
  if (sequence.empty.length > 0)
    notes.push(`${sequence.empty.length} of its files are empty, the first is number ${sequence.empty[0]}.`);
  const others = files.length - sequence.files.length;
  if (others > 0) notes.push(`${others} other file${others === 1 ? ' was' : 's were'} left out.`);
  return {
    kind: 'sequence',
    essence: essenceOfMaterial(sequence.pattern, rates, true),
    rates,
    frames: frameColumns(sequence.files.map((file) => file.bytes)),
    notes,
    peaks: [],
  };
}

export function materialOfCurve(name: string, curve: Progress): Material {
  return { kind: 'curve', essence: curveEssence(name, curve), rates: null, frames: [], notes: [], peaks: [] };
}

export function curveEssence(label: string, curve: Progress): Essence {
  const { seconds, bytes } = thinned(curve);
  return { kind: 'curve', label: label.slice(0, 120), seconds, bytes, frameRate: undefined };
}

/** A curve in fewer points: every so many of them, and the last. */
function thinned(curve: Progress): Progress {
  const every = Math.ceil(curve.seconds.length / MOST_POINTS);
  if (every <= 1 || progressDuration(curve) <= 0) return curve;
  const keep = (_: number, row: number) => row % every === 0 || row === curve.seconds.length - 1;
  return { seconds: curve.seconds.filter(keep), bytes: curve.bytes.filter(keep) };
}
