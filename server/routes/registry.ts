import { accessRoutes } from '#server/routes/access.ts';
import { agentRoutes } from '#server/routes/agents.ts';
import { archiveRoutes } from '#server/routes/archive.ts';
import { backupRoutes } from '#server/routes/backups.ts';
import { driveRoutes } from '#server/routes/drives.ts';
import type { RouteContext } from '#server/routes/context.ts';
import type { RouteGroup } from '#server/routes/describe.ts';
import { exampleRoutes } from '#server/routes/examples.ts';
import { keptRoutes } from '#server/routes/kept.ts';
import { describedBy, openApiDocument, type RoutesOf } from '#server/routes/open-api.ts';
import { projectRoutes } from '#server/routes/projects.ts';
import { recordingRoutes } from '#server/routes/recordings.ts';
import { reportRoutes } from '#server/routes/reports.ts';
import { runRoutes } from '#server/routes/runs.ts';
import { settingsRoutes } from '#server/routes/settings.ts';
import { sessionRoutes } from '#server/routes/sessions.ts';
import { standInRoutes } from '#server/routes/stand-ins.ts';
import { tokenRoutes } from '#server/routes/tokens.ts';
import { volumeRoutes } from '#server/routes/volumes.ts';
import { workloadRoutes } from '#server/routes/workloads.ts';

/** Every group of routes; a new one is a file and a line here. */
const ROUTE_GROUPS: readonly RouteGroup[] = [
  volumeRoutes,
  standInRoutes,
  keptRoutes,
  runRoutes,
  driveRoutes,
  workloadRoutes,
  projectRoutes,
  reportRoutes,
  settingsRoutes,
  exampleRoutes,
  recordingRoutes,
  accessRoutes,
  sessionRoutes,
  tokenRoutes,
  agentRoutes,
  archiveRoutes,
  backupRoutes,
];

/** The table of all routes, of which the description of the API is made too. */
export function allRoutes(context: RouteContext): RoutesOf[] {
  const groups: RoutesOf[] = ROUTE_GROUPS.map(({ routes, ...group }) => ({ ...group, routes: routes(context) }));
  groups.push(describedBy(() => openApiDocument(groups)));
  return groups;
}
