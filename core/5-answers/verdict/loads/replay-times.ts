import type { Phase } from '#core/3-jobs/demand/loads/load-item.ts';
import type { ReplayedPhase } from '#core/4-runs/trace/replayed.ts';
import type { LoadTimes, PhaseTimes } from '#core/5-answers/verdict/loads/phase-times.ts';

/** A replay in the shape of a prediction, so that both are drawn alike. */
export function timesOfReplay(phases: readonly Phase[], replayed: readonly ReplayedPhase[]): LoadTimes {
  const times = replayed.map((one): PhaseTimes => {
    const phase = phases.find(({ name }) => name === one.name);
    const stream = one.chunks > 0 ? (phase?.stream ?? null) : null;
    return {
      name: one.name,
      processorSeconds: one.processorSeconds,
      waitingSeconds: one.dataSeconds,
      totalSeconds: one.processorSeconds + one.dataSeconds,
      limitSeconds: one.limitSeconds,
      isMeasured: true,
      mayBeQuicker: false,
      stream: stream && {
        forSeconds: stream.forSeconds,
        everySeconds: stream.everySeconds,
        pilesUp: one.dataSeconds > stream.everySeconds,
        usualSeconds: one.dataSeconds,
        worstSeconds: one.worstChunkSeconds ?? one.dataSeconds,
        deadlineSeconds: one.limitSeconds ?? stream.everySeconds,
        stuttersPerMinute: (60 / stream.everySeconds) * (one.lateChunks / one.chunks),
        isMeasured: true,
      },
    };
  });
  const waits = times.filter(({ stream }) => stream === null);
  const sum = (of: (one: PhaseTimes) => number) => waits.reduce((total, one) => total + of(one), 0);
  return {
    phases: times,
    totalSeconds: sum((one) => one.totalSeconds),
    processorSeconds: sum((one) => one.processorSeconds),
    waitingSeconds: sum((one) => one.waitingSeconds),
    isMeasured: true,
  };
}
