import { searchBench, searchBuilds } from '#core/sizing/search.ts';
import { explainBuild, type ExplainedBuild } from '#core/sizing/explain.ts';
import type { Sizing } from '#core/sizing/project.ts';
import type { Constraint, JudgedBuild, SizingResult } from '#core/sizing/search.ts';

/** What the page asks for, and what it is told on the way and at the end. */
export interface SizingRequest {
  sizing: Sizing;
}

export interface SizingFound {
  result: SizingResult;
  /** The builds of the front explained, cheapest first; at most so many as a list holds. */
  front: { build: JudgedBuild; explained: ExplainedBuild }[];
  tempting: { constraint: Constraint; build: JudgedBuild; explained: ExplainedBuild }[];
}

export type SizingReply =
  { kind: 'progress'; share: number } | { kind: 'found'; found: SizingFound } | { kind: 'problem'; detail: string };

/** Explaining judges a build anew: of a long front a spread of it. */
const MOST_EXPLAINED = 40;

const send = (reply: SizingReply) => self.postMessage(reply);

self.onmessage = ({ data: { sizing } }: MessageEvent<SizingRequest>) => {
  try {
    const bench = searchBench(sizing);
    const tell = (share: number) => {
      send({ kind: 'progress', share });
      return true;
    };
    const result = searchBuilds(sizing, tell, bench)!;
    const every = Math.max(1, Math.ceil(result.front.length / MOST_EXPLAINED));
    const front = result.front
      .filter((_, index) => index % every === 0)
      .map((build) => ({ build, explained: explainBuild(bench, build) }));
    const tempting = (Object.entries(result.tempting) as [Constraint, JudgedBuild][]).map(([constraint, build]) => ({
      constraint,
      build,
      explained: explainBuild(bench, build),
    }));
    send({ kind: 'found', found: { result, front, tempting } });
  } catch (error) {
    send({ kind: 'problem', detail: `The builds could not be searched: ${(error as Error).message}` });
  }
};
