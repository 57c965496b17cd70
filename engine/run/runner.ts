import { hostname, release, type as systemType } from 'node:os';
import { Problem } from '#core/problem.ts';
import {
  RUN_DOCUMENT_VERSION,
  emptyLatency,
  emptySamples,
  type RunDocument,
  type RunState,
} from '#core/run/run-document.ts';
import type { RunEvent, RunProgress } from '#core/run/run-events.ts';
import { usableBytes } from '#core/supply/room.ts';
import type { Recipe } from '#engine/recipes/recipe.ts';
import { lockDevice } from '#engine/run/device-locks.ts';
import type { Session, StepOutcome, TransferStep, Volume } from '#engine/volumes/volume.ts';

export const SOFTWARE_VERSION = '0.1.0';

export interface RunRequest {
  runId: string;
  volume: Volume;
  /** Folder on a real volume; empty for stand-ins. */
  folder: string;
  recipe: Recipe<object>;
  options: object;
}

/** What is known of the drive's near past when a run begins. */
export interface DriveHistory {
  restSeconds: number | null;
  writtenLastHourBytes: number | null;
}

/** The run document as it is before its first sample. */
export function openRunDocument(
  { runId, recipe, options, volume: { info } }: RunRequest,
  drive: RunDocument['drive'],
  history: DriveHistory,
  state: RunState,
  startedAt: string,
): RunDocument {
  return {
    tavrox: RUN_DOCUMENT_VERSION,
    id: runId,
    recipe: recipe.id,
    options: { ...options },
    state,
    startedAt,
    endedAt: null,
    note: '',
    example: false,
    drive,
    volume: {
      id: info.id,
      kind: info.kind,
      label: info.label,
      mountPoint: info.mountPoint,
      filesystem: info.filesystem,
      totalBytes: info.totalBytes,
      freeBytes: info.freeBytes,
    },
    connection: info.connection,
    conditions: {
      software: { version: SOFTWARE_VERSION, platform: `${systemType()} ${release()}`, host: hostname() },
      ioMode: info.kind === 'stand-in' ? 'simulated' : 'direct',
      start: {
        freeBytes: info.freeBytes,
        totalBytes: info.totalBytes,
        discardSupported: info.discardSupported,
        onBattery: null,
        knownCacheBytes: info.knownCacheBytes,
        ...history,
      },
      end: null,
      bypass: [],
      verification: { checkedBytes: 0, mismatches: [] },
      series: { atSeconds: [], temperatureCelsius: [], foreignBytesPerSecond: [], processorShare: [] },
    },
    samples: emptySamples(),
    latency: emptyLatency(),
    markers: [],
    failure: null,
  };
}

/**
 * Everything that can be checked before a run is accepted.
 * @throws Problem; nothing has been written then
 */
export async function checkRun({ runId, volume, folder, recipe, options }: RunRequest): Promise<void> {
  await volume.check({ runId, folder });
  recipe.check(options, { roomBytes: usableBytes(volume.info.freeBytes) });
}

/**
 * Carries out a run to its end and tells of it through `emit`; the last event is `ended`. Whatever
 * happens on the way, the scratch space is removed and the device freed, and what was measured
 * stays measured. Never throws: a failure is the run's.
 */
export async function carryOutRun(
  request: RunRequest,
  emit: (event: RunEvent) => void,
  onProgress: (progress: RunProgress) => void,
  signal: AbortSignal,
): Promise<void> {
  let state: RunState = 'finished';
  let failure: RunDocument['failure'] = null;
  let freeBytes: number | null = null;
  try {
    // A stand-in is this process's own and disturbs nobody.
    const { kind, deviceKey } = request.volume.info;
    const lock = kind === 'real' ? lockDevice(deviceKey, request.runId) : null;
    try {
      const session = await request.volume.openSession({ runId: request.runId, folder: request.folder });
      try {
        await executePlan(request, session, emit, onProgress, signal);
        if (signal.aborted) state = 'stopped';
      } finally {
        await session.close();
        freeBytes = await session.freeBytes().catch(() => null);
      }
    } finally {
      lock?.release();
    }
  } catch (error) {
    state = 'failed';
    failure = failureOf(error);
  }
  emit({ type: 'ended', state, endedAt: new Date().toISOString(), freeBytes, failure });
}

function failureOf(error: unknown): NonNullable<RunDocument['failure']> {
  if (error instanceof Problem) return { code: error.code, detail: error.detail };
  const { code, message } = error as NodeJS.ErrnoException;
  return {
    code: 'run-failed',
    detail: `The run ended on an error (${code ?? message}). What was measured before is kept.`,
  };
}

async function executePlan(
  request: RunRequest,
  session: Session,
  emit: (event: RunEvent) => void,
  onProgress: (progress: RunProgress) => void,
  signal: AbortSignal,
): Promise<void> {
  const { recipe, options } = request;
  const plan = recipe.plan(options, { roomBytes: session.roomBytes });
  const track = trackProgress(recipe, options, onProgress);
  let outcome: StepOutcome = { bytes: 0, transferSeconds: 0, flushSeconds: 0, firstSeconds: 0 };
  let ioMode = session.ioMode;
  emit({ type: 'io-mode', ioMode });
  try {
    while (!signal.aborted) {
      const { value: step, done } = plan.next(outcome);
      if (done) break;
      if (step.kind === 'transfer') track.begin(step);
      outcome = await session.execute(
        step,
        (event) => {
          emit(event);
          if (event.type === 'samples')
            track.moved(event.samples.atSeconds.at(-1)!, event.samples.cumulativeBytes.at(-1)!);
        },
        signal,
      );
      if (session.ioMode !== ioMode) emit({ type: 'io-mode', ioMode: (ioMode = session.ioMode) });
    }
  } finally {
    plan.return();
  }
}

/** Progress from the transfers done and the share of the one that goes on. */
function trackProgress(recipe: Recipe<object>, options: object, onProgress: (progress: RunProgress) => void) {
  const total = recipe.transferCount(options);
  let begun = 0;
  let step: TransferStep | undefined;
  let firstSeconds: number | null = null;
  let originBytes: number | null = null;
  return {
    begin(next: TransferStep) {
      step = next;
      originBytes = null;
      if (next.phase !== 'sizing') begun += 1;
    },
    moved(atSeconds: number, cumulativeBytes: number) {
      if (!step) return;
      originBytes ??= cumulativeBytes;
      const within = (cumulativeBytes - originBytes) / step.bytes;
      const done = begun === 0 ? 0 : begun - 1 + within;
      if (begun > 0) firstSeconds ??= atSeconds;
      const pace = done > 0.2 && firstSeconds !== null ? (atSeconds - firstSeconds) / done : null;
      onProgress({
        elapsedSeconds: atSeconds,
        remainingSeconds: total === null || pace === null ? null : Math.max(0, pace * (total - done)),
        share: total === null ? null : Math.min(1, done / total),
        text: recipe.transferText(options, step.pass, step.direction),
      });
    },
  };
}
