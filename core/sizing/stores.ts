import { string } from 'yup';

/** Where the copies of a project's material live. Each has storage of its own. */
export const STORES = ['working', 'second', 'away'] as const;
export type StoreId = (typeof STORES)[number];
/** Stores that material is copied to. */
export const COPY_STORES = ['second', 'away'] as const;
export type CopyStoreId = (typeof COPY_STORES)[number];

export const STORE_WORDS: Record<StoreId, string> = {
  working: 'Working',
  second: 'Second copy',
  away: 'Away',
};

export const copyStoreSchema = () => string().oneOf(COPY_STORES).required();
