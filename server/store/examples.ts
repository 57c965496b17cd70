import { and, eq, notExists } from 'drizzle-orm';
import { drives, projects, reports, runs, workloads } from '#server/store/schema.ts';
import type { Database } from '#server/store/database.ts';

/**
 * Removes everything marked as an example, in one step. Own runs on a stand-in stay, and so does
 * the card they belong to.
 */
export async function removeExamples(db: Database): Promise<void> {
  await db.transaction(async (tx) => {
    await tx.delete(runs).where(eq(runs.example, true));
    await tx.delete(workloads).where(eq(workloads.example, true));
    await tx.delete(projects).where(eq(projects.example, true));
    await tx.delete(reports).where(eq(reports.example, true));
    const unused = notExists(tx.select({ id: runs.id }).from(runs).where(eq(runs.driveId, drives.id)));
    await tx.delete(drives).where(and(eq(drives.example, true), unused));
    await tx.update(drives).set({ example: false }).where(eq(drives.example, true));
  });
}

export async function hasExamples(db: Database): Promise<boolean> {
  const run = await db.select({ id: runs.id }).from(runs).where(eq(runs.example, true)).limit(1);
  const workload = await db.select({ id: workloads.id }).from(workloads).where(eq(workloads.example, true)).limit(1);
  return run.length + workload.length > 0;
}
