import { expose } from 'comlink';
import { buildCode, parseBuildCode, type Build } from '#core/5-answers/sizing/builds.ts';
import { efficientBuildsCsv } from '#core/5-answers/sizing/builds-csv.ts';
import { explainBuild, type ExplainedBuild } from '#core/5-answers/sizing/explain.ts';
import { nearestText, whereNothingFits } from '#core/5-answers/sizing/fitting.ts';
import { moveAnswers, type MoveAnswer } from '#core/5-answers/sizing/moves.ts';
import type { Sizing } from '#core/5-answers/sizing/project.ts';
import {
  searchProject,
  type BuildSet,
  type ProjectResult,
  type StoreResult,
} from '#core/5-answers/sizing/project-search.ts';
import { CONSTRAINTS, type Constraint } from '#core/5-answers/sizing/judge-build.ts';
import { type SizingResult } from '#core/5-answers/sizing/search.ts';
import { shoppingList, type ShoppingLine } from '#core/5-answers/sizing/shopping.ts';
import { stagedAnswer, stagedCsv, type StagedText } from '#core/5-answers/sizing/staged-buying.ts';
import type { StoreId } from '#core/5-answers/sizing/stores.ts';
import { inWords } from '../kit/remote.ts';

/** A build with all that is said of it, and its code for addresses. */
export interface ShownBuild {
  code: string;
  build: Build;
  explained: ExplainedBuild;
  shopping: ShoppingLine[];
}

export interface StoreFound {
  store: StoreId;
  /** Counts and the sample; builds are in the lists beside. */
  result: Pick<SizingResult, 'builds' | 'feasible' | 'ruledOut'>;
  sample: { code: string; cost: number; margin: number }[];
  /** Cheapest first; of a long front a spread of it. */
  front: ShownBuild[];
  /** In the order in which the constraints are asked: the last came furthest. */
  tempting: (ShownBuild & { constraint: Constraint })[];
}

export interface SetFound {
  cost: number;
  margin: number;
  /** Code of the build in each store, in the order of the stores. */
  codes: string[];
}

export interface SizingFound {
  stores: StoreFound[];
  sets: SetFound[];
  /** Share of the search that is done. */
  share: number;
}

/** What follows from a search: asked for after it, since it searches again for each of its answers. */
export interface Outlook {
  /** Of each store that nothing can be built for what came nearest, as a sentence. */
  nearest: string[];
  /** What by itself would make it fit; empty where something can be built. */
  ways: string[];
  moves: MoveAnswer[];
  /** What is bought by which day; null where all is bought at the beginning, `none` where nothing can be so. */
  staged: { lines: StagedText[]; summary: string; csv: string } | 'none' | null;
}

/** Explaining judges a build anew: of a long front a spread of it. */
const MOST_EXPLAINED = 40;
/** While the search goes on, what there is so far is sent this often, and less of it. */
const SEND_MS = 200;
const EXPLAINED_ON_THE_WAY = 6;

let drives: Sizing['drives'] = [];
let project: Sizing | null = null;
let found: ProjectResult | null = null;

const shown = ({ basis }: StoreResult, build: Build): ShownBuild => ({
  code: buildCode(build),
  build,
  explained: explainBuild(basis, build),
  shopping: shoppingList(basis.sizing, build),
});

/** A spread over a list, its ends with it. */
function spread<One>(list: readonly One[], most: number): One[] {
  if (list.length <= most) return [...list];
  return Array.from({ length: most }, (_, index) => list[Math.round((index * (list.length - 1)) / (most - 1))]!);
}

function storeFound(store: StoreResult, most: number): StoreFound {
  const { builds, feasible, ruledOut, sample, front, tempting } = store.result;
  return {
    store: store.store,
    result: { builds, feasible, ruledOut },
    sample: sample.map((build) => ({ code: buildCode(build), cost: build.cost, margin: build.margin })),
    front: spread(front, most).map((build) => shown(store, build)),
    tempting: CONSTRAINTS.flatMap((constraint) => {
      const build = tempting[constraint];
      return build ? [{ constraint, ...shown(store, build) }] : [];
    }),
  };
}

const setFound = ({ cost, margin, builds }: BuildSet): SetFound => ({ cost, margin, codes: builds.map(buildCode) });

const sizingFound = ({ stores, front }: ProjectResult, share: number, most = MOST_EXPLAINED): SizingFound => ({
  stores: stores.map((store) => storeFound(store, most)),
  sets: spread(front, most).map(setFound),
  share,
});

/** The functions of this worker; what they throw is a sentence. */
const functions = {
  /** Drives come with the first search, and again when they changed: what was worked out for them serves the next. */
  search: inWords(
    'The builds could not be searched',
    (sizing: Omit<Sizing, 'drives'>, newDrives: Sizing['drives'] | null, onFound: (found: SizingFound) => unknown) => {
      drives = newDrives ?? drives;
      let last = performance.now();
      project = { ...sizing, drives };
      found = searchProject(project, (share, soFar) => {
        if (share < 1 && performance.now() - last > SEND_MS) {
          onFound(sizingFound(soFar(), share, EXPLAINED_ON_THE_WAY));
          last = performance.now();
        }
        return true;
      })!;
      // By the same way as those before it, so that it is the last to arrive.
      onFound(sizingFound(found, 1));
    },
  ),

  outlook: inWords('What would change it could not be searched', (): Outlook => {
    if (project === null || found === null) return { nearest: [], ways: [], moves: [], staged: null };
    const { currency } = project;
    const isOnly = found.stores.length === 1;
    const staged = stagedAnswer(project, found);
    const { nearest, ways } = whereNothingFits(project, found, staged);
    return {
      nearest: nearest.map((one) => nearestText(one, currency, isOnly)),
      ways: ways.map(({ text }) => text),
      moves: moveAnswers(project, found),
      staged: staged
        ? { ...staged, csv: stagedCsv(staged.buying, project) }
        : project.stages.length > 0
          ? 'none'
          : null,
    };
  }),

  explain: inWords('The builds could not be explained', (id: StoreId, codes: readonly string[]): ShownBuild[] => {
    const store = found?.stores.find((one) => one.store === id);
    return store ? codes.map((code) => shown(store, parseBuildCode(code, store.basis.sizing))) : [];
  }),

  csv: inWords('The table could not be made', (): string => (found ? efficientBuildsCsv(found.stores) : '')),
};
export type SizingWorker = typeof functions;

expose(functions);
