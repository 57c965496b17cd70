import type { CopyNote } from '#core/4-runs/run/copy-record.ts';
import type { PayloadFile } from '#engine/volumes/real/copy/payload-files.ts';
import type { FileFault } from '#engine/volumes/real/copy/copy-protocol.ts';

/** Notes on single files of one leg; the rest are counted. */
export const MOST_FILE_NOTES = 60;

const FAULT_TEXTS: Record<FileFault, string> = {
  EACCES: 'It may not be opened for reading, or not be made at a target.',
  EPERM: 'It may not be opened for reading, or not be made at a target.',
  ENOENT: 'It was gone when it was to be opened.',
  ELOOP: 'It became a link while it was copied.',
  ENAMETOOLONG: 'Its name is too long for a target.',
  EINVAL: 'Its name holds characters that a target cannot have.',
  EILSEQ: 'Its name holds characters that a target cannot have.',
  EFBIG: 'It is larger than files can be at a target.',
  EEXIST: 'A target does not tell its name from that of another file.',
  EISDIR: 'It became a folder while it was copied.',
  ENOTDIR: 'Its folder was gone when it was to be opened.',
  CHANGED: 'It changed while it was copied; what was copied of it was removed.',
};

/** Tells of files that were not copied, and why. */
export function tellFaults(
  files: readonly PayloadFile[],
  outcomes: readonly ('whole' | FileFault | null)[],
  note: (one: Omit<CopyNote, 'leg'>) => void,
): void {
  let told = 0;
  outcomes.forEach((outcome, file) => {
    if (outcome === null || outcome === 'whole' || (told += 1) > MOST_FILE_NOTES) return;
    const kind = outcome === 'CHANGED' ? 'changed' : 'skipped';
    note({ kind, end: null, path: files[file]!.path, detail: FAULT_TEXTS[outcome] });
  });
  if (told <= MOST_FILE_NOTES) return;
  const detail = `${(told - MOST_FILE_NOTES).toLocaleString('en-US')} more files were not copied for such reasons.`;
  note({ kind: 'skipped', end: null, path: '', detail });
}
