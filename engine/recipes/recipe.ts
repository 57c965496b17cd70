import type { RecipeKind } from '#core/3-jobs/recipes/recipe-kind.ts';
import type { Room } from '#engine/recipes/room.ts';
import type { JobState } from '#core/5-answers/verdict/until-decided.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import type { Plan, TransferStep } from '#engine/volumes/volume.ts';

/** What a recipe is given of the volume when it composes its plan. */
export interface PlanFacts {
  /** Whether the volume is a stand-in, on which there are no files. */
  isSimulated: boolean;
  room: Room;
  /** Of the further volumes that are written to, in their order; several may take from one space. */
  targetRooms: readonly Room[];
  /** Sizes of the files in the folder chosen, for recipes that take after them. */
  fileSizes: readonly number[];
  /** The run as it is so far, for recipes that go by what they see; that it is about to begin when it is checked. */
  run: RunDocument | null;
  /** Tells how the jobs of a run stand. */
  tellJobs: (jobs: readonly JobState[]) => void;
}

/** A way to measure. It composes plans and knows nothing of files or simulation. */
export interface Recipe<Options extends object> {
  kind: RecipeKind<Options>;
  /** @throws Problem when the options do not fit the volume; asked before a run is accepted. */
  check(options: Options, facts: PlanFacts): void;
  plan(options: Options, facts: PlanFacts): Plan;
  /** Whether the plan takes after the files of the folder chosen. */
  needsFileSizes?(options: Options): boolean;
  /** Whether it can do with reading what is there, where nothing may be written. */
  mayOnlyRead?(options: Options): boolean;
  /** Of recipes with targets: whether nothing is made on the volume itself. */
  leavesSource?(options: Options): boolean;
  /** Whether the scratch files stay after the run. */
  keepsScratch?(options: Options): boolean;
  /** Bytes that stay after the run, on the volume itself and on each target; nothing where it is not said. */
  leaves?(options: Options, facts: PlanFacts): { here: number; atEachTarget: number };
  /** Number of steps that count for progress; null when it goes on until stopped. */
  stepCount(options: Options): number | null;
  /** What a step is to people: “pass 3 of 5, reading”. */
  stepText(options: Options, step: { pass: number; direction: 'write' | 'read'; phase: string }): string;
}

/** Long enough for a rate to be one, short enough to see a dip. */
export const SAMPLE_SECONDS = 0.1;

/** A transfer with what most have in common; each recipe says what is its own. */
export function transferStep(
  own: Pick<TransferStep, 'direction' | 'phase' | 'pass' | 'bytes' | 'blockBytes' | 'depth'> & Partial<TransferStep>,
): TransferStep {
  return {
    kind: 'transfer',
    rung: 0,
    fromByte: 0,
    order: 'sequential',
    data: 'incompressible',
    repeat: false,
    untilSeconds: null,
    stopWhen: null,
    flush: own.direction === 'write',
    flushEverySeconds: null,
    pacedBytesPerSecond: null,
    verify: own.direction === 'read',
    sampleSeconds: SAMPLE_SECONDS,
    ...own,
  };
}

/** Whole blocks that hold an amount, at least one for each outstanding request. */
export function inBlocks(bytes: number, blockBytes: number, depth: number): number {
  return Math.max(depth, Math.ceil(bytes / blockBytes)) * blockBytes;
}
