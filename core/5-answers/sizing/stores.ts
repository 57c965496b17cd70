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

/** The store of copies that a person names; null where there is none such. */
export const copyStoreNamed = (name: string): CopyStoreId | null =>
  COPY_STORES.find((store) => STORE_WORDS[store].toLowerCase() === name.trim().toLowerCase()) ?? null;

export const copyStoreSchema = () => string().oneOf(COPY_STORES).required();
