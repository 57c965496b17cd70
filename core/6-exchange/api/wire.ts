import type { DriveHealth } from '#core/2-trade/drives/health.ts';
import type { ArrivalCounts, Planned } from '#core/6-exchange/archive/plan.ts';
import type { Page } from '#core/6-exchange/report/pages/lay-out.ts';
import type { ReportOutline } from '#core/6-exchange/report/report.ts';
import type { VerifiedFolder, VerifyProgress } from '#core/5-answers/copies/verified-folder.ts';
import type { DriveDetails } from '#core/2-trade/drives/drive-details.ts';
import type { Connection } from '#core/2-trade/links/connection.ts';
import type { Identity } from '#core/4-runs/run/drive-and-volume.ts';
import type { Medium } from '#core/2-trade/drives/medium.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import type { RunEvent, RunProgress } from '#core/4-runs/run/run-events.ts';
import type { Recording } from '#core/3-jobs/recording/recording.ts';
import type { Fault } from '#core/4-runs/stand-ins/faults.ts';
import type { RunSummary } from '#core/4-runs/supply/run-summary.ts';

/** What server and interface say to each other beyond the documents. */

/** A mounted place as it is listed. */
export interface VolumeEntry {
  /** Stable while it stays mounted where it is; used in URLs. */
  id: string;
  kind: 'real' | 'stand-in';
  label: string;
  /** Empty for stand-ins. */
  mountPoint: string;
  filesystem: string;
  totalBytes: number;
  freeBytes: number;
  readOnly: boolean;
  /** Nothing else is on it: it may be filled to its end. */
  usesAll: boolean;
  medium: Medium;
  connection: Connection;
  identity: Identity;
  /** Name of the drive behind it, as the system or the stand-in tells. */
  driveLabel: string;
  /** One sentence on what the place is for; stand-ins only. */
  description: string;
  /** Known bytes of fast cache; null when not known. */
  knownCacheBytes: number | null;
  discardSupported: boolean | null;
  /** Faults that are switched on in a stand-in. */
  faults: Fault[];
  /** Card of its drive; null before the first run on it. */
  driveId: string | null;
}

/** What a drive says of itself, or one sentence on what would let it. */
export type HealthEntry = { health: DriveHealth; why: null } | { health: null; why: string };

/** A drive's card. */
export interface DriveCard {
  id: string;
  label: string;
  medium: Medium;
  identityKind: Identity['kind'];
  identityValue: string;
  capacityBytes: number;
  details: DriveDetails;
  example: boolean;
  createdAt: string;
}

/** What a person changes about a drive's card. */
export type DriveChange = Pick<DriveCard, 'label' | 'details'>;

/** A run document without its columns, for lists; of a copy there are only its ends. */
export type RunOpening = Omit<RunDocument, 'samples' | 'latency' | 'markers' | 'frames' | 'files' | 'loudness'>;

/** What a person adds to a run; what is left out stays as it is. */
export type Annotation = Partial<Pick<RunDocument, 'note' | 'tags' | 'leftOut' | 'loudness'>>;

/** What verifying a folder tells on its way, and last of all. */
/** What is said of long work on a folder: how far it is, and once what came of it. */
export type WorkMessage<Progress, Found> =
  { type: 'progress'; progress: Progress } | { type: 'done'; found: Found } | { type: 'problem'; detail: string };

export type VerifyMessage = WorkMessage<VerifyProgress, VerifiedFolder>;

export interface RunListEntry extends RunSummary {
  run: RunOpening;
}

export interface FolderList {
  path: string;
  names: string[];
  /** Whether there are more than are listed. */
  truncated: boolean;
}

/** What a folder holds, all below it counted. */
export interface FolderPayload {
  path: string;
  files: number;
  bytes: number;
}

export type PayloadMessage = WorkMessage<{ files: number; bytes: number }, FolderPayload>;

export interface StartRequest {
  volumeId: string;
  /** Folder on a real volume; empty for stand-ins. */
  folder: string;
  recipeId: string;
  options: unknown;
  /** Further volumes that it writes to, of recipes that have such. */
  targets?: { volumeId: string; folder: string }[];
}

/** A program that runs on this machine and can be recorded. */
export interface RunningProgram {
  pid: number;
  name: string;
  /** What it was started with, shortened. */
  command: string;
  readBytes: number;
  writtenBytes: number;
}

/** A recording as it is asked for while it goes on. */
export type RecordingState = Recording & { isGoing: boolean };

/** A scratch space that was kept after its run. */
export interface KeptScratchEntry {
  runId: string;
  folder: string;
  driveLabel: string;
  bytes: number;
  keptAt: string;
}

/** What importing a file changes, document by document, and counted. */
export interface ImportPreview {
  planned: Planned[];
  counts: ArrivalCounts;
}

/** A backup of the store. */
export interface BackupEntry {
  file: string;
  madeAt: string;
  bytes: number;
}

/** A scratch space that could not be removed. */
export interface LeftScratchEntry {
  id: string;
  folder: string;
  driveLabel: string;
  /** A sentence for people. */
  why: string;
}

/** A run that goes on or waits. */
export interface ActiveRun {
  runId: string;
  driveId: string;
  driveLabel: string;
  volumeId: string;
  /** Further volumes that it writes to. */
  targetVolumeIds: string[];
  recipeId: string;
  state: 'queued' | 'running';
  progress: RunProgress | null;
  /** Why what it measures is only in memory for now, as a sentence; null while it is kept as it comes. */
  unkept: string | null;
  /** Name of the machine that measures it; null for this one. */
  host: string | null;
}

/** What a token allows: to look, or to measure and send runs too. */
export const TOKEN_SCOPES = ['read', 'measure'] as const;
export type TokenScope = (typeof TOKEN_SCOPES)[number];

/** What whoever asks may do: the machine’s own user everything, others what their token allows. */
export interface Access {
  may: 'everything' | TokenScope;
}

/** A token as lists have it, without what it is made of. */
export interface TokenEntry {
  id: string;
  name: string;
  scope: TokenScope;
  madeAt: string;
  usedAt: string | null;
  revokedAt: string | null;
}

/** What a house asks of a machine that measures for it. */
export interface AgentAsk {
  id: string;
  /** A folder that the machine allows, or one in it. */
  folder: string;
  recipeId: string;
  options: unknown;
}

/** What became of it: it waits, goes on, was refused by the machine, failed, or its run is here. */
export const ASK_STATES = ['asked', 'measuring', 'refused', 'failed', 'sent'] as const;
export type AskState = (typeof ASK_STATES)[number];

export interface AskEntry extends AgentAsk {
  state: AskState;
  /** Why it was refused or failed, as a sentence; empty else. */
  text: string;
  /** The run that it became; null while there is none. */
  runId: string | null;
}

/** A machine that measures what this house asks for, while it is connected. */
export interface AgentEntry {
  id: string;
  name: string;
  /** Folders that its own settings allow. */
  folders: string[];
  since: string;
  /** The latest first. */
  asks: AskEntry[];
}

/** What the live feed tells, in order. */
export type LiveMessage =
  | { type: 'active'; active: ActiveRun[] }
  | { type: 'progress'; runId: string; progress: RunProgress }
  | { type: 'event'; runId: string; event: RunEvent };

/** What the live feed of one run sends: first the run as it is, then what comes. */
export type RunFeedMessage = { type: 'document'; run: RunDocument } | Exclude<LiveMessage, { type: 'active' }>;

/** A report as lists have it: without the documents that it is drawn from. */
export interface ReportEntry {
  outline: ReportOutline;
  /** What it is called. */
  title: string;
  /** Another whenever its documents are others. */
  revision: string;
  changedAt: string;
}

/** A report on its pages, as it would leave. */
export interface ReportPages {
  pages: Page[];
  /** What its parts are called, by their ids. */
  titles: Record<string, string>;
}
