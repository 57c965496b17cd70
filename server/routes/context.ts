import type { Recordings } from '#engine/processes/recordings.ts';
import type { VolumesContext } from '#engine/volumes/registry.ts';
import type { Agents } from '#server/runs/agents.ts';
import type { RunManager } from '#server/runs/run-manager.ts';
import type { ArchiveReader } from '#server/archive/archive-reader.ts';
import type { Composer } from '#server/reports/composer.ts';
import type { Profiles } from '#server/store/profiles.ts';
import type { Gate } from '#server/http/security.ts';
import type { Database } from '#server/store/database.ts';
import type { Store } from '#server/store/store.ts';

/** What the routes work with. */
export interface RouteContext {
  db: Database;
  profiles: Profiles;
  composer: Composer;
  archives: ArchiveReader;
  store: Pick<Store, 'backUp' | 'postgres'>;
  dataFolder: string;
  volumes: VolumesContext;
  runs: RunManager;
  agents: Agents;
  recordings: Recordings;
  gate: Gate;
  /** Where a browser is let in with a code. */
  address: (code: string) => string;
}
