import { asc, eq, sql } from 'drizzle-orm';
import { Problem } from '#core/1-ground/problem.ts';
import { projectSchema, type Project } from '#core/5-answers/sizing/project.ts';
import { projects } from '#server/store/schema.ts';
import { now, type Database } from '#server/store/database.ts';

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

/**
 * Keeps a project that a person changed, unless it became another one since they saw it.
 * @param document with the version that they saw; 0 for a new one
 * @returns the version that it has now
 * @throws Problem `changed-meanwhile`
 */
export async function changeProject(db: Database, document: Project): Promise<number> {
  const { id, version } = document;
  const next: Project = { ...document, example: false, version: version + 1 };
  const values = { example: false, document: next, changedAt: now() };
  const isSeen = sql`coalesce((${projects.document}->>'version')::int, 0) = ${version}`;
  const kept = await db
    .insert(projects)
    .values({ id, ...values })
    .onConflictDoUpdate({ target: projects.id, set: values, setWhere: isSeen })
    .returning({ id: projects.id });
  if (kept.length > 0) return next.version;
  throw new Problem(
    'changed-meanwhile',
    `“${document.plan.name}” was changed meanwhile, in another window or by somebody else. Nothing of yours was kept, and nothing of theirs was lost.`,
    { status: 409 },
  );
}

/** @throws Problem `not-found` */
export async function deleteProject(db: Database, id: string): Promise<void> {
  const gone = await db.delete(projects).where(eq(projects.id, id)).returning({ id: projects.id });
  if (gone.length === 0) throw new Problem('not-found', `There is no project “${id}”.`, { status: 404 });
}
