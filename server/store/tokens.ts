import { createHash, randomBytes, randomUUID } from 'node:crypto';
import { and, asc, eq, isNull } from 'drizzle-orm';
import type { TokenEntry, TokenScope } from '#core/6-exchange/api/wire.ts';
import { Problem } from '#core/1-ground/problem.ts';
import { now, type Database } from '#server/store/database.ts';
import { tokens } from '#server/store/schema.ts';

/** Tokens of people and machines elsewhere: named, with a scope, kept as hashes, and revoked by their names. */

const PREFIX = 'tvx_';
/** 256 random bits: nothing slower than a hash is needed to keep them. */
const newToken = (): string => PREFIX + randomBytes(32).toString('base64url');
const hashOf = (token: string): string => createHash('sha256').update(token).digest('hex');

const entryColumns = {
  id: tokens.id,
  name: tokens.name,
  scope: tokens.scope,
  madeAt: tokens.madeAt,
  usedAt: tokens.usedAt,
  revokedAt: tokens.revokedAt,
};

export const listTokens = (db: Database): Promise<TokenEntry[]> =>
  db.select(entryColumns).from(tokens).orderBy(asc(tokens.madeAt));

/** @returns the token, which is told this once. @throws Problem 409 where one of that name counts already */
export async function addToken(db: Database, name: string, scope: TokenScope): Promise<{ id: string; token: string }> {
  const known = await db
    .select({ id: tokens.id })
    .from(tokens)
    .where(and(eq(tokens.name, name), isNull(tokens.revokedAt)));
  if (known.length > 0) {
    throw new Problem(
      'token-there',
      `There is a token called “${name}” already. Revoke it first, or choose another name.`,
      {
        status: 409,
      },
    );
  }
  const token = newToken();
  const id = `t-${randomUUID().slice(0, 8)}`;
  await db.insert(tokens).values({ id, name, scope, hash: hashOf(token), madeAt: now() });
  return { id, token };
}

/** @throws Problem 404 */
export async function revokeToken(db: Database, id: string): Promise<void> {
  const revoked = await db
    .update(tokens)
    .set({ revokedAt: now() })
    .where(and(eq(tokens.id, id), isNull(tokens.revokedAt)))
    .returning({ id: tokens.id });
  if (revoked.length === 0)
    throw new Problem('unknown-token', `There is no token “${id}” that counts.`, { status: 404 });
}

/** A use within this time of the last one is not written down. */
const USED_MILLISECONDS = 60_000;

/** Whose token it is and what it allows; null for one that does not count. Its hash is looked for: time tells nothing. */
export async function findToken(db: Database, token: string): Promise<{ id: string; scope: TokenScope } | null> {
  if (!token.startsWith(PREFIX)) return null;
  const [found] = await db
    .select({ id: tokens.id, scope: tokens.scope, usedAt: tokens.usedAt })
    .from(tokens)
    .where(and(eq(tokens.hash, hashOf(token)), isNull(tokens.revokedAt)));
  if (!found) return null;
  if (found.usedAt === null || Date.now() - Date.parse(found.usedAt) > USED_MILLISECONDS)
    await db.update(tokens).set({ usedAt: now() }).where(eq(tokens.id, found.id));
  return found;
}
