import type { Fault } from '#core/4-runs/stand-ins/faults.ts';
import type { VolumeEntry } from '#core/6-exchange/api/wire.ts';
import { note } from '#cli/output.ts';
import { call } from '#cli/through-server.ts';
import { ALL_WHOLE, requireUsedWhole, volumeForPath, type VolumesContext } from '#engine/volumes/registry.ts';
import type { Volume } from '#engine/volumes/volume.ts';
import { defaultDataFolder, findServer, journalFolderOf, type ServerNote } from '#server/serve.ts';

/** What a command is told of how to measure. */
export interface HowAsked {
  /** Simulated drives as fast as the processor allows. */
  fast?: boolean | undefined;
  /** Nothing else is kept on the drive: it may be filled to its end. */
  useAll?: boolean | undefined;
}

export interface AskedVolume {
  volume: Volume;
  context: VolumesContext;
  /** The server that runs on the data folder, which keeps the run then. */
  server: ServerNote | undefined;
  dataFolder: string;
}

/** The volume that a path on the command line means, and who measures on it. @throws Problem */
export async function askedVolume(
  path: string,
  { fast = false, useAll = false }: HowAsked,
  faults: VolumesContext['faults'] = new Map<string, readonly Fault[]>(),
): Promise<AskedVolume> {
  const dataFolder = defaultDataFolder();
  // Faults and simulated haste are this command's own; a server measures as its volumes are.
  const server = fast || faults.size > 0 ? undefined : await findServer(dataFolder);
  // What the workspace knows of drives counts here too.
  const knownWhole = async () =>
    server ? ((await call(server, 'GET', '/api/volumes')) as VolumeEntry[]).filter(({ usesAll }) => usesAll) : [];
  const context: VolumesContext = {
    journalFolder: journalFolderOf(dataFolder),
    pace: { speed: fast ? Infinity : 1, seed: 1 },
    faults,
    usedWhole: useAll ? ALL_WHOLE : async () => (await knownWhole()).map(({ identity }) => identity),
  };
  const volume = await volumeForPath(path, context);
  if (useAll) {
    requireUsedWhole(volume.info);
    if (server) {
      await call(server, 'PATCH', `/api/volumes/${volume.info.id}`, { usesAll: true });
      note(`It is kept with the drive that nothing else is on it: ${volume.info.label} may be filled to its end.`);
    }
  }
  return { volume, context, server, dataFolder };
}
