import type { Recordings } from '#engine/processes/recordings.ts';
import type { VolumesContext } from '#engine/volumes/registry.ts';
import type { RunManager } from '#server/runs/run-manager.ts';
import type { Gate } from '#server/http/security.ts';
import type { Database, Store } from '#server/store/store.ts';

/** What the routes work with. */
export interface RouteContext {
  db: Database;
  store: Pick<Store, 'backUp'>;
  dataFolder: string;
  volumes: VolumesContext;
  runs: RunManager;
  recordings: Recordings;
  gate: Gate;
  /** Where a browser is let in with a code. */
  address: (code: string) => string;
}
