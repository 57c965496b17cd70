import { array, boolean, mixed, number, object, string, type InferType } from 'yup';
import { badInput } from '#core/1-ground/problem.ts';
import { parseDocument } from '#core/1-ground/schema/parse-document.ts';
import { healthSchema } from '#core/2-trade/drives/health.ts';
import { connectionSchema } from '#core/2-trade/links/connection.ts';
import { copyRecordSchema } from '#core/4-runs/run/copy-record.ts';
import { loudnessSchema } from '#core/4-runs/run/loudness.ts';
import { recipeIdSchema } from '#core/3-jobs/recipes/registry.ts';
import { DIRECTIONS } from '#core/1-ground/curves/direction.ts';
import { driveReferenceSchema, volumeSnapshotSchema } from '#core/4-runs/run/drive-and-volume.ts';
import { countsColumn, nullableNumberColumn, numberColumn, wordColumn } from '#core/1-ground/schema/columns.ts';

/**
 * The run document: one measurement, whole. What was asked for, under which conditions, and what
 * was seen; figures, doubts and verdicts are computed from it and are not part of it. The same
 * document is stored, served, exported and imported; its JSON Schema is docs/formats/run.schema.json.
 */
export const RUN_DOCUMENT_VERSION = 'run/1';

export const RUN_STATES = ['queued', 'running', 'finished', 'stopped', 'interrupted', 'failed'] as const;
export type RunState = (typeof RUN_STATES)[number];

/**
 * Samples in columns, one row per sampling interval that moved bytes or ended. A row whose
 * `operations` are 0 and that starts a pass is that pass's origin.
 */
export const sampleColumnsSchema = object({
  /** Seconds since the run began, at the end of the interval. */
  atSeconds: numberColumn(),
  /** Bytes moved in this row's direction since the run began. */
  cumulativeBytes: numberColumn(),
  direction: wordColumn(DIRECTIONS),
  /** Number of the pass, from 0 for the one that finds the size. */
  pass: numberColumn(),
  /** Number of the file within the run, from 0. */
  file: numberColumn(),
  /** Requests completed in the interval. */
  operations: numberColumn(),
  /** Longest request completed in the interval, seconds. */
  latencyMaxSeconds: numberColumn(),
});
export type SampleColumns = InferType<typeof sampleColumnsSchema>;

/** Latency histograms, one row per second, direction and pass; see core/4-runs/run/histogram.ts for the buckets. */
export const latencyColumnsSchema = object({
  atSeconds: numberColumn(),
  direction: wordColumn(DIRECTIONS),
  pass: numberColumn(),
  /** Rung of a ladder, 0 where there is none. */
  rung: numberColumn(),
  /** Bucket numbers that are not empty. */
  buckets: countsColumn(),
  /** Requests in each of them. */
  counts: countsColumn(),
});
export type LatencyColumns = InferType<typeof latencyColumnsSchema>;

/**
 * `laying-out` makes what is read or overwritten later; `recovery` follows a rest on the floor; `watching` writes on at
 * the rate of a job and no faster, to see whether a pause comes.
 */
export const PASS_PHASES = [
  'sizing',
  'laying-out',
  'allocating',
  'overwriting',
  'reading',
  'recovery',
  'watching',
] as const;
export type PassPhase = (typeof PASS_PHASES)[number];

export const MARKER_KINDS = [
  'pass',
  'flush',
  /** A pause that the person asked for, and a rest that the recipe made. */
  'pause',
  'rest',
  'gap',
  'sleep',
  'temperature-step',
  'stop',
  'fault',
  /** Existing files that were passed over. */
  'skipped',
  /** Scratch that could not be removed at the end. */
  'left-behind',
  /** The wall clock was set; nothing measured goes by it. */
  'clock-set',
] as const;

/** Something that happened at a moment of the run. */
export const markerSchema = object({
  kind: string().oneOf(MARKER_KINDS).required(),
  atSeconds: number().required(),
  /** How long it took; 0 for moments. */
  seconds: number().min(0).required(),
  direction: string().oneOf(DIRECTIONS).nullable().defined(),
  pass: number().integer().min(0).nullable().defined(),
  /** For `pass`: what kind of pass begins here. */
  phase: string().oneOf(PASS_PHASES).nullable().defined(),
  note: string().defined().max(400),
});
export type Marker = InferType<typeof markerSchema>;

/**
 * Paced frames, one row a frame in the order of their deadlines. A recorded frame is due one frame
 * after it came from the camera, a played one when it is shown.
 */
export const frameColumnsSchema = object({
  /** Seconds since the run began at which the frame was due. */
  dueSeconds: numberColumn(),
  /** Number of the stream, counted through all lines of the options, from 0. */
  stream: numberColumn(),
  /** How long after its deadline it was done, seconds; negative when early, null when it was dropped. */
  latenessSeconds: nullableNumberColumn(),
});
export type FrameColumns = InferType<typeof frameColumnsSchema>;

export const FILE_ACTIONS = ['create', 'read', 'list', 'delete'] as const;
export type FileAction = (typeof FILE_ACTIONS)[number];

/** File scatter, one row a file; a listing is a row for each folder. */
export const fileColumnsSchema = object({
  /** Seconds since the run began at which it was done. */
  atSeconds: numberColumn(),
  action: wordColumn(FILE_ACTIONS),
  /** 1, or the names that a listing gave. */
  files: numberColumn(),
  /** Bytes moved, padding included. */
  bytes: numberColumn(),
  seconds: numberColumn(),
});
export type FileColumns = InferType<typeof fileColumnsSchema>;

/** Proof of the bypass for one pass: what the top block device moved against our own bytes. */
export const bypassRowSchema = object({
  pass: number().integer().min(0).required(),
  direction: string().oneOf(DIRECTIONS).required(),
  ownBytes: number().min(0).required(),
  /** Device bytes up to the last request and before the flush; null where the system does not count them. */
  deviceBytes: number().min(0).nullable().defined(),
  /** Device bytes including the flush. */
  deviceBytesAfterFlush: number().min(0).nullable().defined(),
});
export type BypassRow = InferType<typeof bypassRowSchema>;

/** A place at which something else was read than had been written. */
export const mismatchSchema = object({
  fileOffset: number().min(0).required(),
  /** The offset whose data was found there, null when the data is of no place of this run. */
  foundOffset: number().nullable().defined(),
  pass: number().integer().min(0).required(),
});

/** `unknown` for what was read from a table that others made. */
export const IO_MODES = ['direct', 'buffered', 'memory', 'simulated', 'unknown'] as const;
export type IoMode = (typeof IO_MODES)[number];

export const conditionsSchema = object({
  software: object({
    version: string().required().max(40),
    platform: string().required().max(80),
    host: string().required().max(120),
  }).required(),
  /** How requests reached the drive. */
  ioMode: string().oneOf(IO_MODES).required(),
  start: object({
    freeBytes: number().min(0).required(),
    totalBytes: number().min(0).required(),
    /** Seconds since the last run on this drive ended; null when not known. */
    restSeconds: number().min(0).nullable().defined(),
    /** Bytes written to the device in the last hour as far as Tavrox saw it; null when not known. */
    writtenLastHourBytes: number().min(0).nullable().defined(),
    discardSupported: boolean().nullable().defined(),
    onBattery: boolean().nullable().defined(),
    /** Bytes the drive is known to take into its fast cache; null when not known. */
    knownCacheBytes: number().min(0).nullable().defined(),
    /** Lowest temperature at which a run on this drive began; null when none was told. */
    coolestCelsius: number().nullable().default(null),
  }).required(),
  end: object({
    freeBytes: number().min(0).required(),
    /** The connection as it was then; null when it is not known to be another. */
    connection: connectionSchema.nullable().default(null),
  })
    .nullable()
    .defined(),
  /** What the drive said of itself before the first request and after the last; null where it said nothing. */
  told: object({
    start: healthSchema.nullable().default(null),
    end: healthSchema.nullable().default(null),
  })
    .nullable()
    .default(null)
    .meta({ addedLater: true }),
  bypass: array(bypassRowSchema.required()).required(),
  verification: object({
    checkedBytes: number().min(0).required(),
    mismatches: array(mismatchSchema.required()).required(),
  }).required(),
  /** What was watched beside the transfers, one row a second; null where not known. */
  series: object({
    atSeconds: numberColumn(),
    temperatureCelsius: nullableNumberColumn(),
    /** Bytes per second on the device that were not ours. */
    foreignBytesPerSecond: nullableNumberColumn(),
    /** Busy share of all processors, 0 to 1. */
    processorShare: nullableNumberColumn(),
  }).required(),
});
export type Conditions = InferType<typeof conditionsSchema>;

export const failureSchema = object({
  code: string().required().max(80),
  detail: string().required().max(2000),
});

export const runDocumentSchema = object({
  tavrox: string()
    .oneOf([RUN_DOCUMENT_VERSION] as const)
    .required(),
  id: string().required().max(80),
  recipe: recipeIdSchema(),
  /** The recipe's own options, checked by the recipe. */
  options: mixed<Record<string, unknown>>((value): value is Record<string, unknown> => typeof value === 'object')
    .meta({ jsonSchema: { type: 'object' } })
    .required(),
  state: string().oneOf(RUN_STATES).required(),
  /** ISO 8601, UTC. */
  startedAt: string().required().max(40),
  endedAt: string().nullable().defined().max(40),
  note: string().defined().max(4000),
  tags: array(string().required().max(40)).max(20).default([]),
  /** A person has left it out: it stays, and testifies nothing about its drive. */
  leftOut: boolean().default(false).meta({ addedLater: true }),
  example: boolean().required(),
  drive: driveReferenceSchema.required(),
  volume: volumeSnapshotSchema.required(),
  connection: connectionSchema.required(),
  conditions: conditionsSchema.required(),
  samples: sampleColumnsSchema.required(),
  latency: latencyColumnsSchema.required(),
  markers: array(markerSchema.required()).required(),
  frames: frameColumnsSchema.default(emptyFrames).meta({ addedLater: true }),
  files: fileColumnsSchema.default(emptyFiles).meta({ addedLater: true }),
  /** Of a copy: where it went and how; null for every other run. */
  copy: copyRecordSchema.nullable().default(null).meta({ addedLater: true }),
  /** What a microphone heard beside it; null where none listened. */
  loudness: loudnessSchema.nullable().default(null).meta({ addedLater: true }),
  failure: failureSchema.nullable().defined(),
});
export type RunDocument = InferType<typeof runDocumentSchema>;

/**
 * A run document from outside, with what earlier versions lacked filled in.
 * @throws Problem `bad-input` that names the place of the first fault
 */
export function parseRunDocument(input: unknown, where = 'run'): RunDocument {
  const run = runDocumentSchema.cast(parseDocument(runDocumentSchema, input, where));
  for (const part of ['samples', 'latency', 'frames', 'files'] as const) {
    const lengths = Object.values(run[part]).map((column: unknown[]) => column.length);
    if (new Set(lengths).size > 1) throw badInput(where, `${where}: ${part}: its columns are not of the same length.`);
  }
  return run;
}

export function emptySamples(): SampleColumns {
  return {
    atSeconds: [],
    cumulativeBytes: [],
    direction: [],
    pass: [],
    file: [],
    operations: [],
    latencyMaxSeconds: [],
  };
}

export function emptyLatency(): LatencyColumns {
  return { atSeconds: [], direction: [], pass: [], rung: [], buckets: [], counts: [] };
}

export function emptyFrames(): FrameColumns {
  return { dueSeconds: [], stream: [], latenessSeconds: [] };
}

export function emptyFiles(): FileColumns {
  return { atSeconds: [], action: [], files: [], bytes: [], seconds: [] };
}

/** Conditions of a run of which nothing is known yet but where it goes. */
export function emptyConditions(volume: { freeBytes: number; totalBytes: number }): Conditions {
  return {
    software: { version: '', platform: '', host: '' },
    ioMode: 'direct',
    start: {
      freeBytes: volume.freeBytes,
      totalBytes: volume.totalBytes,
      restSeconds: null,
      writtenLastHourBytes: null,
      discardSupported: null,
      onBattery: null,
      knownCacheBytes: null,
      coolestCelsius: null,
    },
    end: null,
    told: null,
    bypass: [],
    verification: { checkedBytes: 0, mismatches: [] },
    series: { atSeconds: [], temperatureCelsius: [], foreignBytesPerSecond: [], processorShare: [] },
  };
}

/** Appends the rows of `more` to `columns`, column by column. Both must have the same columns. */
export function appendColumns<T extends object>(columns: T, more: T): void {
  for (const key of Object.keys(columns) as (keyof T)[]) {
    const target = columns[key] as unknown[];
    for (const value of more[key] as unknown[]) target.push(value);
  }
}

/** Seconds of a run up to the last that it told of what it moved. */
export const lastSecondsOf = ({ samples, copy }: Pick<RunDocument, 'samples' | 'copy'>): number =>
  samples.atSeconds.at(-1) ?? copy?.rows.atSeconds.at(-1) ?? 0;

/** First and last moment at which a run moved something, seconds since it began: a drive that spins up takes its time. */
export function movedSecondsOf(run: Pick<RunDocument, 'samples' | 'copy'>): [number, number] {
  const first = run.samples.operations.findIndex((operations) => operations > 0);
  return [run.samples.atSeconds[first] ?? run.copy?.rows.atSeconds[0] ?? 0, lastSecondsOf(run)];
}

/** How warm the drive was when a run began, as the system or the drive itself told; null where neither did. */
export const startCelsiusOf = ({ series, told }: Pick<Conditions, 'series' | 'told'>): number | null =>
  series.temperatureCelsius.find((celsius) => celsius !== null) ?? told?.start?.celsius ?? null;
