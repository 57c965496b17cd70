import type { Demand } from '#core/3-jobs/demand/demand.ts';
import type { JudgedItem } from '#core/5-answers/verdict/judge-workload.ts';
import { BY_TYPED_RATES } from '#core/5-answers/verdict/sentences.ts';
import type { VerdictWord } from '#core/5-answers/verdict/verdict.ts';

/** What all verdicts on a workload come to, in a sentence. */
export interface Answer {
  verdict: VerdictWord;
  /** The answer itself: “Yes, if each take is taken off before the next.” */
  lead: string;
  /** What it rests on: the item that decides it, with its sentence. */
  text: string;
  /** What decides it rests on nothing but what was typed. */
  isPromise: boolean;
  /** That item; null where nothing was judged. */
  deciding: JudgedItem | null;
}

/** A workload is as good as its worst item; what surely breaks outweighs what is not known. */
const WORST_FIRST: readonly VerdictWord[] = ['breaks', 'not-proven', 'tight', 'holds'];

/** @param judged every verdict on the workload, on what goes on together too; at least one */
export function answerOf(judged: readonly JudgedItem[]): Answer {
  const verdict = WORST_FIRST.find((word) => judged.some((one) => one.verdict.verdict === word)) ?? 'not-proven';
  const deciding = judged.filter((one) => one.verdict.verdict === verdict);
  const [first] = [...deciding].sort(byUrgency);
  const isAnyPromise = judged.some((one) => one.verdict.isPromise);
  return {
    verdict,
    isPromise: first?.verdict.isPromise ?? false,
    deciding: first ?? null,
    lead: isAnyPromise ? PROMISED[verdict] : leadOf(verdict, judged),
    text: first
      ? `${howMany(verdict, deciding.length, judged.length, first.demand.isSum ? aloneText(judged) : null)}${nameOf(first, judged)}${first.sentence}`
      : '',
  };
}

/** What breaks soonest, or has least to spare, decides. */
function byUrgency(a: JudgedItem, b: JudgedItem): number {
  const soonest = (one: JudgedItem) => (one.verdict.breaksInTake ?? 1) * 1e9 + (one.verdict.breaksAtSeconds ?? 1e9);
  return soonest(a) - soonest(b) || spareOf(a) - spareOf(b);
}

const spareOf = ({ demand, verdict }: JudgedItem): number =>
  (verdict.guaranteedBytesPerSecond ?? Infinity) / Math.max(1, demand.bytesPerSecond);

function leadOf(verdict: VerdictWord, judged: readonly JudgedItem[]): string {
  const takenOff = judged.some(({ demand }) => isTakenOff(demand)) ? 'if each take is taken off before the next' : '';
  switch (verdict) {
    case 'holds':
      return takenOff === '' ? 'Yes.' : `Yes, ${takenOff}.`;
    case 'tight':
      return takenOff === '' ? 'Yes, but only just.' : `Yes, but only just, and only ${takenOff}.`;
    case 'breaks':
      return 'No.';
    case 'not-proven':
      return 'That is not proven.';
  }
}

const PROMISED: Record<VerdictWord, string> = {
  holds: `It would, ${BY_TYPED_RATES}.`,
  tight: `It would, but only just, ${BY_TYPED_RATES}.`,
  breaks: `It would not, ${BY_TYPED_RATES}.`,
  'not-proven': 'That is not proven.',
};

const isTakenOff = ({ direction, takes, between }: Demand): boolean =>
  direction === 'write' && takes > 1 && between === 'take-off';

function howMany(verdict: VerdictWord, deciding: number, all: number, alone: string | null): string {
  if (all === 1) return '';
  if (deciding === 1 && alone !== null) return alone;
  const some = deciding === all ? `All ${all}` : `${deciding} of ${all}`;
  switch (verdict) {
    case 'holds':
      return `All ${all} verdicts are Holds; least is left over for this one. `;
    case 'tight':
      return `${some} verdicts ${deciding === 1 ? 'is' : 'are'} Tight. `;
    case 'breaks':
      return `${some} verdicts ${deciding === 1 ? 'is' : 'are'} Breaks. `;
    case 'not-proven':
      return `${some} verdicts ${deciding === 1 ? 'is' : 'are'} Not proven. `;
  }
}

/** Where only all of them together decide. */
function aloneText(judged: readonly JudgedItem[]): string | null {
  const alone = judged.filter(({ demand }) => !demand.isSum);
  return alone.every(({ verdict }) => verdict.verdict === 'holds') ? 'Each item holds by itself. ' : null;
}

const nameOf = ({ demand }: JudgedItem, judged: readonly JudgedItem[]): string =>
  judged.length === 1 ? '' : `${demand.name}: `;
