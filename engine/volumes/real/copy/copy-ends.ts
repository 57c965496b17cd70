import { chmod, symlink } from 'node:fs/promises';
import { join } from 'node:path';
import type { CopyNote } from '#core/4-runs/run/copy-record.ts';
import type { Emit, RunEvent } from '#core/4-runs/run/run-events.ts';
import type { CopyTree, Scratch } from '#engine/scratch/scratch.ts';
import type { PayloadFile, PayloadFiles } from '#engine/volumes/real/copy/payload-files.ts';
import { transferFailure } from '#engine/volumes/real/failures.ts';
import type { SessionFiles } from '#engine/volumes/real/files.ts';
import type { RealVolumeInfo } from '#engine/volumes/real/real-volume-info.ts';
import type { CopyStep } from '#engine/volumes/volume.ts';
import { system } from '#engine/system/this-system.ts';

/** One end of a copy: a volume and the folder on it, resolved and checked. */
export interface RealCopyEnd {
  info: RealVolumeInfo;
  folder: string;
}

/** An end while the session goes on. */
export interface OpenEnd extends RealCopyEnd {
  scratch: Scratch | null;
  files: SessionFiles | null;
  tree: CopyTree | null;
  /** Folder of the last copy to it, and what of it was whole. */
  copied: { folder: string; files: PayloadFile[] } | null;
  /** Bytes moved by steps that are over, and of the one that goes on. */
  movedBytes: number;
  movingBytes: number;
}

/** What is watched at a target is reported beside the run’s own conditions. */
export function asTarget(end: number, event: RunEvent, emit: Emit): void {
  if (event.type !== 'watch') return;
  const { atSeconds, temperatureCelsius, foreignBytesPerSecond } = event.row;
  emit({
    type: 'copy-watch',
    rows: {
      atSeconds: [atSeconds],
      end: [end],
      temperatureCelsius: [temperatureCelsius],
      foreignBytesPerSecond: [foreignBytesPerSecond],
    },
  });
}

/** Links after the files, then rights of folders from the innermost on: a folder may forbid changing it. */
export async function makeLinks(
  folder: string,
  { links, folders }: PayloadFiles,
  note: (one: Omit<CopyNote, 'leg'>) => void,
): Promise<void> {
  for (const { path, to } of links) {
    try {
      await symlink(to, join(folder, path));
    } catch (error) {
      const { code } = error as NodeJS.ErrnoException;
      note({ kind: 'skipped', end: null, path, detail: `The link could not be made at the target (${code}).` });
    }
  }
  for (const { path, mode } of [...folders].reverse()) {
    await chmod(join(folder, path), mode & 0o777).catch(() => undefined);
  }
}

export async function flushTarget({ tree, info }: OpenEnd): Promise<void> {
  try {
    await system.flushVolume(tree!.folder);
  } catch (error) {
    const { code = 'UNKNOWN' } = error as NodeJS.ErrnoException;
    throw transferFailure({ code, fileOffset: 0 }, 'write', info.mountPoint);
  }
}

/** Proof of the bypass at the source and the first target, see core/4-runs/supply/doubts/bypass.ts. */
export function emitBypass(
  { leg }: CopyStep,
  from: OpenEnd,
  to: OpenEnd,
  bytes: number,
  before: readonly ({ readBytes: number; writeBytes: number } | null)[],
  emit: Emit,
): void {
  const row = (end: OpenEnd, index: number, direction: 'read' | 'write') => {
    const now = system.diskBytes(end.info.device.deviceNumber);
    const key = direction === 'read' ? 'readBytes' : 'writeBytes';
    const deviceBytes = now === null || !before[index] ? null : now[key] - before[index][key];
    emit({
      type: 'bypass',
      row: { pass: leg, direction, ownBytes: bytes, deviceBytes, deviceBytesAfterFlush: deviceBytes },
    });
  };
  row(from, 0, 'read');
  row(to, 1, 'write');
}
