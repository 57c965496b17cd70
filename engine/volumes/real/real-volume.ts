import { makeScratch } from '#engine/scratch/scratch.ts';
import type { RealVolumeInfo } from '#engine/volumes/real/real-volume-info.ts';
import { fileSizesIn } from '#engine/volumes/real/existing.ts';
import { checkReadable, checkWritable, resolveFolder } from '#engine/volumes/real/folder.ts';
import { openRealSession } from '#engine/volumes/real/session.ts';
import type { SessionRequest, Volume } from '#engine/volumes/volume.ts';

export interface RealVolumeContext {
  /** All real volumes, to tell on which one a folder lies. */
  all: readonly RealVolumeInfo[];
  /** Where scratch folders are noted until they are gone. */
  journalFolder: string;
}

/** A mounted place of this machine. */
export function realVolume(info: RealVolumeInfo, context: RealVolumeContext): Volume {
  const checked = ({ folder, readOnly }: SessionRequest): string => {
    const real = resolveFolder(folder, info, context.all);
    if (readOnly) checkReadable(real);
    else checkWritable(real, info);
    return real;
  };
  return {
    info,
    check(request) {
      checked(request);
      return Promise.resolve();
    },
    fileSizes: ({ folder }) => fileSizesIn(resolveFolder(folder, info, context.all)),
    async openSession(request) {
      const folder = checked(request);
      if (request.readOnly) return openRealSession(info, folder, null, request.runId);
      const scratch = await makeScratch(folder, request.runId, context.journalFolder);
      try {
        return openRealSession(info, folder, scratch, request.runId);
      } catch (error) {
        await scratch.remove();
        throw error;
      }
    },
  };
}
