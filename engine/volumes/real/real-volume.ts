import { dirname } from 'node:path';
import { healthForRun } from '#engine/system/health.ts';
import { isIn } from '#engine/system/filesystems.ts';
import { Problem } from '#core/1-ground/problem.ts';
import { notedFolders } from '#engine/scratch/journal.ts';
import { makeScratch } from '#engine/scratch/scratch.ts';
import type { RealVolumeInfo } from '#engine/volumes/real/real-volume-info.ts';
import { fileSizesIn } from '#engine/volumes/real/existing.ts';
import { checkReadable, checkWritable, mayWrite, resolveFolder } from '#engine/volumes/real/folder.ts';
import { openRealSession } from '#engine/volumes/real/session.ts';
import type { RealCopyEnd } from '#engine/volumes/real/copy/copy-ends.ts';
import { openRealCopy } from '#engine/volumes/real/copy/copy-session.ts';
import type { RunTarget, SessionRequest, Volume } from '#engine/volumes/volume.ts';

export interface RealVolumeContext {
  /** All real volumes, to tell on which one a folder lies. */
  all: readonly RealVolumeInfo[];
  /** Where scratch folders are noted until they are gone. */
  journalFolder: string;
}

/** A target of a copy, checked. @throws Problem when it is simulated, not writable, or lies in the source */
function copyTarget({ volume, folder }: RunTarget, source: string, { all }: RealVolumeContext): RealCopyEnd {
  const info = all.find(({ id }) => id === volume.info.id);
  if (!info) {
    throw new Problem(
      'unlike-volumes',
      `${volume.info.label} is simulated: real files cannot be copied to it. Choose volumes that are all real or all simulated.`,
      { where: 'targets' },
    );
  }
  const real = resolveFolder(folder, info, all);
  if (isIn(real, source)) {
    throw new Problem(
      'target-in-source',
      `${real} lies in the folder that is copied. Choose a target outside ${source}.`,
      { where: 'targets' },
    );
  }
  checkWritable(real, info);
  return { info, folder: real };
}

/** Where made files and copies back lie: beside a folder that is copied, so that this stays as it is. */
function scratchPlace(
  folder: string,
  { readsFolder }: SessionRequest,
  info: RealVolumeInfo,
  { all }: RealVolumeContext,
): string {
  const isWithin = !readsFolder || folder === info.mountPoint;
  const place = isWithin ? folder : resolveFolder(dirname(folder), info, all);
  checkWritable(place, info);
  return place;
}

/** A mounted place of this machine. */
export function realVolume(info: RealVolumeInfo, context: RealVolumeContext): Volume {
  /** The folder, and whether anything is made in it. */
  const checked = ({ folder, readOnly, mayOnlyRead }: SessionRequest): { real: string; writes: boolean } => {
    const real = resolveFolder(folder, info, context.all);
    const writes = !readOnly && !(mayOnlyRead && !mayWrite(real, info));
    if (writes) checkWritable(real, info);
    else checkReadable(real);
    return { real, writes };
  };
  return {
    info,
    check(request) {
      checked(request);
      return Promise.resolve();
    },
    checkTargets(request, targets) {
      const { real: source } = checked(request);
      for (const target of targets) copyTarget(target, source, context);
      return Promise.resolve();
    },
    async fileSizes({ folder }, signal) {
      const own = await notedFolders(context.journalFolder);
      return fileSizesIn(resolveFolder(folder, info, context.all), { signal, own });
    },
    health: () => healthForRun(info.device),
    async openCopy(request, targets) {
      const folder = resolveFolder(request.folder, info, context.all);
      checkReadable(folder);
      return openRealCopy({
        runId: request.runId,
        journalFolder: context.journalFolder,
        source: { info, folder },
        targets: targets.map((target) => copyTarget(target, folder, context)),
        sourceScratchFolder: request.readOnly ? null : scratchPlace(folder, request, info, context),
      });
    },
    async openSession(request) {
      const { real: folder, writes } = checked(request);
      if (!writes) return openRealSession(info, folder, null, request.runId);
      const { journalFolder } = context;
      const scratch = await makeScratch(folder, { runId: request.runId, journalFolder, volume: info });
      try {
        return openRealSession(info, folder, scratch, request.runId);
      } catch (error) {
        await scratch.remove();
        throw error;
      }
    },
  };
}
