import type { CopyNote } from '#core/4-runs/run/copy-record.ts';
import { Problem } from '#core/1-ground/problem.ts';
import { walkFolder, type WalkControl } from '#engine/folders/walk.ts';
import { bytesText } from '#core/1-ground/units/format.ts';

/** A plain file of what is copied. */
export interface PayloadFile {
  /** Within the source folder, with slashes. */
  path: string;
  bytes: number;
  modifiedSeconds: number;
  mode: number;
}

/** What there is to be copied. */
export interface PayloadFiles {
  files: PayloadFile[];
  /** Folders before what is in them. */
  folders: { path: string; mode: number }[];
  /** Links, which are made anew and not followed. */
  links: { path: string; to: string }[];
  /** What is not copied or not copied as it is, for people. */
  notes: Omit<CopyNote, 'leg'>[];
}

/** More files than this are not copied in one run. */
export const MOST_PAYLOAD_FILES = 1_000_000;
/** Notes on what is passed over in one list; the rest is counted. */
const MOST_NOTES = 200;
/** `blocks` of stat counts 512 bytes whatever the filesystem's own. */
const STAT_BLOCK_BYTES = 512;
/** A file whose blocks hold less than this share of its size has holes in it, or is compressed. */
const WHOLE_SHARE = 0.98;
/** Holes of less are the end of a last block. */
const LEAST_HOLE_BYTES = 65_536;

const filesText = (count: number) => (count === 1 ? '1 file' : `${count.toLocaleString('en-US')} files`);

/**
 * Everything in a folder, in the order of names, with what is not copied, or not as it is.
 * @throws Problem when there are more files than one run copies; the system's error when the folder cannot be looked at
 */
export async function listPayload(root: string, control: WalkControl = {}): Promise<PayloadFiles> {
  const found: PayloadFiles = { files: [], folders: [], links: [], notes: [] };
  let [holedFiles, holeBytes, hardLinks, passedOver] = [0, 0, 0, 0];
  for await (const one of walkFolder(root, control)) {
    const { kind, path } = one;
    if (kind === 'link') found.links.push({ path, to: one.to });
    else if (kind === 'folder') found.folders.push({ path, mode: one.stats.mode });
    else if (kind === 'passed-over') {
      passedOver += 1;
      if (passedOver <= MOST_NOTES) found.notes.push({ kind: 'skipped', end: null, path, detail: one.why });
    } else {
      const { size, blocks, mtimeMs, mode, nlink } = one.stats;
      if (found.files.length === MOST_PAYLOAD_FILES) throw tooMany(root);
      found.files.push({ path, bytes: size, modifiedSeconds: mtimeMs / 1000, mode });
      if (nlink > 1) hardLinks += 1;
      const missing = size - blocks * STAT_BLOCK_BYTES;
      if (blocks * STAT_BLOCK_BYTES < WHOLE_SHARE * size && missing > LEAST_HOLE_BYTES) {
        holedFiles += 1;
        holeBytes += missing;
      }
    }
  }
  const tell = (kind: 'holes' | 'link' | 'skipped', detail: string) =>
    found.notes.push({ kind, end: null, path: '', detail });
  if (passedOver > MOST_NOTES) {
    tell('skipped', `${(passedOver - MOST_NOTES).toLocaleString('en-US')} more were passed over for such reasons.`);
  }
  if (holedFiles > 0) {
    tell(
      'holes',
      `${filesText(holedFiles)} with holes or compressed are copied whole: ${bytesText(holeBytes)} more are written than the source takes.`,
    );
  }
  if (hardLinks > 0) {
    tell('link', `${filesText(hardLinks)} with several names (hard links) are copied once for each name.`);
  }
  return found;
}

const tooMany = (root: string): Problem =>
  new Problem(
    'too-many-files',
    `${root} holds more than a million files, and one run copies no more. Choose the folders in it one by one.`,
    { where: 'folder' },
  );
