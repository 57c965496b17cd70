import type { Fault } from '#core/4-runs/stand-ins/faults.ts';
import type { VolumeEntry } from '#core/6-exchange/api/wire.ts';
import { note } from '#cli/output.ts';
import { call } from '#cli/through-server.ts';
import {
  ALL_WHOLE,
  NONE_WHOLE,
  requireUsedWhole,
  volumeForPath,
  type VolumesContext,
} from '#engine/volumes/registry.ts';
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
  const context: VolumesContext = {
    journalFolder: journalFolderOf(dataFolder),
    pace: { speed: fast ? Infinity : 1, seed: 1 },
    faults,
    usedWhole: useAll ? ALL_WHOLE : NONE_WHOLE,
  };
  const volume = await volumeForPath(path, context);
  if (useAll) requireUsedWhole(volume.info);
  // Faults and simulated haste are this command's own; a server measures as its volumes are.
  const server = fast || faults.size > 0 ? undefined : await findServer(dataFolder);
  if (!server || volume.info.kind !== 'real') return { volume, context, server, dataFolder };
  if (useAll) {
    await call(server, 'PATCH', `/api/volumes/${volume.info.id}`, { usesAll: true });
    note(`It is kept with the drive that nothing else is on it: ${volume.info.label} may be filled to its end.`);
    return { volume, context, server, dataFolder };
  }
  // What the workspace knows of the drive counts here too.
  const listed = (await call(server, 'GET', '/api/volumes')) as VolumeEntry[];
  if (!listed.some(({ id, usesAll }) => id === volume.info.id && usesAll))
    return { volume, context, server, dataFolder };
  const whole = { ...context, usedWhole: ALL_WHOLE };
  return { volume: await volumeForPath(path, whole), context: whole, server, dataFolder };
}
