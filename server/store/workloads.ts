import { asc } from 'drizzle-orm';
import type { Workload } from '#core/demand/workload.ts';
import { workloads } from '#server/store/schema.ts';
import type { Database } from '#server/store/store.ts';

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
