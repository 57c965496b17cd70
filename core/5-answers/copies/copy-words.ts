import type { CopyPrediction, Payload } from '#core/5-answers/copies/predict.ts';
import type { Binding } from '#core/4-runs/trace/copy-stretches.ts';
import { bytesText, formatDuration, formatNumber, rateText } from '#core/1-ground/units/format.ts';

/** What holds a copy back, as the rest of a sentence. */
export function bindingText(binds: Binding): string {
  switch (binds.kind) {
    case 'source':
      return 'reading the source';
    case 'target':
      return binds.label === null ? 'writing the target' : `writing ${binds.label}`;
    case 'same-drive':
      return 'one drive that has to take turns';
    case 'hop':
      return binds.label;
  }
}

/** How many times as long as its first estimate the copying itself takes; 1 where that was right. */
export const timesEarly = ({ earlySeconds, ...copy }: CopyPrediction): number =>
  copyingSeconds(copy) / Math.max(1e-9, earlySeconds);

/** Seconds of a copy without reading it back. */
export const copyingSeconds = ({
  movingSeconds,
  flushingSeconds,
  filesSeconds,
}: Pick<CopyPrediction, 'movingSeconds' | 'flushingSeconds' | 'filesSeconds'>): number =>
  movingSeconds + flushingSeconds + filesSeconds;

/** What a copy takes and why, in a sentence or two. */
export function copySentence(from: string, to: string, payload: Payload, copy: CopyPrediction): string {
  const times = timesEarly(copy);
  const early =
    times >= 1.2
      ? `, ${formatNumber(times)} times what its first seconds promise (${formatDuration(copy.earlySeconds)})`
      : '';
  const longest = copy.stretches.reduce((most, one) => (secondsIn(one) > secondsIn(most) ? one : most));
  const held = ` For most of it ${bindingText(longest.binds)} holds it back, at ${rateText(longest.bytesPerSecond)}.`;
  const open =
    copy.provenBytes < payload.bytes
      ? ` Only ${bytesText(copy.provenBytes)} of it were measured on both; the rest goes on at the floors seen.`
      : '';
  const back = copy.verifyingSeconds > 0 ? `, and ${formatDuration(copy.verifyingSeconds)} to be read back` : '';
  const copying = formatDuration(copyingSeconds(copy));
  return `${bytesText(payload.bytes)} from ${from} to ${to} take ${copying}${early}${back}.${held}${open}`;
}

const secondsIn = ({ fromBytes, toBytes, bytesPerSecond }: CopyPrediction['stretches'][number]): number =>
  (toBytes - fromBytes) / bytesPerSecond;
