import type { CopyStage } from '#core/4-runs/run/copy-record.ts';
import type { RunEvent, RunProgress } from '#core/4-runs/run/run-events.ts';
import type { JobState } from '#core/5-answers/verdict/until-decided.ts';
import type { AnyRecipe } from '#engine/recipes/registry.ts';
import type { PlanStep, StepControl } from '#engine/volumes/volume.ts';

/** Share of a step that is done, as far as its size or time is known. */
function shareOf(step: PlanStep, bytes: number, seconds: number): number {
  switch (step.kind) {
    case 'transfer': {
      const byTime = step.untilSeconds === null ? 0 : seconds / step.untilSeconds;
      return Math.min(1, step.repeat ? byTime : Math.max(byTime, bytes / step.bytes));
    }
    case 'copy': {
      const stages = step.verify === 'read-back' ? 2 : 1;
      return Math.min(1, bytes / Math.max(1, stages * step.expectedBytes));
    }
    case 'rest':
    case 'frames':
      return Math.min(1, seconds / step.seconds);
    default:
      return 0;
  }
}

/** What is said while others keep the processor busy. */
const AWAITING_QUIET =
  'waiting: other programs keep the processor busy. Close them; it goes on by itself when it is quiet';

/** Progress from the steps done and the share of the one that goes on. */
export function trackProgress(
  recipe: AnyRecipe,
  options: object,
  { pause }: StepControl,
  onProgress: (progress: RunProgress) => void,
) {
  const total = recipe.stepCount(options);
  let step: PlanStep | undefined;
  let text = '';
  let begun = 0;
  let begunAt = 0;
  let firstSeconds: number | null = null;
  let atSeconds = 0;
  let stepSeconds: number | null = null;
  let originBytes: number | null = null;
  let bytes = 0;
  let filesDone = 0;
  let jobs: RunProgress['jobs'];

  const counts = (one: PlanStep): boolean =>
    one.kind === 'transfer'
      ? one.phase !== 'sizing' && one.phase !== 'laying-out'
      : ['rest', 'frames', 'scatter', 'copy'].includes(one.kind);

  const copyText = ({ leg }: Extract<PlanStep, { kind: 'copy' }>, phase: CopyStage): string =>
    recipe.stepText(options, { pass: leg, direction: 'write', phase });

  const tell = (): void => {
    if (!step) return;
    const within =
      step.kind === 'scatter'
        ? filesDone / step.sizes.length
        : shareOf(step, bytes - (originBytes ?? bytes), atSeconds - (stepSeconds ?? atSeconds));
    const done = begun === 0 ? 0 : begun - 1 + (counts(step) ? within : 0);
    if (begun > 0) firstSeconds ??= atSeconds;
    const pace = done > 0.02 && firstSeconds !== null ? (atSeconds - firstSeconds) / done : null;
    onProgress({
      elapsedSeconds: atSeconds,
      remainingSeconds: total === null || pace === null ? null : Math.max(0, pace * (total - done)),
      share: total === null ? null : Math.min(1, done / total),
      text,
      paused: pause.paused,
      ...(jobs ? { jobs } : {}),
    });
  };

  return {
    told: tell,
    jobs: (states: readonly JobState[]): void => {
      jobs = states.map(({ demand, decided, text }) => ({ name: demand.name, decided, text }));
      tell();
    },
    begin(next: PlanStep) {
      step = next;
      stepSeconds = null;
      originBytes = null;
      filesDone = 0;
      begunAt = performance.now();
      if (counts(next)) begun += 1;
      if (next.kind === 'rest') text = 'resting';
      else if (next.kind === 'transfer') text = recipe.stepText(options, next);
      else if (next.kind === 'make-payload') text = 'making the files';
      else if (next.kind === 'copy') text = copyText(next, 'copying');
      else if (next.kind === 'scatter') text = recipe.stepText(options, { ...next, direction: 'write', phase: '' });
    },
    heard(event: RunEvent) {
      if (event.type === 'marker' && event.marker.kind === 'pass' && step?.kind === 'frames') {
        const { direction, pass, phase } = event.marker;
        text = recipe.stepText(options, { direction: direction!, pass: pass!, phase: phase! });
        stepSeconds = null;
      }
      if (event.type === 'copy-rows' && step?.kind === 'copy') {
        const { rows } = event;
        const stage = rows.stage.at(-1)!;
        text = copyText(step, stage);
        atSeconds = rows.atSeconds.at(-1)!;
        // The last of its ends tells how far it is; reading back comes on top.
        originBytes ??= 0;
        bytes = rows.bytes.at(-1)! + (stage === 'verifying' ? step.expectedBytes : 0);
        stepSeconds ??= atSeconds;
        tell();
        return;
      }
      if (event.type === 'files') filesDone += event.files.files.reduce((sum, count) => sum + count, 0);
      // A look at a processor that is quiet is soon over, and nothing to tell of.
      if (step?.kind === 'await-quiet' && performance.now() - begunAt > 500) text = AWAITING_QUIET;
      if (event.type === 'watch') atSeconds = Math.max(atSeconds, event.row.atSeconds);
      else if (event.type === 'samples') {
        atSeconds = event.samples.atSeconds.at(-1)!;
        bytes = event.samples.cumulativeBytes.at(-1)!;
        originBytes ??= bytes;
      } else if (event.type !== 'files') return;
      stepSeconds ??= atSeconds;
      tell();
    },
  };
}
