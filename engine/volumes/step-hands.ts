import type { Emit } from '#core/4-runs/run/run-events.ts';
import {
  NOTHING_MOVED,
  type PlanStep,
  type Session,
  type StepControl,
  type StepOutcome,
} from '#engine/volumes/volume.ts';

type MaybeLater<Value> = Value | Promise<Value>;

/** How a session carries out each kind of step that is its own; what returns nothing moved nothing. */
export type StepHands = {
  [Kind in PlanStep['kind']]?: (
    step: Extract<PlanStep, { kind: Kind }>,
    emit: Emit,
    control: StepControl,
  ) => MaybeLater<StepOutcome | void>;
};

/** Carries out steps of plans by a session's hands, alike for real volumes and stand-ins. */
export function executor(hands: StepHands): Session['execute'] {
  return async (step, emit, control) => {
    const hand = hands[step.kind] as
      ((step: PlanStep, emit: Emit, control: StepControl) => MaybeLater<StepOutcome | void>) | undefined;
    if (!hand) throw new RangeError(`This session does not carry out the step ${step.kind}.`);
    return (await hand(step, emit, control)) ?? NOTHING_MOVED;
  };
}
