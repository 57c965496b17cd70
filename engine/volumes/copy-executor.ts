import type { Emit } from '#core/4-runs/run/run-events.ts';
import {
  NOTHING_MOVED,
  type CopyStep,
  type MakePayloadStep,
  type RestStep,
  type Session,
  type StepControl,
  type StepOutcome,
} from '#engine/volumes/volume.ts';

/** How a session for copies carries out each of its steps. */
interface CopySteps {
  makePayload: (step: MakePayloadStep, control: StepControl) => StepOutcome | Promise<StepOutcome>;
  copy: (step: CopyStep, emit: Emit, control: StepControl) => Promise<StepOutcome>;
  rest: (step: RestStep, emit: Emit, control: StepControl) => Promise<void>;
}

/** Carries out what plans of copies are made of, alike for real volumes and stand-ins; nothing else is. */
export function copyExecutor({ makePayload, copy, rest }: CopySteps): Session['execute'] {
  return async (step, emit, control) => {
    switch (step.kind) {
      case 'make-payload':
        return makePayload(step, control);
      case 'copy':
        return copy(step, emit, control);
      case 'rest':
        await rest(step, emit, control);
        return NOTHING_MOVED;
      default:
        throw new RangeError(`A session for copies does not carry out the step ${step.kind}.`);
    }
  };
}
