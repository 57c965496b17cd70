import { savedByShared, sharedParts } from '#core/5-answers/sizing/parts.ts';
import { type JudgedBuild } from '#core/5-answers/sizing/judge-build.ts';
import { efficientFront, searchBuilds, type SharedFront, type SizingResult } from '#core/5-answers/sizing/search.ts';
import { searchBasis, type SearchBasis } from '#core/5-answers/sizing/search-basis.ts';
import { materialsOn } from '#core/5-answers/sizing/material.ts';
import type { Sizing } from '#core/5-answers/sizing/project.ts';
import { STORES, type StoreId } from '#core/5-answers/sizing/stores.ts';

/** One build for each store that a project keeps material on. */
export interface BuildSet {
  builds: JudgedBuild[];
  cost: number;
  /** Least of what its builds have to spare. */
  margin: number;
}

export interface StoreResult {
  store: StoreId;
  basis: SearchBasis;
  result: SizingResult;
}

export interface ProjectResult {
  stores: StoreResult[];
  /** Sets of builds that no other set beats; cheapest first. Of a project with one store its builds alone. */
  front: BuildSet[];
}

/** Stores on which a project keeps material. */
export const storesOf = ({ materials }: Pick<Sizing, 'materials'>): StoreId[] =>
  STORES.filter((store) => store === 'working' || materialsOn(store, materials).length > 0);

/**
 * Sets that no other beats, exactly: a set has as much to spare as the least of its builds, so for each margin that
 * occurs the cheapest build of every store with as much is taken.
 */
export function efficientSets(fronts: readonly (readonly JudgedBuild[])[], budget: number | null): BuildSet[] {
  const margins = new Set(fronts.flatMap((front) => front.map(({ margin }) => margin)));
  const sets = [...margins].flatMap((least): BuildSet[] => {
    const builds = fronts.map((front) => front.find(({ margin }) => margin >= least));
    if (!builds.every((one) => one !== undefined)) return [];
    const cost = builds.reduce((sum, one) => sum + one.cost, 0);
    if (budget !== null && cost > budget) return [];
    return [{ builds, cost, margin: Math.min(...builds.map(({ margin }) => margin)) }];
  });
  return efficientFront(sets);
}

/**
 * The same where stores share parts: of builds that share alike the saving is the same, so each choice of what is shared
 * has sets of its own, and the best of all of them count.
 */
export function efficientSharedSets(stores: readonly (readonly SharedFront[])[], budget: number | null): BuildSet[] {
  const choices = stores.reduce<SharedFront[][]>(
    (all, fronts) => all.flatMap((chosen) => fronts.map((one) => [...chosen, one])),
    [[]],
  );
  return efficientFront(
    choices.flatMap((chosen) => {
      const saved = savedByShared(chosen.map(({ shared }) => shared));
      const sets = efficientSets(
        chosen.map(({ front }) => front),
        budget === null ? null : budget + saved,
      );
      return sets.map((set) => ({ ...set, cost: set.cost - saved }));
    }),
  );
}

/** Told with the share done of all stores, and with what is known of each so far; false ends the search. */
export type OnProjectProgress = (share: number, soFar: () => ProjectResult) => boolean;

/**
 * The storage of a whole project: each store's builds, and what goes together within the budget. What a store may cost
 * is the budget less what the others cost at least and less what could be shared, so that no build is ruled out by it that
 * a set could hold.
 */
export function searchProject(project: Sizing, onProgress: OnProjectProgress = () => true): ProjectResult | null {
  const { budget } = project.policy;
  const bases = storesOf(project).map((store) => searchBasis(project, store));
  if (budget === null || bases.length === 1) return searchStores(bases, budget, onProgress);
  const unbound = bases.map((basis): SearchBasis => ({ ...basis, budget: null }));
  const first = searchStores(unbound, null, (share, soFar) => onProgress(share / 2, soFar));
  if (first === null) return null;
  const cheapest = first.stores.map(({ result }) => result.cheapest?.cost ?? 0);
  const all = cheapest.reduce((sum, cost) => sum + cost, 0);
  // What is shared is counted in every store that could buy it: so much less a set may cost.
  const every = sharedParts(...project.enclosures, ...project.connections);
  const mostSaved = savedByShared(bases.map(() => every));
  const bound = bases.map((basis, store): SearchBasis => {
    const left = budget + mostSaved - (all - cheapest[store]!);
    return { ...basis, budget: Math.max(0, left) };
  });
  return searchStores(bound, budget, (share, soFar) => onProgress((1 + share) / 2, soFar));
}

function searchStores(
  bases: readonly SearchBasis[],
  budget: number | null,
  onProgress: OnProjectProgress,
): ProjectResult | null {
  const done: StoreResult[] = [];
  const together = (stores: StoreResult[]): ProjectResult => {
    const fronts = bases.map(({ store }) => stores.find((one) => one.store === store)?.result.fronts ?? []);
    return { stores, front: efficientSharedSets(fronts, budget) };
  };
  for (const [index, basis] of bases.entries()) {
    const found = (result: SizingResult): StoreResult => ({ store: basis.store, basis, result });
    const result = searchBuilds(basis, (share, soFar) =>
      onProgress((index + share) / bases.length, () => together([...done, found(soFar())])),
    );
    if (result === null) return null;
    done.push(found(result));
  }
  return together(done);
}
