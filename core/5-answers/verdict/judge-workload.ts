import type { Demand } from '#core/3-jobs/demand/demand.ts';
import { demandsOf, isFootage, type Item } from '#core/3-jobs/demand/items.ts';
import { demandOf } from '#core/3-jobs/demand/footage/footage-demand.ts';
import type { Workload } from '#core/3-jobs/demand/workload.ts';
import { LOST_WITH_MACHINE } from '#core/2-trade/drives/medium.ts';
import { readRequests, traceBehind, type Supply } from '#core/4-runs/supply/profile.ts';
import { inTurn } from '#core/5-answers/verdict/in-turn.ts';
import { judge } from '#core/5-answers/verdict/judge.ts';
import { judgeLoad } from '#core/5-answers/verdict/loads/judge-load.ts';
import { oneLadder } from '#core/5-answers/verdict/loads/ladder-for.ts';
import { NOT_MEASURED, verdictSentence } from '#core/5-answers/verdict/sentences.ts';
import { judgePlayback } from '#core/5-answers/verdict/series/judge-playback.ts';
import { judgeSeries } from '#core/5-answers/verdict/series/judge-series.ts';
import { judgeTogether } from '#core/5-answers/verdict/together.ts';
import type { ItemVerdict, Policy, Verdict } from '#core/5-answers/verdict/verdict.ts';

/** What an item asks for with its verdict on a drive. */
export interface JudgedItem {
  demand: Demand;
  verdict: Verdict;
  sentence: string;
  /** The verdict in a few words, where it is no matter of a rate held for a time; else null. */
  short: string | null;
}

/** What is written into memory is not kept, however well it is carried. */
const withLoss = (sentence: string, { direction }: Demand, { medium }: Supply): string =>
  medium === 'memory' && direction === 'write' ? `${sentence} What is on it is ${LOST_WITH_MACHINE}.` : sentence;

/** A verdict with its sentence, which names the doubts of its run. */
export function withSentence(demand: Demand, verdict: Verdict, supply: Supply): JudgedItem {
  const sentence = verdictSentence(demand, verdict, traceBehind(supply, verdict.runId, demand.direction)?.doubts);
  return { demand, verdict, sentence: withLoss(sentence, demand, supply), short: null };
}

/** The verdict on what an item is first of all; null where it is a stream at a rate, as all its further parts are. */
function ownVerdict(
  item: Item,
  demand: Demand,
  supply: Supply,
  policy: Policy,
  roomBytes: number | null,
): ItemVerdict | null {
  switch (item.kind) {
    case 'series':
      return judgeSeries(item, demand, supply, policy, roomBytes);
    case 'load':
      return judgeLoad(item, demand, supply, policy, roomBytes);
    case 'footage':
      return null;
  }
}

/** What is said of playing a cache before any drive is looked at; null where the drive decides. */
const playedVerdict = (item: Item, demand: Demand): ItemVerdict | null =>
  item.kind === 'series' ? judgePlayback(item, demand) : null;

/** What rests on nothing but what was typed of a drive says so. */
function promised(own: ItemVerdict, isPromise: boolean): ItemVerdict {
  if (!isPromise || own.verdict.isPromise) return own;
  return { ...own, verdict: { ...own.verdict, isPromise }, sentence: `${own.sentence} ${NOT_MEASURED}` };
}

/** Verdicts on everything that one item asks for. @param roomBytes free bytes less the reserve; null when not known */
export function judgeItem(item: Item, supply: Supply, policy: Policy, roomBytes: number | null): JudgedItem[] {
  return demandsOf(item).map((demand, part) => {
    const own = part === 0 ? ownVerdict(item, demand, supply, policy, roomBytes) : playedVerdict(item, demand);
    if (own === null) return withSentence(demand, judge(demand, supply, policy, roomBytes), supply);
    // What no drive changes is no matter of a promise.
    const said = promised(own, supply.isPromise && own.verdict.reason !== 'showing');
    return { demand, ...said, sentence: withLoss(said.sentence, demand, supply) };
  });
}

/** All verdicts on a workload in one list: what goes on together, and what finds no room, come last. */
export function judgedItems(
  workload: Workload,
  supply: Supply,
  policy: Policy,
  roomBytes: number | null,
): JudgedItem[] {
  const { items, together, oneAfterTheOther } = judgeWorkload(workload, supply, policy, roomBytes);
  return [...items, together, oneAfterTheOther].filter((one) => one !== null);
}

/** Loads that a ladder each would prove are proven by one that measures what all of them ask for. */
function withOneLadder(items: JudgedItem[], supply: Supply): JudgedItem[] {
  const ladders = items.flatMap(({ verdict }) => verdict.wouldProve?.ladder ?? []);
  if (ladders.length < 2) return items;
  const wouldProve = oneLadder(ladders, readRequests(supply));
  return items.map((one) =>
    one.verdict.wouldProve?.ladder ? { ...one, verdict: { ...one.verdict, wouldProve } } : one,
  );
}

/**
 * Verdicts on all items of a workload from what is known of a drive, on what goes on together as one, and on the room
 * for all that is recorded one after the other; null where nothing does, and where it fits.
 * @param roomBytes free bytes less the reserve; null when not known
 */
export function judgeWorkload(
  workload: Workload,
  supply: Supply,
  policy: Policy,
  roomBytes: number | null,
): { items: JudgedItem[]; together: JudgedItem | null; oneAfterTheOther: JudgedItem | null } {
  const items = workload.items.flatMap((item) => judgeItem(item, supply, policy, roomBytes));
  const beside = workload.items.filter(isFootage).filter((item) => item.together);
  const all = beside.length > 1 ? judgeTogether(beside.map(demandOf), supply, policy, roomBytes) : null;
  const footage = workload.items.filter(isFootage).map(demandOf);
  return {
    items: withOneLadder(items, supply),
    together: all && withSentence(all.demand, all.verdict, supply),
    oneAfterTheOther: inTurn(footage, roomBytes),
  };
}
