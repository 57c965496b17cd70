import { hostname, release, type as systemType } from 'node:os';
import type { Connection } from '#core/2-trade/links/connection.ts';
import { Problem } from '#core/1-ground/problem.ts';
import {
  RUN_DOCUMENT_VERSION,
  emptyConditions,
  emptyFiles,
  emptyFrames,
  emptyLatency,
  emptySamples,
  type RunDocument,
  type RunState,
} from '#core/4-runs/run/run-document.ts';
import { openCopyRecord } from '#core/4-runs/run/copy-record.ts';
import { MOST_TARGETS } from '#core/3-jobs/recipes/copy.ts';
import type { RunEvent, RunProgress } from '#core/4-runs/run/run-events.ts';
import type { PlanFacts } from '#engine/recipes/recipe.ts';
import { NOTHING_PROMISED, roomOf, type PromisedRoom } from '#engine/recipes/room.ts';
import type { AnyRecipe } from '#engine/recipes/registry.ts';
import type { ProcessLock } from '#engine/locks/process-lock.ts';
import { lockDevice } from '#engine/run/device-locks.ts';
import { trackProgress } from '#engine/run/progress.ts';
import { SOFTWARE_VERSION } from '#engine/software.ts';
import { whatHappened } from '#engine/system-words.ts';
import {
  NOTHING_MOVED,
  type RunTarget,
  type Session,
  type StepControl,
  type Volume,
  type VolumeInfo,
} from '#engine/volumes/volume.ts';
import { system } from '#engine/system/this-system.ts';

export interface RunRequest {
  runId: string;
  volume: Volume;
  /** Folder on a real volume; empty for stand-ins. */
  folder: string;
  recipe: AnyRecipe;
  options: object;
  /** Further volumes that it writes to; empty for most recipes. */
  targets: readonly RunTarget[];
  /** What runs that were asked for before take from its spaces; nothing where it is not said. */
  promised?: PromisedRoom;
  /** The document that the events are applied to, for recipes that go by what they see. */
  run?: RunDocument;
}

/** What is known of the drive's near past when a run begins. */
export interface DriveHistory {
  restSeconds: number | null;
  writtenLastHourBytes: number | null;
  /** Lowest temperature at which a run on it began. */
  coolestCelsius: number | null;
}

export const NO_HISTORY: DriveHistory = { restSeconds: null, writtenLastHourBytes: null, coolestCelsius: null };

const snapshotOf = ({ id, kind, label, mountPoint, filesystem, totalBytes, freeBytes }: VolumeInfo) => ({
  id,
  kind,
  label,
  mountPoint,
  filesystem,
  totalBytes,
  freeBytes,
});

/** All ends of a copy, the source first; null for every other run. */
function copyRecordFor({ recipe, volume, folder, targets }: RunRequest, drives: readonly RunDocument['drive'][]) {
  if (!recipe.kind.hasTargets) return null;
  return openCopyRecord(
    [{ volume, folder }, ...targets].map((end, index) => ({
      drive: drives[index]!,
      volume: snapshotOf(end.volume.info),
      connection: end.volume.info.connection,
      folder: end.folder,
    })),
  );
}

/**
 * The run document as it is before its first sample.
 * @param drives that of the volume, and those of the targets after it
 */
export function openRunDocument(
  request: RunRequest,
  drives: readonly [RunDocument['drive'], ...RunDocument['drive'][]],
  history: DriveHistory,
  state: RunState,
  startedAt: string,
): RunDocument {
  const {
    runId,
    recipe,
    options,
    volume: { info },
  } = request;
  return {
    tavrox: RUN_DOCUMENT_VERSION,
    id: runId,
    recipe: recipe.kind.id,
    options: { ...options },
    state,
    startedAt,
    endedAt: null,
    note: '',
    tags: [],
    leftOut: false,
    example: false,
    drive: drives[0],
    volume: snapshotOf(info),
    connection: info.connection,
    conditions: {
      ...emptyConditions(info),
      software: { version: SOFTWARE_VERSION, platform: `${systemType()} ${release()}`, host: hostname() },
      ioMode: info.kind === 'stand-in' ? 'simulated' : 'direct',
      start: {
        ...emptyConditions(info).start,
        discardSupported: info.discardSupported,
        onBattery: info.kind === 'stand-in' ? null : system.onBattery(),
        knownCacheBytes: info.knownCacheBytes,
        ...history,
      },
    },
    samples: emptySamples(),
    latency: emptyLatency(),
    markers: [],
    frames: emptyFrames(),
    files: emptyFiles(),
    copy: copyRecordFor(request, drives),
    loudness: null,
    failure: null,
  };
}

/**
 * Everything that can be checked before a run is accepted.
 * @param signal ends the looking at a folder that holds very much
 * @returns bytes that it will keep of each space
 * @throws Problem; nothing has been written then
 */
export async function checkRun(request: RunRequest, signal?: AbortSignal): Promise<Map<string, number>> {
  const { volume, recipe, options, targets, runId } = request;
  checkTargets(request);
  await volume.check(sessionRequest(request));
  for (const target of targets) {
    await target.volume.check({
      runId,
      folder: target.folder,
      readOnly: false,
      mayOnlyRead: false,
      readsFolder: false,
    });
  }
  await volume.checkTargets(sessionRequest(request), targets);
  const facts = factsOf(request, await fileSizesFor(request, signal));
  recipe.check(options, facts);
  const left = recipe.leaves?.(options, facts) ?? { here: 0, atEachTarget: 0 };
  const kept = new Map([[facts.room.space, left.here]]);
  for (const { space } of facts.targetRooms) kept.set(space, (kept.get(space) ?? 0) + left.atEachTarget);
  return kept;
}

function factsOf(
  { volume, targets, promised, run }: RunRequest,
  fileSizes: readonly number[],
  tellJobs: PlanFacts['tellJobs'] = () => undefined,
): PlanFacts {
  const room = ({ volume: { info } }: { volume: Volume }) => roomOf(info, promised ?? NOTHING_PROMISED);
  return {
    isSimulated: volume.info.kind === 'stand-in',
    room: room({ volume }),
    targetRooms: targets.map(room),
    fileSizes,
    run: run ?? null,
    tellJobs,
  };
}

/** @throws Problem when a recipe has no target that needs one, or one that takes none */
function checkTargets({ recipe, targets, volume }: RunRequest): void {
  const { hasTargets, label } = recipe.kind;
  const refuse = (detail: string) => {
    throw new Problem('bad-input', detail, { where: 'targets' });
  };
  if (!hasTargets && targets.length > 0) refuse(`targets: ${label} measures one volume and takes none.`);
  if (hasTargets && targets.length === 0) refuse(`targets: ${label} needs a volume to copy to. Name one.`);
  if (targets.length > MOST_TARGETS) refuse(`targets: at most ${MOST_TARGETS} volumes in one copy.`);
  const other = targets.find((target) => target.volume.info.kind !== volume.info.kind);
  if (other) {
    refuse(
      `targets: ${volume.info.label} and ${other.volume.info.label} are not both real or both simulated, and nothing can be copied between such.`,
    );
  }
}

function sessionRequest({ runId, folder, recipe, options }: RunRequest) {
  return {
    runId,
    folder,
    readOnly: recipe.kind.readOnly || (recipe.leavesSource?.(options) ?? false),
    mayOnlyRead: recipe.mayOnlyRead?.(options) ?? false,
    readsFolder: recipe.needsFileSizes?.(options) ?? false,
  };
}

/** File sizes are looked for only where the options ask for them: a folder can hold very many. */
function fileSizesFor(request: RunRequest, signal?: AbortSignal): Promise<readonly number[]> {
  const wanted = request.recipe.needsFileSizes?.(request.options) ?? false;
  return wanted ? request.volume.fileSizes(sessionRequest(request), signal) : Promise.resolve([]);
}

/**
 * Carries out a run to its end and tells of it through `emit`; the last event is `ended`. Whatever
 * happens on the way, the scratch space is removed and the device freed, and what was measured
 * stays measured. Never throws: a failure is the run's.
 * @param anew finds the volumes of a run that has waited once more: what was free then need not be now
 */
export async function carryOutRun(
  asked: RunRequest,
  emit: (event: RunEvent) => void,
  onProgress: (progress: RunProgress) => void,
  control: StepControl,
  anew: (() => Promise<RunRequest>) | null = null,
): Promise<void> {
  let connection: Connection | null = null;
  let state: RunState = 'finished';
  let failure: RunDocument['failure'] = null;
  let freeBytes: number | null = null;
  try {
    const request: RunRequest = anew ? { ...(await anew()), ...(asked.run ? { run: asked.run } : {}) } : asked;
    if (anew) await checkRun(request, control.signal);
    // A stand-in is this process's own and disturbs nobody.
    const { kind } = request.volume.info;
    const locks = kind === 'real' ? lockDevices(request) : [];
    const letSleep = kind === 'real' ? system.keepAwake() : () => undefined;
    let whole = false;
    try {
      // Looked for before the session makes files of its own in the folder.
      const fileSizes = await fileSizesFor(request, control.signal);
      const session = request.recipe.kind.hasTargets
        ? await request.volume.openCopy(sessionRequest(request), request.targets)
        : await request.volume.openSession(sessionRequest(request));
      try {
        await tellHealth(request.volume, 'start', emit);
        await executePlan(request, session, fileSizes, emit, onProgress, control);
        if (control.signal.aborted) state = 'stopped';
        whole = true;
      } finally {
        connection = await session.changedConnection().catch(() => null);
        const keeps = whole && (request.recipe.keepsScratch?.(request.options) ?? false);
        await session.close(keeps, emit).catch((error: unknown) => {
          // What fails on the way out of a failure hides what it was.
          if (whole) throw error;
        });
        freeBytes = await session.freeBytes().catch(() => null);
        await tellHealth(request.volume, 'end', emit);
      }
    } finally {
      letSleep();
      locks.forEach((lock) => lock.release());
    }
  } catch (error) {
    if (control.signal.aborted && (error as Error).name === 'AbortError') state = 'stopped';
    else {
      state = 'failed';
      failure = failureOf(error);
    }
  }
  emit({ type: 'ended', state, endedAt: new Date().toISOString(), freeBytes, connection, failure });
}

/** What the drive says of itself at an end of the run; a run can do without. */
async function tellHealth(volume: Volume, at: 'start' | 'end', emit: (event: RunEvent) => void): Promise<void> {
  const health = await volume.health().catch(() => null);
  if (health !== null) emit({ type: 'told', at, health });
}

/** Keys of all physical devices that a run works on. */
export const deviceKeysOf = ({ volume, targets }: Pick<RunRequest, 'volume' | 'targets'>): string[] => [
  ...new Set([volume, ...targets.map((target) => target.volume)].map(({ info }) => info.deviceKey)),
];

/** The right to all devices of a run, or to none of them. @throws Problem `device-busy` */
function lockDevices(request: RunRequest): ProcessLock[] {
  const locks: ProcessLock[] = [];
  try {
    for (const key of deviceKeysOf(request)) locks.push(lockDevice(key, request.runId));
    return locks;
  } catch (error) {
    locks.forEach((lock) => lock.release());
    throw error;
  }
}

function failureOf(error: unknown): NonNullable<RunDocument['failure']> {
  if (error instanceof Problem) return { code: error.code, detail: error.detail };
  return {
    code: 'run-failed',
    detail: `${whatHappened(error)}. What was measured before is kept.`,
  };
}

async function executePlan(
  request: RunRequest,
  session: Session,
  fileSizes: readonly number[],
  emit: (event: RunEvent) => void,
  onProgress: (progress: RunProgress) => void,
  control: StepControl,
): Promise<void> {
  const { recipe, options } = request;
  const track = trackProgress(recipe, options, control, onProgress);
  const plan = recipe.plan(options, factsOf(request, fileSizes, track.jobs));
  const leave = control.pause.onChange(track.told);
  let outcome = NOTHING_MOVED;
  let ioMode = session.ioMode;
  emit({ type: 'io-mode', ioMode });
  try {
    while (!control.signal.aborted) {
      const { value: step, done } = plan.next(outcome);
      if (done) break;
      track.begin(step);
      outcome = await session.execute(
        step,
        (event) => {
          emit(event);
          track.heard(event);
        },
        control,
      );
      if (session.ioMode !== ioMode) emit({ type: 'io-mode', ioMode: (ioMode = session.ioMode) });
    }
  } finally {
    leave();
    plan.return();
  }
}
