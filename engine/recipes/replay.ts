import { DEFAULT_BLOCK_BYTES, LARGEST_BLOCK_BYTES } from '#core/3-jobs/recipes/option-fields.ts';
import { replayAreaBytes, replayKind, replaySteps, type ReplayOptions } from '#core/3-jobs/recipes/replay.ts';
import { bytesText } from '#core/1-ground/units/format.ts';
import { inBlocks, transferStep, type Recipe } from '#engine/recipes/recipe.ts';
import { requireRoom } from '#engine/recipes/room.ts';
import type { Plan, StepOutcome } from '#engine/volumes/volume.ts';

/** *Replay*: a load's own requests, with the pauses in which it computes. */
export const replay: Recipe<ReplayOptions> = {
  kind: replayKind,
  // Each transfer has its pause, and a phase that reads nothing is one.
  stepCount: (options) =>
    options.phases.filter(({ bytes }) => bytes === 0).length +
    replaySteps(options).reduce((sum, { phase }) => {
      const { stream, processorSeconds } = options.phases[phase]!;
      return sum + (stream || processorSeconds > 0 ? 2 : 1);
    }, 0),
  stepText(options, { pass, phase }) {
    const step = replaySteps(options)[pass - 1];
    return phase === 'laying-out' || !step ? 'laying out what is read' : options.phases[step.phase]!.name;
  },
  check(options, { room }) {
    const area = areaFor(options);
    requireRoom(`What is read takes ${bytesText(area)} laid out`, area, room, 'Type fewer bytes', 'phases');
  },
  plan: composePlan,
};

/** Whole blocks of every size there is. */
function areaFor(options: ReplayOptions): number {
  return inBlocks(replayAreaBytes(options), LARGEST_BLOCK_BYTES, 1);
}

function* composePlan(options: ReplayOptions): Plan {
  const area = areaFor(options);
  yield { kind: 'allot', bytes: area };
  yield transferStep({
    direction: 'write',
    phase: 'laying-out',
    pass: 0,
    bytes: area,
    blockBytes: DEFAULT_BLOCK_BYTES,
    depth: 4,
  });
  const steps = replaySteps(options);
  for (const [index, phase] of options.phases.entries()) {
    const own = steps.filter((step) => step.phase === index);
    const note = `phase ${index + 1}`;
    if (own.length === 0 && phase.processorSeconds > 0) yield { kind: 'rest', seconds: phase.processorSeconds, note };
    for (const { pass, bytes, blockBytes, parallel } of own) {
      const outcome: StepOutcome = yield transferStep({
        direction: 'read',
        phase: 'reading',
        pass,
        bytes,
        blockBytes,
        depth: parallel,
        order: 'random',
        verify: false,
      });
      const took = outcome.transferSeconds;
      const computing = phase.processorSeconds - phase.overlapShare * Math.min(phase.processorSeconds, took);
      // What streams waits for its next chunk; what came too late is followed at once.
      const seconds = phase.stream ? Math.max(0, phase.stream.everySeconds - took) : computing;
      if (seconds > 0) yield { kind: 'rest', seconds, note };
    }
  }
}
