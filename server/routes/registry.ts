import { backupRoutes } from '#server/routes/backups.ts';
import { driveRoutes } from '#server/routes/drives.ts';
import type { RouteGroup } from '#server/routes/describe.ts';
import { exampleRoutes } from '#server/routes/examples.ts';
import { keptRoutes } from '#server/routes/kept.ts';
import { projectRoutes } from '#server/routes/projects.ts';
import { recordingRoutes } from '#server/routes/recordings.ts';
import { runRoutes } from '#server/routes/runs.ts';
import { sessionRoutes } from '#server/routes/sessions.ts';
import { standInRoutes } from '#server/routes/stand-ins.ts';
import { volumeRoutes } from '#server/routes/volumes.ts';
import { workloadRoutes } from '#server/routes/workloads.ts';

/** Every group of routes; a new one is a file and a line here. */
export const ROUTE_GROUPS: readonly RouteGroup[] = [
  volumeRoutes,
  standInRoutes,
  keptRoutes,
  runRoutes,
  driveRoutes,
  workloadRoutes,
  projectRoutes,
  exampleRoutes,
  recordingRoutes,
  sessionRoutes,
  backupRoutes,
];
