import type { LoadItem } from '#core/3-jobs/demand/loads/load-item.ts';
import { formatDuration } from '#core/1-ground/units/format.ts';
import { classTimes } from '#core/5-answers/verdict/loads/least-drive.ts';
import type { LoadTimes } from '#core/5-answers/verdict/loads/phase-times.ts';

/** “The processor takes 20.8 of the 21 s.” */
export function processorSentence({ totalSeconds, processorSeconds, waitingSeconds }: LoadTimes): string | null {
  if (totalSeconds === 0 || processorSeconds === 0) return null;
  return `The processor takes ${formatDuration(processorSeconds)} of the ${formatDuration(totalSeconds)}; ${formatDuration(waitingSeconds)} wait for the drive.`;
}

/** So little nobody waits for. */
const LITTLE_SECONDS = 1;

/** From which class of drive on a faster one saves under a second; null where nothing is waited for. */
export function enoughSentence(item: LoadItem): string | null {
  const all = classTimes(item);
  const fastest = all.at(-1)?.seconds ?? 0;
  if (fastest === 0) return null;
  const enough = all.find(({ seconds }) => seconds - fastest < LITTLE_SECONDS)!;
  return `From ${enough.label} on, ${formatDuration(enough.seconds)}, a faster drive saves under a second.`;
}
