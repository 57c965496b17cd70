import { array, number, object, string, type InferType } from 'yup';
import { connectionSchema } from '#core/2-trade/links/connection.ts';
import { nullableNumberColumn, numberColumn, wordColumn } from '#core/1-ground/schema/columns.ts';
import { driveReferenceSchema, volumeSnapshotSchema } from '#core/4-runs/run/drive-and-volume.ts';

/** One end of a copy: where it was read from, or written to. */
export const copyEndSchema = object({
  drive: driveReferenceSchema.required(),
  volume: volumeSnapshotSchema.required(),
  connection: connectionSchema.required(),
  /** Folder that was chosen; empty for stand-ins. */
  folder: string().defined().max(4096),
});
export type CopyEnd = InferType<typeof copyEndSchema>;

export const COPY_STAGES = ['copying', 'verifying'] as const;
export type CopyStage = (typeof COPY_STAGES)[number];

/** How far each end was, one row for each of them and each sampling interval. Ends are counted from 0, the source. */
export const copyColumnsSchema = object({
  /** Seconds since the run began. */
  atSeconds: numberColumn(),
  /** Number of the copy within the run, from 1; a copy back is one of its own. */
  leg: numberColumn(),
  stage: wordColumn(COPY_STAGES),
  end: numberColumn(),
  /** Bytes this end has moved in this stage of this leg. */
  bytes: numberColumn(),
  /** Seconds it has spent waiting for the other side in this stage, a mean over its requests under way. */
  waitedSeconds: numberColumn(),
});
export type CopyColumns = InferType<typeof copyColumnsSchema>;

/** What is watched at the targets, once a second; the source is watched as every run's drive is. */
export const copyWatchSchema = object({
  atSeconds: numberColumn(),
  end: numberColumn(),
  temperatureCelsius: nullableNumberColumn(),
  foreignBytesPerSecond: nullableNumberColumn(),
});
export type CopyWatch = InferType<typeof copyWatchSchema>;

const count = () => number().integer().min(0).required();
const seconds = () => number().min(0).required();

/** One copy from an end to others, when it is over. */
export const copyLegSchema = object({
  leg: count(),
  from: count(),
  to: array(count()).min(1).max(4).required(),
  /** What there was to be copied. */
  files: count(),
  bytes: number().min(0).required(),
  /** Bytes that were copied to every target whole. */
  wholeBytes: number().min(0).required(),
  wholeFiles: count(),
  beganSeconds: seconds(),
  /** From the first file’s opening to the last one’s closing; flushing comes after it. */
  copySeconds: seconds(),
  flushSeconds: seconds(),
  /** Reading back; 0 where that was not asked for. */
  verifySeconds: seconds(),
  /** Files that were read back alike, and those that were not, over all targets. */
  checkedFiles: count(),
  differingFiles: count(),
  /** Folders that stayed, one for each target; empty when the copy was removed. */
  keptFolders: array(string().required().max(4096)).max(4).required(),
});
export type CopyLeg = InferType<typeof copyLegSchema>;

export const COPY_NOTE_KINDS = [
  /** Not copied: may not be opened, no plain file, a name that the target cannot hold. */
  'skipped',
  /** Changed while it was copied, and so not kept. */
  'changed',
  /** Read back otherwise than it was written. */
  'differs',
  'link',
  'holes',
  'clone',
  'hash-list',
] as const;

/** Something that happened to one file, or to several of a kind. */
export const copyNoteSchema = object({
  leg: count(),
  kind: string().oneOf(COPY_NOTE_KINDS).required(),
  /** The target concerned; null for all. */
  end: number().integer().min(0).nullable().defined(),
  /** Within the source folder; empty for what concerns no single file. */
  path: string().defined().max(4096),
  detail: string().required().max(600),
});
export type CopyNote = InferType<typeof copyNoteSchema>;

/** What a copy was and how it went, beside what every run has. */
export const copyRecordSchema = object({
  /** The source first, then the targets. */
  ends: array(copyEndSchema.required()).min(2).max(5).required(),
  rows: copyColumnsSchema.required(),
  watch: copyWatchSchema.required(),
  legs: array(copyLegSchema.required()).max(40).required(),
  notes: array(copyNoteSchema.required()).max(2000).required(),
});
export type CopyRecord = InferType<typeof copyRecordSchema>;

export const emptyCopyColumns = (): CopyColumns => ({
  atSeconds: [],
  leg: [],
  stage: [],
  end: [],
  bytes: [],
  waitedSeconds: [],
});

export const emptyCopyWatch = (): CopyWatch => ({
  atSeconds: [],
  end: [],
  temperatureCelsius: [],
  foreignBytesPerSecond: [],
});

/** A copy of which nothing but its ends is known. */
export const openCopyRecord = (ends: CopyEnd[]): CopyRecord => ({
  ends,
  rows: emptyCopyColumns(),
  watch: emptyCopyWatch(),
  legs: [],
  notes: [],
});

/** A leg of which nothing was copied yet. */
export const openCopyLeg = (
  { leg, from, to }: { leg: number; from: number; to: readonly number[] },
  files: number,
  bytes: number,
  beganSeconds: number,
): CopyLeg => ({
  leg,
  from,
  to: [...to],
  files,
  bytes,
  wholeBytes: 0,
  wholeFiles: 0,
  beganSeconds,
  copySeconds: 0,
  flushSeconds: 0,
  verifySeconds: 0,
  checkedFiles: 0,
  differingFiles: 0,
  keptFolders: [],
});

/** What is said of a file that was read back otherwise. */
export const DIFFERS_DETAIL =
  'It was read back otherwise than it was read from the source. Copy it again, and check drive and cable.';

/** Notes kept with a run; beyond them only their number grows. */
export const MOST_COPY_NOTES = 400;
