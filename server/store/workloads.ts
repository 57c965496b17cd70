import { asc, eq, max } from 'drizzle-orm';
import type { Workload } from '#core/3-jobs/demand/workload.ts';
import { Problem } from '#core/1-ground/problem.ts';
import { workloads } from '#server/store/schema.ts';
import { now, type Database } from '#server/store/database.ts';

export async function listWorkloads(db: Database): Promise<Workload[]> {
  const rows = await db.select().from(workloads).orderBy(asc(workloads.position));
  return rows.map((row) => row.document);
}

export async function insertWorkload(db: Database, document: Workload, position: number): Promise<void> {
  await db
    .insert(workloads)
    .values({ id: document.id, position, example: document.example, document })
    .onConflictDoNothing();
}

/** Keeps a workload whole: in its place when it is known, else at the end. @param changedAt when a person changed it */
export async function saveWorkload(db: Database, document: Workload, changedAt: string | null = now()): Promise<void> {
  const { id, example } = document;
  await db.transaction(async (tx) => {
    const [last] = await tx.select({ position: max(workloads.position) }).from(workloads);
    await tx
      .insert(workloads)
      .values({ id, position: (last?.position ?? -1) + 1, example, document, changedAt })
      .onConflictDoUpdate({ target: workloads.id, set: { example, document, changedAt } });
  });
}

/** @throws Problem `not-found` */
export async function deleteWorkload(db: Database, id: string): Promise<void> {
  const gone = await db.delete(workloads).where(eq(workloads.id, id)).returning({ id: workloads.id });
  if (gone.length === 0) throw new Problem('not-found', `There is no workload “${id}”.`, { status: 404 });
}

/** Puts the named ones first, in that order; the others keep theirs behind them. */
export async function orderWorkloads(db: Database, ids: readonly string[]): Promise<void> {
  await db.transaction(async (tx) => {
    const rows = await tx.select({ id: workloads.id }).from(workloads).orderBy(asc(workloads.position));
    const known = new Set(rows.map((row) => row.id));
    const named = [...new Set(ids)].filter((id) => known.has(id));
    const all = [...named, ...rows.map((row) => row.id).filter((id) => !named.includes(id))];
    for (const [position, id] of all.entries())
      await tx.update(workloads).set({ position }).where(eq(workloads.id, id));
  });
}
