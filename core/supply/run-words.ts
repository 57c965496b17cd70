import type { RunFigures } from '#core/trace/figures.ts';
import type { FileFigures } from '#core/trace/file-costs.ts';
import type { FrameFigures } from '#core/trace/frames.ts';
import type { ReplayedPhase } from '#core/trace/replayed.ts';
import type { LadderRung } from '#core/trace/ladder.ts';
import { blockText, formatDuration, formatNumber, rateText } from '#core/units/format.ts';

/** What a run says in a sentence or two, for recipes whose figures are no rates of a demand; null for the others. */
export function runWords({ ladder, frames, files, phases }: RunFigures): { lead: string; text: string } | null {
  if (frames) return framesWords(frames);
  if (ladder && ladder.length > 0) return ladderWords(ladder);
  if (files && files.length > 0) return filesWords(files);
  if (phases && phases.length > 0) return phasesWords(phases);
  return null;
}

const count = (value: number, one: string, many: string): string =>
  `${formatNumber(value, 'full')} ${value === 1 ? one : many}`;

function framesWords({ frames, late, dropped, seconds, streams }: FrameFigures) {
  const first = Math.min(...streams.map((stream) => stream.firstDroppedSeconds ?? Infinity));
  if (dropped > 0) {
    return {
      lead: `${count(dropped, 'frame', 'frames')} dropped.`,
      text: `Of ${formatNumber(frames, 'full')} in ${formatDuration(seconds)}, the first after ${formatDuration(first)}. The buffer was used up.`,
    };
  }
  const low = streams.reduce((least, one) =>
    one.lowWaterFrames / one.bufferFrames < least.lowWaterFrames / least.bufferFrames ? one : least,
  );
  const lateText = late > 0 ? ` ${count(late, 'was', 'were')} late and caught by the buffer.` : '';
  return {
    lead: 'No frame was dropped.',
    text: `All ${formatNumber(frames, 'full')} went through in ${formatDuration(seconds)}.${lateText} The buffer had ${low.lowWaterFrames} of ${count(low.bufferFrames, 'frame', 'frames')} left at its lowest.`,
  };
}

function ladderWords(ladder: readonly LadderRung[]) {
  const small = Math.min(...ladder.map((rung) => rung.blockBytes));
  const reads = ladder.filter((rung) => rung.blockBytes === small && rung.order === 'random');
  const way = reads.some((rung) => rung.direction === 'read') ? 'read' : 'write';
  const own = reads.filter((rung) => rung.direction === way).sort((a, b) => a.depth - b.depth);
  const [single, deepest] = [own[0], own.at(-1)];
  const best = ladder.reduce((most, rung) => (rung.bytesPerSecond > most.bytesPerSecond ? rung : most));
  const lead = `Up to ${rateText(best.bytesPerSecond)}.`;
  const bestText = `At ${blockText(best.blockBytes)} and depth ${best.depth}, ${best.direction === 'read' ? 'reading' : 'writing'}.`;
  if (!single || !deepest) return { lead, text: bestText };
  const latency = single.latencyP50Seconds === null ? '' : ` each takes ${formatDuration(single.latencyP50Seconds)},`;
  return {
    lead,
    text: `${bestText} ${blockText(small)} ${way === 'read' ? 'reads' : 'writes'} at random:${latency} ${formatNumber(single.operationsPerSecond)} a second one at a time, ${formatNumber(deepest.operationsPerSecond)} with ${deepest.depth} under way.`,
  };
}

function filesWords(files: readonly FileFigures[]) {
  const [create, read] = (['create', 'read'] as const).map((action) => files.find((one) => one.action === action));
  const text = [
    ...(create ? [`Creating goes at ${formatNumber(create.filesPerSecond)} files a second`] : []),
    ...(read ? [`reading at ${formatNumber(read.filesPerSecond)}`] : []),
  ].join(', ');
  const lead = create ? `A file costs ${formatDuration(create.costSeconds)} beside its bytes.` : 'Files were timed.';
  return { lead, text: text === '' ? '' : `${text}.` };
}

function phasesWords(phases: readonly ReplayedPhase[]) {
  const waits = phases.filter(({ chunks }) => chunks === 0);
  const sum = (of: (phase: ReplayedPhase) => number) => waits.reduce((total, phase) => total + of(phase), 0);
  const [processor, data] = [sum((phase) => phase.processorSeconds), sum((phase) => phase.dataSeconds)];
  const late = phases.reduce((total, { lateChunks }) => total + lateChunks, 0);
  const chunks = phases.reduce((total, phase) => total + phase.chunks, 0);
  const streamed =
    chunks === 0
      ? ''
      : ` Of ${count(chunks, 'chunk', 'chunks')} that streamed in ${formatNumber(late, 'full')} came too late.`;
  if (waits.length === 0)
    return { lead: late === 0 ? 'Everything streamed in in time.' : 'It stuttered.', text: streamed.trim() };
  return {
    lead: `${formatDuration(processor + data)} in all.`,
    text: `${formatDuration(data)} of it reading, ${formatDuration(processor)} in which it would compute.${streamed}`,
  };
}
