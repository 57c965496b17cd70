import type { Connection } from '#core/2-trade/links/connection.ts';
import {
  MOST_COPY_NOTES,
  type CopyColumns,
  type CopyLeg,
  type CopyNote,
  type CopyWatch,
} from '#core/4-runs/run/copy-record.ts';
import type { DriveHealth } from '#core/2-trade/drives/health.ts';
import type { Loudness } from '#core/4-runs/run/loudness.ts';
import {
  appendColumns,
  type BypassRow,
  type FileColumns,
  type FrameColumns,
  type IoMode,
  type LatencyColumns,
  type Marker,
  type RunDocument,
  type RunState,
  type SampleColumns,
} from '#core/4-runs/run/run-document.ts';

/** One moment of what is watched beside the transfers of a run. */
export interface WatchRow {
  atSeconds: number;
  temperatureCelsius: number | null;
  foreignBytesPerSecond: number | null;
  processorShare: number | null;
}

export interface Mismatch {
  fileOffset: number;
  foundOffset: number | null;
  pass: number;
}

/**
 * What a run tells while it goes on, the same from real volumes and stand-ins. A run document is
 * its opening plus these events in order: the recorder stores them, the live feed sends them, the
 * interface applies them to its own copy.
 */
export type RunEvent =
  | { type: 'samples'; samples: SampleColumns }
  | { type: 'latency'; latency: LatencyColumns }
  | { type: 'frames'; frames: FrameColumns }
  | { type: 'files'; files: FileColumns }
  | { type: 'marker'; marker: Marker }
  | { type: 'bypass'; row: BypassRow }
  | { type: 'verified'; checkedBytes: number; mismatches: Mismatch[] }
  | { type: 'watch'; row: WatchRow }
  | { type: 'io-mode'; ioMode: IoMode }
  | { type: 'told'; at: 'start' | 'end'; health: DriveHealth }
  | { type: 'copy-rows'; rows: CopyColumns }
  | { type: 'copy-watch'; rows: CopyWatch }
  | { type: 'copy-leg'; leg: CopyLeg }
  | { type: 'copy-note'; note: CopyNote }
  | { type: 'loudness'; loudness: Loudness | null }
  | {
      type: 'ended';
      state: RunState;
      endedAt: string;
      freeBytes: number | null;
      /** The connection at the end, when it is not what it was. */
      connection: Connection | null;
      failure: RunDocument['failure'];
    };

export type Emit = (event: RunEvent) => void;

/** Where a run stands. */
export interface RunProgress {
  elapsedSeconds: number;
  /** Null while it cannot be told, and for runs that go on until they are stopped. */
  remainingSeconds: number | null;
  /** 0 to 1, null as above. */
  share: number | null;
  /** What is going on, for people: “pass 3 of 5, reading”. */
  text: string;
  /** The person holds the run. */
  paused: boolean;
  /** How each job stands, where a run goes on until they are decided. */
  jobs?: { name: string; decided: string | null; text: string }[];
}

/** Mismatches kept with a run; the first tell what is wrong. */
const MOST_MISMATCHES = 64;

/** Applies an event to a run document, in place. */
export function applyRunEvent(run: RunDocument, event: RunEvent): void {
  const { conditions } = run;
  switch (event.type) {
    case 'samples':
      return appendColumns(run.samples, event.samples);
    case 'latency':
      return appendColumns(run.latency, event.latency);
    case 'frames':
      return appendColumns(run.frames, event.frames);
    case 'files':
      return appendColumns(run.files, event.files);
    case 'marker':
      run.markers.push(event.marker);
      return;
    case 'bypass':
      conditions.bypass.push(event.row);
      return;
    case 'verified': {
      const { verification } = conditions;
      verification.checkedBytes += event.checkedBytes;
      verification.mismatches.push(...event.mismatches.slice(0, MOST_MISMATCHES - verification.mismatches.length));
      return;
    }
    case 'watch': {
      const { series } = conditions;
      series.atSeconds.push(event.row.atSeconds);
      series.temperatureCelsius.push(event.row.temperatureCelsius);
      series.foreignBytesPerSecond.push(event.row.foreignBytesPerSecond);
      series.processorShare.push(event.row.processorShare);
      return;
    }
    case 'io-mode':
      conditions.ioMode = event.ioMode;
      return;
    case 'told':
      conditions.told = { start: null, end: null, ...conditions.told, [event.at]: event.health };
      return;
    case 'copy-rows':
      if (run.copy) appendColumns(run.copy.rows, event.rows);
      return;
    case 'copy-watch':
      if (run.copy) appendColumns(run.copy.watch, event.rows);
      return;
    case 'copy-leg':
      run.copy?.legs.push(event.leg);
      return;
    case 'copy-note':
      if (run.copy && run.copy.notes.length < MOST_COPY_NOTES) run.copy.notes.push(event.note);
      return;
    case 'loudness':
      run.loudness = event.loudness;
      return;
    case 'ended':
      run.state = event.state;
      run.endedAt = event.endedAt;
      run.failure = event.failure;
      conditions.end = event.freeBytes === null ? null : { freeBytes: event.freeBytes, connection: event.connection };
  }
}
