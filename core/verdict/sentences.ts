import type { Demand } from '#core/demand/demand.ts';
import type { Doubt } from '#core/supply/doubts/doubt.ts';
import { bytesText, formatDuration, formatNumber, formatRate, formatShare, rateText } from '#core/units/format.ts';
import { takeBytesOf } from '#core/verdict/carried.ts';
import type { Verdict } from '#core/verdict/verdict.ts';

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
function subject({ streams, formatText, framesPerSecond, isSum }: Demand): string {
  if (isSum) return `${formatText} together`;
  if (framesPerSecond === null) return formatText;
  return `${countText(streams)} stream${streams === 1 ? '' : 's'} of ${formatText}`;
}

/** The verdict in one plain sentence that can be read aloud. `doubts` are those of its run. */
export function verdictSentence(demand: Demand, verdict: Verdict, doubts: readonly Doubt[] = []): string {
  switch (verdict.verdict) {
    case 'holds':
      return `${carriesText(demand, verdict)}, ${spareText(demand, verdict)}.${continuedText(verdict)}`;
    case 'tight':
      return `${carriesText(demand, verdict)}, but only just: ${spareText(demand, verdict)}.${continuedText(verdict)}`;
    case 'breaks':
      return breaksSentence(demand, verdict);
    case 'not-proven':
      return notProvenSentence(demand, verdict, doubts);
  }
}

function carriesText(demand: Demand, { reason }: Verdict): string {
  const act = demand.direction === 'write' ? 'Records' : 'Plays';
  const length = formatDuration(demand.takeSeconds);
  const takes =
    demand.direction === 'write' && demand.takes > 1
      ? `all ${countText(demand.takes)} takes of ${length}`
      : `the whole ${length}`;
  const done = reason === 'done' ? ', as it did frame by frame' : '';
  return `${act} ${subject(demand)} for ${takes}${done}`;
}

function spareText(demand: Demand, { guaranteedBytesPerSecond }: Verdict): string {
  const ratio = (guaranteedBytesPerSecond ?? 0) / demand.bytesPerSecond;
  if (ratio >= 4) return `at ${formatNumber(ratio)} times the rate needed`;
  return ratio < 1.005 ? 'with nothing to spare' : `with ${formatShare(ratio - 1)} to spare`;
}

function continuedText({ continuedAlong }: Verdict): string {
  if (continuedAlong === 'floor') return ' The end of it is the floor seen, taken to go on.';
  return continuedAlong === 'tracks' ? ' The end of it follows the fall from outer to inner tracks.' : '';
}

function breaksSentence(demand: Demand, verdict: Verdict): string {
  const after = formatDuration(verdict.breaksAtSeconds ?? 0);
  const guaranteed = formatRate(verdict.guaranteedBytesPerSecond ?? 0).number;
  const needed = rateText(demand.bytesPerSecond);
  if (verdict.reason === 'full') {
    return `Is full after ${after}: the take needs ${bytesText(takeBytesOf(demand))} and ${bytesText(verdict.breaksAtBytes ?? 0)} can be used.`;
  }
  if (verdict.reason === 'mixed') {
    return `Cannot record and play at the same time: together that comes to ${formatShare(demand.bytesPerSecond / (verdict.guaranteedBytesPerSecond ?? demand.bytesPerSecond))} of what it does.`;
  }
  const what =
    demand.framesPerSecond === null
      ? demand.direction === 'write'
        ? 'loses its first data'
        : 'runs dry'
      : demand.direction === 'write'
        ? 'drops its first frame'
        : 'shows its first frame late';
  if (verdict.breaksInTake !== null) {
    return `Carries the first take; take ${verdict.breaksInTake} ${what} after ${after}: it begins with less fast cache than was rested for, and carries ${guaranteed} of the ${needed} needed.`;
  }
  const start = what.charAt(0).toUpperCase() + what.slice(1);
  const least = verdict.atLeast ? 'at least ' : '';
  const done =
    verdict.reason === 'done' ? ', as it did frame by frame.' : `: carries ${guaranteed} of the ${needed} needed.`;
  return `${start} after ${least}${after}, at ${bytesText(verdict.breaksAtBytes ?? 0)}${done}`;
}

function notProvenSentence(demand: Demand, verdict: Verdict, doubts: readonly Doubt[]): string {
  const need = rateText(demand.bytesPerSecond);
  const way = demand.direction === 'write' ? 'writing' : 'reading';
  const proven = formatDuration(verdict.provenSeconds ?? 0);
  switch (verdict.reason) {
    case 'no-run':
      return `No run of this drive says anything about ${way} ${need}.`;
    case 'later-takes':
      return `The first take of ${formatDuration(demand.takeSeconds)} holds at ${need}; the ${countText(demand.takes - 1)} after it ${demand.takes === 2 ? 'is' : 'are'} not proven.`;
    case 'several-streams':
      return `One stream would do, but ${countText(demand.streams)} at once make this drive seek, and ${
        verdict.guaranteedBytesPerSecond !== null && verdict.guaranteedBytesPerSecond < demand.bytesPerSecond
          ? `requests in no order came to ${rateText(verdict.guaranteedBytesPerSecond)} of the ${need} needed`
          : 'that has not been measured'
      }.`;
    case 'mixed':
      return verdict.guaranteedBytesPerSecond === null
        ? `Recording and playing at the same time has not been measured on this drive.`
        : `Each way alone would do; recording and playing at the same time has not been measured.`;
    case 'doubtful': {
      const doubt = doubts.find((one) => one.effect === 'too-high' || one.effect === 'too-low');
      const rate = rateText(verdict.guaranteedBytesPerSecond ?? 0);
      // Seconds of the run and seconds of the job differ: the rate seen says it without either.
      return `Showed ${rate} where ${need} are needed, but that run proves neither way${doubt ? `: ${lowered(doubt.evidence)}` : '.'}`;
    }
    default:
      return `Carries ${need} for the first ${proven}; the rest of the ${formatDuration(demand.takeSeconds)} is not proven.`;
  }
}

/** A sentence as the end of another; names such as PCIe stay as they are. */
const lowered = (sentence: string): string =>
  /^[A-Z][a-z ]/.test(sentence) ? sentence.charAt(0).toLowerCase() + sentence.slice(1) : sentence;
