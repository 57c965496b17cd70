import { asc, eq } from 'drizzle-orm';
import { Problem } from '#core/1-ground/problem.ts';
import { projectSchema, type Project } from '#core/5-answers/sizing/project.ts';
import { projects } from '#server/store/schema.ts';
import { now, type Database } from '#server/store/store.ts';

export async function listProjects(db: Database): Promise<Project[]> {
  const rows = await db.select().from(projects).orderBy(asc(projects.id));
  // What earlier versions kept lacks what was added since.
  return rows.map(({ document }) => projectSchema.cast(document));
}

/** Keeps a project whole. @param changedAt when a person changed it */
export async function saveProject(db: Database, document: Project, changedAt: string | null = now()): Promise<void> {
  const { id, example } = document;
  await db
    .insert(projects)
    .values({ id, example, document, changedAt })
    .onConflictDoUpdate({ target: projects.id, set: { example, document, changedAt } });
}

/** @throws Problem `not-found` */
export async function deleteProject(db: Database, id: string): Promise<void> {
  const gone = await db.delete(projects).where(eq(projects.id, id)).returning({ id: projects.id });
  if (gone.length === 0) throw new Problem('not-found', `There is no project “${id}”.`, { status: 404 });
}
