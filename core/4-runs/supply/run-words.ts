import { greatest, least } from '#core/1-ground/numbers/statistics.ts';
import type { RunFigures } from '#core/4-runs/trace/figures.ts';
import type { FileFigures } from '#core/4-runs/trace/file-costs.ts';
import type { FrameFigures } from '#core/4-runs/trace/frames.ts';
import type { ReplayedPhase } from '#core/4-runs/trace/replayed.ts';
import type { CopyFigures } from '#core/4-runs/trace/copied.ts';
import type { LadderRung } from '#core/4-runs/trace/ladder.ts';
import {
  blockText,
  bytesText,
  count,
  formatDuration,
  formatNumber,
  formatShare,
  rateText,
} from '#core/1-ground/units/format.ts';

/** What a run says in a sentence or two, for recipes whose figures are no rates of a demand; null for the others. */
export function runWords({ ladder, frames, files, phases, copies }: RunFigures): { lead: string; text: string } | null {
  if (frames) return framesWords(frames);
  if (ladder && ladder.length > 0) return ladderWords(ladder);
  if (files && files.length > 0) return filesWords(files);
  if (phases && phases.length > 0) return phasesWords(phases);
  if (copies && copies.legs.length > 0) return copyWords(copies);
  return null;
}

function framesWords({ frames, late, dropped, seconds, streams }: FrameFigures) {
  const first = least(streams.map((stream) => stream.firstDroppedSeconds ?? Infinity));
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
  const small = least(ladder.map((rung) => rung.blockBytes));
  const reads = ladder.filter((rung) => rung.blockBytes === small && rung.order === 'random');
  const way = reads.some((rung) => rung.direction === 'read') ? 'read' : 'write';
  const own = reads.filter((rung) => rung.direction === way).sort((a, b) => a.depth - b.depth);
  const [single, deepest] = [own[0], own.at(-1)];
  const best = ladder.reduce((most, rung) => (rung.bytesPerSecond > most.bytesPerSecond ? rung : most));
  const lead = `Up to ${rateText(best.bytesPerSecond)}.`;
  const bestText = `At ${blockText(best.blockBytes)} and depth ${best.depth}, ${best.direction === 'read' ? 'reading' : 'writing'}.`;
  if (!single || !deepest) return { lead, text: bestText };
  const latency =
    single.latencyP50Seconds === null ? '' : ` (half of them within ${formatDuration(single.latencyP50Seconds)})`;
  const several =
    deepest.depth > single.depth
      ? `, ${formatNumber(deepest.operationsPerSecond)} with ${deepest.depth} under way`
      : '';
  const alone = single.depth === 1 ? 'one at a time' : `with ${single.depth} under way`;
  return {
    lead,
    text: `${bestText} ${blockText(small)} ${way === 'read' ? 'reads' : 'writes'} at random: ${formatNumber(single.operationsPerSecond)} a second ${alone}${latency}${several}.`,
  };
}

function filesWords(files: readonly FileFigures[]) {
  const [create, read] = (['create', 'read'] as const).map((action) => files.find((one) => one.action === action));
  const text = [
    ...(create ? [`Creating goes at ${formatNumber(create.filesPerSecond)} files a second`] : []),
    ...(read ? [`reading at ${formatNumber(read.filesPerSecond)}`] : []),
  ].join(', ');
  const lead = create ? fileCostWords(create) : 'Files were timed.';
  return { lead, text: text === '' ? '' : `${text}.` };
}

/** What is left for a file when its bytes have taken this much of its time is nothing that was seen. */
const LEAST_COST_SHARE = 0.01;

function fileCostWords({ costSeconds, costApart, p50Seconds }: FileFigures): string {
  if (!costApart) return `A file takes ${formatDuration(costSeconds)}, its bytes with it.`;
  if (costSeconds < LEAST_COST_SHARE * p50Seconds) return 'A file costs nothing that could be told from its bytes.';
  return `A file costs ${formatDuration(costSeconds)} beside its bytes.`;
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

/** An estimate that is off by less than this is right. */
const RIGHT_ESTIMATE = 1.2;
/** A trend of less is none. */
const LEAST_TREND = 0.05;

function copyWords({ legs, spread }: CopyFigures) {
  const [leg] = legs;
  const { outcome, seconds, copiedBytes, bytesPerSecond, earlySeconds, waits } = leg!;
  const copied = `${bytesText(copiedBytes)} in ${formatDuration(seconds)}`;
  const times = earlySeconds !== null && earlySeconds > 0 ? seconds / earlySeconds : 1;
  const early =
    times >= RIGHT_ESTIMATE
      ? `, ${formatNumber(times)} times as long as its first seconds suggested (${formatDuration(earlySeconds!)})`
      : '';
  const [source, ...targets] = waits;
  const targetsWait = greatest(
    targets.map(({ share }) => share),
    0,
  );
  const waiting =
    source === undefined || Math.abs(source.share - targetsWait) < 0.05
      ? ''
      : source.share > targetsWait
        ? ` The source waited ${formatShare(source.share)} of the time: writing held it back.`
        : ` What is written waited ${formatShare(targetsWait)} of the time: reading held it back.`;
  const missing = outcome === null ? 0 : outcome.files - outcome.wholeFiles;
  const whole = missing > 0 ? ` ${count(missing, 'file was', 'files were')} not copied whole.` : '';
  const differs = outcome?.differingFiles ?? 0;
  const verified =
    outcome === null || outcome.verifySeconds === 0
      ? ''
      : differs > 0
        ? ` ${count(differs, 'file was', 'files were')} read back otherwise than written.`
        : ` Read back in ${formatDuration(outcome.verifySeconds)}, all alike.`;
  const often =
    spread === null
      ? ''
      : ` ${spread.times} copies took ${formatDuration(spread.lowestSeconds)} to ${formatDuration(spread.highestSeconds)}${
          Math.abs(spread.trendShare) < LEAST_TREND
            ? ''
            : `, ${spread.trendShare > 0 ? 'slower' : 'quicker'} by ${formatShare(Math.abs(spread.trendShare))} from first to last`
        }.`;
  const text = `${rateText(bytesPerSecond)}${early}.${waiting}${whole}${verified}${often}`;
  // Whoever clears a card after reading this has to know first that there is no copy.
  if (outcome !== null && legs.every((one) => (one.outcome?.keptFolders.length ?? 0) === 0)) {
    const checked = outcome.verifySeconds === 0 ? ' and nothing verified' : '';
    return { lead: `Only measured: nothing was kept${checked}.`, text: `${copied}, ${text}` };
  }
  return { lead: `${copied}.`, text };
}
