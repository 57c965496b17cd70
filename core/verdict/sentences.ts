import type { Demand } from '#core/demand/footage-demand.ts';
import type { Doubt } from '#core/supply/doubts.ts';
import { bytesText, formatDuration, formatNumber, formatRate, formatShare, rateText } from '#core/units/format.ts';
import type { Verdict } from '#core/verdict/judge.ts';

const NUMBER_WORDS = [
  'no',
  'one',
  'two',
  'three',
  'four',
  'five',
  'six',
  'seven',
  'eight',
  'nine',
  'ten',
  'eleven',
  'twelve',
];

const countText = (count: number): string => NUMBER_WORDS[count] ?? String(count);

/** What is carried, for the middle of a sentence: “three streams of 3840×2160 VC-3 444 at 25”. */
function subject({ streams, formatText, framesPerSecond }: Demand): string {
  if (framesPerSecond === null) return formatText;
  return `${countText(streams)} stream${streams === 1 ? '' : 's'} of ${formatText}`;
}

/** The verdict in one plain sentence that can be read aloud. `doubts` are those of its run. */
export function verdictSentence(demand: Demand, verdict: Verdict, doubts: readonly Doubt[] = []): string {
  switch (verdict.verdict) {
    case 'holds':
      return `${carriesText(demand)}, ${spareText(demand, verdict)}.`;
    case 'tight':
      return `${carriesText(demand)}, but only just: ${spareText(demand, verdict)}.`;
    case 'breaks':
      return breaksSentence(demand, verdict);
    case 'not-proven':
      return notProvenSentence(demand, verdict, doubts);
  }
}

function carriesText(demand: Demand): string {
  const act = demand.direction === 'write' ? 'Records' : 'Plays';
  const length = formatDuration(demand.takeSeconds);
  const takes =
    demand.direction === 'write' && demand.takes > 1
      ? `all ${countText(demand.takes)} takes of ${length}`
      : `the whole ${length}`;
  return `${act} ${subject(demand)} for ${takes}`;
}

function spareText(demand: Demand, { guaranteedBytesPerSecond }: Verdict): string {
  const ratio = (guaranteedBytesPerSecond ?? 0) / demand.bytesPerSecond;
  return ratio < 4 ? `with ${formatShare(ratio - 1)} to spare` : `at ${formatNumber(ratio)} times the rate needed`;
}

function breaksSentence(demand: Demand, verdict: Verdict): string {
  const after = formatDuration(verdict.breaksAtSeconds ?? 0);
  if (verdict.reason === 'full') {
    return `Is full after ${after}: the take needs ${bytesText(demand.bytesPerSecond * demand.takeSeconds)} and ${bytesText(verdict.breaksAtBytes ?? 0)} can be used.`;
  }
  const what =
    demand.framesPerSecond === null
      ? 'Loses its first samples'
      : demand.direction === 'write'
        ? 'Drops its first frame'
        : 'Shows its first frame late';
  const guaranteed = formatRate(verdict.guaranteedBytesPerSecond ?? 0).number;
  return `${what} after ${after}, at ${bytesText(verdict.breaksAtBytes ?? 0)}: carries ${guaranteed} of the ${rateText(demand.bytesPerSecond)} needed.`;
}

function notProvenSentence(demand: Demand, verdict: Verdict, doubts: readonly Doubt[]): string {
  const need = rateText(demand.bytesPerSecond);
  if (verdict.reason === 'no-run') {
    return `Not proven: no run of this drive says anything about ${demand.direction === 'write' ? 'writing' : 'reading'} ${need}.`;
  }
  const proven = formatDuration(verdict.provenSeconds ?? 0);
  if (verdict.reason === 'later-takes') {
    return `The first take of ${formatDuration(demand.takeSeconds)} holds at ${need}; the ${countText(demand.takes - 1)} after it are not proven.`;
  }
  if (verdict.reason === 'doubtful') {
    const doubt = doubts.find((one) => one.effect === 'too-high' || one.effect === 'too-low');
    const why = doubt ? ` ${doubt.evidence}` : '';
    return `Carried ${need} for the ${proven} measured, which proves nothing yet.${why}`;
  }
  return `Carries ${need} for the ${proven} measured; the rest of the ${formatDuration(demand.takeSeconds)} is not proven.`;
}
