import type { Direction } from '#core/1-ground/curves/direction.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import type { RunFigures } from '#core/4-runs/trace/figures.ts';

/**
 * Reasons not to trust a run. What a doubt does to a verdict is its effect:
 * `too-high`: the rates may be higher than the drive's, so the run may prove *Breaks*, never *Holds*;
 * `too-low`: they may be lower, so it may prove *Holds*, never *Breaks*;
 * `apart`: the odd part is set apart and the rest counts; `finding`: it is the drive, and counts;
 * `partial`: counts up to the gap; `void`: proves nothing.
 */
export const DOUBT_EFFECTS = ['too-high', 'too-low', 'apart', 'finding', 'partial', 'void'] as const;
export type DoubtEffect = (typeof DOUBT_EFFECTS)[number];

/** A doubt that was raised on a run. */
export interface Doubt {
  /** Code of its kind, see registry.ts. */
  code: string;
  effect: DoubtEffect;
  /** The direction it concerns; null for both. */
  direction: Direction | null;
  /** One sentence with the figures that raised it. */
  evidence: string;
  /** One sentence: what to do about it. */
  advice: string;
  /** Moment of the run at which it shows, seconds; null for what concerns all of it. */
  atSeconds: number | null;
}

/** One occasion on which a kind of doubt shows in a run. */
export interface Occasion {
  direction?: Direction;
  evidence: string;
  atSeconds?: number;
}

/** A kind of doubt: what raises it, what it does to verdicts, and what a person can do about it. */
export interface DoubtKind {
  code: string;
  effect: DoubtEffect;
  advice: string;
  /** Where it shows in a run; empty for a run that gives no reason. */
  find(run: RunDocument, figures: RunFigures): Occasion[];
}

/** The past participle of a direction, as sentences on bytes have it. */
export const PARTICIPLES: Record<Direction, string> = { write: 'written', read: 'read' };
