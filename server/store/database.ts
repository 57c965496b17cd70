import { entityKind } from 'drizzle-orm';
import type { PgDatabase, PgQueryResultHKT } from 'drizzle-orm/pg-core';
import type * as schema from '#server/store/schema.ts';

/** The store’s database, whether it is the embedded one or a PostgreSQL server. */
export type Database = PgDatabase<PgQueryResultHKT, typeof schema>;

/** This moment, as it is kept. */
export const now = (): string => new Date().toISOString();

/** What the database itself said, behind what the layers above it wrap around. */
function innermost(error: unknown): { message: string; code?: string } {
  const { message, code, cause } = error as { message?: string; code?: string; cause?: unknown };
  if (cause !== undefined && cause !== null) return innermost(cause);
  return { message: message ?? String(error), ...(code === undefined ? {} : { code }) };
}

const saidBy = (error: unknown): string => innermost(error).message;

/** Codes of the system, and of a database that ends, starts or breaks down. */
const OUT_OF_REACH = /^(?:ECONN\w+|ENOTFOUND|EHOSTUNREACH|ENETUNREACH|ETIMEDOUT|EPIPE|EAI_AGAIN|57P0[123]|08\w{3})$/;

/** Whether a database could not be asked at all, so that the same can be tried again later. */
export function isOutOfReach(error: unknown): boolean {
  const { message, code = '' } = innermost(error);
  return (
    OUT_OF_REACH.test(code) ||
    /Connection terminated|connect(?:ion)? timeout|timeout exceeded|Query read timeout/i.test(message)
  );
}

/** Whose disk a store is on, in a sentence. */
const placeOf = (db: Database): string =>
  (db.constructor as { [entityKind]?: string })[entityKind] === 'NodePgDatabase'
    ? 'the database server'
    : 'the data folder';

/** What keeps the disk of the store from taking more, and what to do; null where it is something else. */
export function diskRefusal(error: unknown, db: Database): string | null {
  const said = saidBy(error);
  if (/no space left|disk quota|ENOSPC|EDQUOT/i.test(said))
    return `The disk of ${placeOf(db)} is full. Free some space on it.`;
  if (/read-only file system|EROFS/i.test(said))
    return `The disk of ${placeOf(db)} became read-only. Make it writable again.`;
  return null;
}

/** Why the store refused something, and what to do, for people. */
export const refusalText = (error: unknown, db: Database): string =>
  diskRefusal(error, db) ??
  (isOutOfReach(error)
    ? 'The database does not answer. Check that it runs and can be reached from here.'
    : `The store said “${saidBy(error)}”. If that stays, end Tavrox and start it again.`);
