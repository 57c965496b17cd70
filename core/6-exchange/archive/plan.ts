import { ARCHIVE_KINDS, type ArchiveKind } from '#core/6-exchange/archive/archive-kinds.ts';

/** What taking a document in would do. */
export const ARRIVALS = ['new', 'same', 'newer', 'older', 'conflict'] as const;
export type Arrival = (typeof ARRIVALS)[number];

/** What is done where a document is there already, and is another. */
export const TAKES = ['newer', 'mine', 'theirs', 'both'] as const;
export type Take = (typeof TAKES)[number];

/** A document that has arrived, as far as it matters whether it is there. */
export interface Arrived {
  kind: ArchiveKind;
  id: string;
  name: string;
  /** A checksum of what it holds. */
  content: string;
  changedAt: string | null;
}

/** What is kept of a kind. */
export type KeptContents = Record<ArchiveKind, readonly Omit<Arrived, 'kind' | 'name'>[]>;

export interface Planned extends Arrived {
  arrival: Arrival;
  /** The id that it is kept under here; its own, unless the same is kept under another. */
  keptAs: string;
}

/** What arrives, held against what is kept: what is new, the same, newer, older, or another with no telling which is newer. */
export function plannedArrivals(arrived: readonly Arrived[], kept: KeptContents): Planned[] {
  const byId = index(kept, ({ id }) => id);
  const byContent = index(kept, ({ content }) => content);
  return arrived.map((one): Planned => {
    const same = byContent[one.kind].get(one.content);
    if (same) return { ...one, arrival: 'same', keptAs: same.id };
    const there = byId[one.kind].get(one.id);
    if (!there) return { ...one, arrival: 'new', keptAs: one.id };
    return { ...one, arrival: ageOf(one.changedAt, there.changedAt), keptAs: one.id };
  });
}

function ageOf(theirs: string | null, mine: string | null): Arrival {
  const [arrived, there] = [Date.parse(theirs ?? ''), Date.parse(mine ?? '')];
  if (Number.isNaN(arrived) || Number.isNaN(there) || arrived === there) return 'conflict';
  return arrived > there ? 'newer' : 'older';
}

const index = (kept: KeptContents, key: (one: Omit<Arrived, 'kind' | 'name'>) => string) =>
  Object.fromEntries(ARCHIVE_KINDS.map((kind) => [kind, new Map(kept[kind].map((one) => [key(one), one]))])) as Record<
    ArchiveKind,
    Map<string, Omit<Arrived, 'kind' | 'name'>>
  >;

/** What becomes of a document: it is kept, takes the place of the one there, is kept beside it, or is left. */
export type Doing = 'keep' | 'replace' | 'beside' | 'leave';

export function doingOf({ kind, arrival }: Pick<Planned, 'kind' | 'arrival'>, take: Take): Doing {
  if (arrival === 'new') return 'keep';
  if (arrival === 'same') return 'leave';
  switch (take) {
    case 'newer':
      return arrival === 'newer' ? 'replace' : 'leave';
    case 'mine':
      return 'leave';
    case 'theirs':
      return 'replace';
    case 'both':
      // A workspace has one document of settings.
      return kind === 'settings' ? 'leave' : 'beside';
  }
}

/** What importing did, or would do, counted. */
export interface ArrivalCounts {
  kept: number;
  replaced: number;
  beside: number;
  same: number;
  left: number;
}

export function countArrivals(planned: readonly Planned[], take: Take): ArrivalCounts {
  const counts: ArrivalCounts = { kept: 0, replaced: 0, beside: 0, same: 0, left: 0 };
  for (const one of planned) {
    if (one.arrival === 'same') counts.same += 1;
    else counts[COUNTED[doingOf(one, take)]] += 1;
  }
  return counts;
}

const COUNTED: Record<Doing, keyof ArrivalCounts> = {
  keep: 'kept',
  replace: 'replaced',
  beside: 'beside',
  leave: 'left',
};
