import { takeBytesOf, type Demand } from '#core/3-jobs/demand/demand.ts';
import type { Doubt } from '#core/4-runs/supply/doubts/doubt.ts';
import {
  bytesText,
  formatDuration,
  formatNumber,
  formatRate,
  formatShare,
  rateText,
} from '#core/1-ground/units/format.ts';
import { capitalized, countText } from '#core/1-ground/words.ts';
import type { Verdict } from '#core/5-answers/verdict/verdict.ts';

/** What is carried, for the middle of a sentence: “three streams of 3840×2160 VC-3 444 at 25”. */
function subject({ streams, formatText, framesPerSecond, isSum }: Demand): string {
  if (isSum) return `${formatText} together`;
  // A rate alone, or a curve, is told of one stream too.
  if (framesPerSecond === null && streams === 1) return formatText;
  return `${countText(streams)} stream${streams === 1 ? '' : 's'} of ${formatText}`;
}

/** Of an answer that rests on what was typed of a drive, and of a verdict that does. */
export const BY_TYPED_RATES = 'by rates that were typed and not measured';
export const NOT_MEASURED = 'Nothing of this was measured: it is what its box promises, while it is empty.';

/** The verdict in one plain sentence that can be read aloud. `doubts` are those of its run. */
export function verdictSentence(demand: Demand, verdict: Verdict, doubts: readonly Doubt[] = []): string {
  const sentence = sentenceOf(demand, verdict, doubts);
  return verdict.isPromise ? `${sentence} ${NOT_MEASURED}` : sentence;
}

function sentenceOf(demand: Demand, verdict: Verdict, doubts: readonly Doubt[]): string {
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

function carriesText(demand: Demand, { reason, isPromise }: Verdict): string {
  const [does, would] = demand.direction === 'write' ? ['Records', 'Would record'] : ['Plays', 'Would play'];
  const act = isPromise ? would : does;
  const done = reason === 'done' ? ', as it did frame by frame' : '';
  return `${act} ${subject(demand)} for ${takesText(demand)}${done}`;
}

/** How long, how often, and what becomes of the takes: “all four takes of 40 min, each taken off before the next”. */
function takesText(demand: Demand): string {
  const length = formatDuration(demand.takeSeconds);
  if (demand.direction === 'read' || demand.takes === 1) return `the whole ${length}`;
  return `all ${countText(demand.takes)} takes of ${length}, ${betweenText(demand)}`;
}

/** What is assumed of the material between takes. */
export function betweenText({ between, takeOffSeconds }: Pick<Demand, 'between' | 'takeOffSeconds'>): string {
  if (between === 'stay') return 'all of them staying on the drive';
  return takeOffSeconds === null
    ? 'each taken off before the next'
    : `each taken off in ${formatDuration(takeOffSeconds)}`;
}

function spareText(demand: Demand, { guaranteedBytesPerSecond }: Verdict): string {
  const ratio = (guaranteedBytesPerSecond ?? 0) / demand.bytesPerSecond;
  if (ratio >= 4) return `at ${formatNumber(ratio)} times the rate needed`;
  // Over so few bytes the buffer carries what the drive was not seen to do.
  if (ratio < 0.995) return 'out of the buffer of the program';
  return ratio < 1.005 ? 'with nothing to spare' : `with ${formatShare(ratio - 1)} to spare`;
}

function continuedText({ continuedAlong }: Verdict): string {
  if (continuedAlong === 'floor') return ' The end of it is the floor seen, taken to go on.';
  return continuedAlong === 'tracks' ? ' The end of it follows the fall from outer to inner tracks.' : '';
}

function breaksSentence(demand: Demand, verdict: Verdict): string {
  const soonest = formatDuration(verdict.breaksAtSeconds ?? 0);
  const latest = verdict.breaksAtLatestSeconds;
  const after = latest === null ? soonest : `${soonest} at the soonest and ${formatDuration(latest)} at the latest`;
  const guaranteed = formatRate(verdict.guaranteedBytesPerSecond ?? 0).number;
  const needed = rateText(demand.bytesPerSecond);
  if (verdict.reason === 'full') return fullSentence(demand, verdict);
  if (verdict.reason === 'mixed') {
    return `Cannot record and play at the same time: its link goes one way at a time, and carries ${rateText(verdict.guaranteedBytesPerSecond ?? 0)} of both together.`;
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
    return `Take ${verdict.breaksInTake} ${what} after ${after}: the takes follow each other without a gap, and by then it carries ${guaranteed} of the ${needed} needed.`;
  }
  const least = verdict.atLeast ? 'at least ' : '';
  const done =
    verdict.reason === 'done' ? ', as it did frame by frame.' : `: carries ${guaranteed} of the ${needed} needed.`;
  return `${capitalized(what)} after ${least}${after}, at ${bytesText(verdict.breaksAtBytes ?? 0)}${done}`;
}

/** Where the volume is full, and what that rests on. */
function fullSentence(demand: Demand, verdict: Verdict): string {
  const { breaksAtSeconds, breaksAtBytes, breaksInTake, unknownFromTake } = verdict;
  // That it is full in the end is certain; that it is carried until then need not be.
  const begins = unknownFromTake === null ? 'Is full' : 'Is full at the latest';
  const after = formatDuration(breaksAtSeconds ?? 0);
  if (demand.takes === 1) {
    return `${begins} after ${after}: the take needs ${bytesText(takeBytesOf(demand))} and ${bytesText(breaksAtBytes ?? 0)} can be used.`;
  }
  return `${begins} ${after} into take ${breaksInTake ?? 1} of ${countText(demand.takes)}: each needs ${bytesText(takeBytesOf(demand))}, ${betweenText(demand)}.`;
}

function notProvenSentence(demand: Demand, verdict: Verdict, doubts: readonly Doubt[]): string {
  const need = rateText(demand.bytesPerSecond);
  const way = demand.direction === 'write' ? 'writing' : 'reading';
  const proven = formatDuration(verdict.provenSeconds ?? 0);
  switch (verdict.reason) {
    case 'no-run':
      return `No run of this drive says anything about ${way} ${need}.`;
    case 'later-takes': {
      const from = verdict.unknownFromTake ?? 2;
      const after = demand.takes - from + 1;
      const first = from === 2 ? 'The first take' : `The first ${countText(from - 1)} takes`;
      const holds = from === 2 ? 'holds' : 'hold';
      return `${first} of ${formatDuration(demand.takeSeconds)} ${holds} at ${need}; the ${after === 1 ? 'one' : countText(after)} after ${from === 2 ? 'it' : 'them'} ${after === 1 ? 'is' : 'are'} not proven.`;
    }
    case 'several-streams':
      return `One stream would do, but ${countText(demand.streams)} at once make this drive seek, and ${
        verdict.guaranteedBytesPerSecond !== null && verdict.guaranteedBytesPerSecond < demand.bytesPerSecond
          ? `requests in no order came to ${rateText(verdict.guaranteedBytesPerSecond)} of the ${need} needed`
          : 'that has not been measured'
      }.`;
    case 'mixed':
      return 'Recording and playing at the same time has not been measured on this drive: what each way does alone proves neither.';
    case 'worst-moment':
      return `Its slow moments were not where they would break this, but need not come there again: at the worst moment it carries ${rateText(verdict.guaranteedBytesPerSecond ?? 0)} of the ${need} needed, or all of it with a buffer of ${bytesText(verdict.leastBufferBytes ?? 0)}.`;
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
