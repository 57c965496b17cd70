import type { ObjectSchema } from 'yup';
import type { RecipeId } from '#core/run/run-document.ts';
import type { Plan } from '#engine/volumes/volume.ts';

/** What a recipe is told of the volume when it composes its plan. */
export interface PlanFacts {
  roomBytes: number;
}

/** A way to measure. It composes plans and knows nothing of files or simulation. */
export interface Recipe<Options extends object> {
  id: RecipeId;
  label: string;
  /** One sentence: what it is for and what it costs. */
  description: string;
  options: ObjectSchema<Options>;
  /** @throws Problem when the options do not fit the volume; asked before a run is accepted. */
  check(options: Options, facts: PlanFacts): void;
  plan(options: Options, facts: PlanFacts): Plan;
  /** Number of transfers in all, for progress; null when it goes on until stopped. */
  transferCount(options: Options): number | null;
  /** What a transfer is to people: “pass 3 of 5, reading”. */
  transferText(options: Options, pass: number, direction: 'write' | 'read'): string;
}
