import { copiedDay, type CopyTime } from '#core/5-answers/sizing/copy-time.ts';
import type { SizingPolicy } from '#core/5-answers/sizing/project.ts';
import type { DayToCopy } from '#core/5-answers/sizing/search-basis.ts';
import { STORE_WORDS, type StoreId } from '#core/5-answers/sizing/stores.ts';
import { formatDuration } from '#core/1-ground/units/format.ts';

/** What is said of copying a day from one store to another. */

/** A day that is read for copies; seconds null where nobody knows how long that takes. */
export type ReadForCopies = DayToCopy & { seconds: number | null };

export const copiedWords = ({ copyVerified }: Pick<SizingPolicy, 'copyVerified'>): string =>
  copyVerified ? 'copied and read back' : 'copied';

/** Stores for which as much is read are reported in one. */
export function readsTogether(reads: readonly ReadForCopies[]): { stores: string; bytes: number; seconds: number }[] {
  return [...new Set(reads.map(({ bytes }) => bytes))].flatMap((bytes) => {
    const alike = reads.filter((one) => one.bytes === bytes);
    const [{ seconds }] = alike as [ReadForCopies];
    const stores = alike.map(({ store }) => STORE_WORDS[store].toLowerCase()).join(' and ');
    return seconds === null ? [] : [{ stores, bytes, seconds }];
  });
}

/** What is chosen for a store; undefined while it is not known. */
export interface ChosenForStore {
  store: StoreId;
  build: { copies: CopyTime | null; readsForCopies: readonly ReadForCopies[] } | undefined;
}

/**
 * “Second copy: a day is copied and read back in 4 h 15 min.”, for each store of copies: from the working storage that is
 * chosen with it, which a store by itself does not know. Where one of them does not tell how quick it is nothing is said.
 */
export function copiedDays(
  chosen: readonly ChosenForStore[],
  policy: Pick<SizingPolicy, 'copyVerified' | 'copySeconds'>,
): { sentence: string; isInTime: boolean }[] {
  const reads = chosen.find(({ store }) => store === 'working')?.build?.readsForCopies ?? [];
  return chosen.flatMap(({ store, build }) => {
    const source = reads.find((one) => one.store === store)?.seconds ?? null;
    if (!build?.copies || source === null) return [];
    const { seconds, isHeldBackBySource } = copiedDay(build.copies, source);
    const isInTime = seconds <= policy.copySeconds;
    const parts = [
      `${STORE_WORDS[store]}: a day is ${copiedWords(policy)} in ${formatDuration(seconds)}`,
      ...(isHeldBackBySource ? ['held back by reading the working storage'] : []),
      ...(isInTime ? [] : [`longer than the ${formatDuration(policy.copySeconds)} allowed`]),
    ];
    return [{ sentence: `${parts.join(', ')}.`, isInTime }];
  });
}
