import { randomBytes } from 'node:crypto';
import type { ActiveRun, Annotation, LiveMessage, StartRequest } from '#core/6-exchange/api/wire.ts';
import { Problem } from '#core/1-ground/problem.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import type { RunEvent, RunProgress } from '#core/4-runs/run/run-events.ts';
import { checkOptions, type AnyRecipeKind } from '#core/3-jobs/recipes/registry.ts';
import { recipeById } from '#engine/recipes/registry.ts';
import { carryOutRun, checkRun, deviceKeysOf, openRunDocument, type RunRequest } from '#engine/run/runner.ts';
import { volumeById, type VolumesContext } from '#engine/volumes/registry.ts';
import type { PromisedRoom } from '#engine/recipes/room.ts';
import { createPauseSwitch, type RunTarget, type Volume } from '#engine/volumes/volume.ts';
import { keepRun } from '#server/runs/run-keeper.ts';
import { cardForVolume, driveReference } from '#server/store/drives.ts';
import type { Host } from '#server/store/host.ts';
import { driveHistory, insertRun, setRunState } from '#server/store/runs.ts';
import { refusalText, type Database } from '#server/store/database.ts';

/** Runs that go on, here or on other machines that share the store. */
export interface RunManager {
  /** Checks everything that can be checked first; the signal ends that. @throws Problem; nothing is left then. */
  start(request: StartRequest, signal?: AbortSignal): Promise<RunDocument>;
  /** Ends a run and keeps what it measured. @throws Problem 404 when it does not go on. */
  stop(runId: string): void;
  /** Holds a run, or lets it go on. @throws Problem 404 when it does not go on, 409 when its recipe cannot be held. */
  setPaused(runId: string, paused: boolean): void;
  /** Keeps a note or tags with a run that goes on. @returns false when it does not. */
  annotate(runId: string, change: Annotation): boolean;
  /** To be called once what a person adds to a run is kept: whoever measures it takes it over. */
  annotated(runId: string): void;
  /** The document of a run that this machine measures, as it is now. */
  activeDocument(runId: string): RunDocument | undefined;
  /** The same of a run of any machine. */
  document(runId: string): Promise<RunDocument | undefined>;
  active(): ActiveRun[];
  subscribe(listener: (message: LiveMessage) => void): () => void;
  /** Stops all runs and waits until they are kept. */
  close(): Promise<void>;
}

/** The runs of this machine, and when something of them is kept. */
export interface LocalRuns extends RunManager {
  onKept(listener: (runId: string) => void): () => void;
}

interface Job {
  request: RunRequest;
  run: RunDocument;
  abort: AbortController;
  pause: ReturnType<typeof createPauseSwitch>;
  progress: RunProgress | null;
  /** Of all physical devices that it works on. */
  deviceKeys: string[];
  /** Finds its volumes as they are now; null for a run that did not wait. */
  anew: (() => Promise<RunRequest>) | null;
  /** What it will keep of each space. */
  keeps: ReadonlyMap<string, number>;
  /** Why what it measures is only in memory for now. */
  unkept: string | null;
}

const unkeptText = (error: unknown, db: Database): string =>
  `What is being measured is held in memory and not kept yet; it is tried again every second. ${refusalText(error, db)} Do not end Tavrox before.`;

/** @throws Problem 409 for a recipe that keeps its own time */
export function checkCanBeHeld({ canBeHeld, label }: Pick<AnyRecipeKind, 'canBeHeld' | 'label'>): void {
  if (canBeHeld) return;
  throw new Problem('cannot-hold', `${label} keeps its own time and cannot be held. Stop it instead.`, { status: 409 });
}

/** One run at a time per physical device; others wait in the order in which they came. */
export function createRunManager(
  db: Database,
  volumes: VolumesContext,
  onFault: (error: unknown) => void,
  host: Host,
): LocalRuns {
  const jobs: Job[] = [];
  const finishing = new Set<Promise<void>>();
  const listeners = new Set<(message: LiveMessage) => void>();
  const keptListeners = new Set<(runId: string) => void>();
  const tell = (message: LiveMessage): void => listeners.forEach((listener) => listener(message));
  let closed = false;
  const closing = new AbortController();

  const active = (): ActiveRun[] =>
    jobs.map(({ run, progress, request, unkept }) => ({
      runId: run.id,
      driveId: run.drive.id,
      driveLabel: run.drive.label,
      volumeId: request.volume.info.id,
      targetVolumeIds: request.targets.map(({ volume }) => volume.info.id),
      recipeId: run.recipe,
      state: run.state === 'queued' ? 'queued' : 'running',
      progress,
      unkept,
      host: null,
    }));

  /**
   * The ledger of room: what runs that were asked for before have yet to take for good. One that goes on has taken some
   * already, or holds what it will give back.
   */
  const promisedBefore = (job: Job | null, volumes: readonly Volume[]): PromisedRoom => {
    const before = job === null ? jobs : jobs.slice(0, jobs.indexOf(job));
    const promised = new Map<string, number>();
    for (const { info } of volumes.filter((one) => one.info.kind === 'real')) {
      const inSpace = before.map(({ keeps, run, request }) => {
        const ends = [request.volume, ...request.targets.map(({ volume }) => volume)];
        const end = ends.find((one) => one.info.spaceKey === info.spaceKey);
        // One that is over and only has to be kept has taken what it keeps.
        if (end === undefined || run.endedAt !== null) return 0;
        const taken = run.state === 'running' ? end.info.freeBytes - info.freeBytes : 0;
        return (keeps.get(info.spaceKey) ?? 0) - taken;
      });
      promised.set(
        info.spaceKey,
        inSpace.reduce((sum, bytes) => sum + bytes, 0),
      );
    }
    return promised;
  };

  const startNext = (): void => {
    for (const job of jobs) {
      const isOnSame = (other: Job) => other.deviceKeys.some((key) => job.deviceKeys.includes(key));
      const busy = jobs.some((other) => other.run.state === 'running' && isOnSame(other));
      if (job.run.state === 'queued' && !busy && !closed) {
        job.run.state = 'running';
        job.run.startedAt = new Date().toISOString();
        const work = carryOut(job).catch(onFault);
        finishing.add(work);
        void work.finally(() => finishing.delete(work));
      }
    }
    tell({ type: 'active', active: active() });
  };

  async function carryOut(job: Job): Promise<void> {
    const { run, request, abort } = job;
    try {
      const keeper = keepRun(db, run, {
        onRefused(error) {
          if (error !== null && job.unkept === null) onFault(error);
          job.unkept = error === null ? null : unkeptText(error, db);
          tell({ type: 'active', active: active() });
        },
        onKept: () => keptListeners.forEach((listener) => listener(run.id)),
      });
      let ended: RunEvent | undefined;
      await carryOutRun(
        { ...request, run },
        (event) => {
          // The end is reported once the run is kept: who hears of it may ask for it.
          if (event.type === 'ended') ended = event;
          else tell({ type: 'event', runId: run.id, event });
          keeper.record(event);
        },
        (progress) => {
          job.progress = progress;
          tell({ type: 'progress', runId: run.id, progress });
        },
        { signal: abort.signal, pause: job.pause },
        job.anew,
      );
      // The device is free for the next while what could not be kept yet is tried again.
      startNext();
      if (!(await keeper.finish(closing.signal))) return;
      if (ended) tell({ type: 'event', runId: run.id, event: ended });
    } finally {
      jobs.splice(jobs.indexOf(job), 1);
      startNext();
    }
  }

  /** Keeps a run that waits, with cards for drives that had none. */
  async function openRun(asked: RunRequest): Promise<RunDocument> {
    const card = await cardForVolume(db, asked.volume.info, false);
    const others = [];
    for (const { volume } of asked.targets) others.push(driveReference(await cardForVolume(db, volume.info, false)));
    const now = new Date();
    const history = await driveHistory(db, card.id, now);
    const run = openRunDocument(asked, [driveReference(card), ...others], history, 'queued', now.toISOString());
    await insertRun(db, run, host.id);
    return run;
  }

  async function start(
    { volumeId, folder, recipeId, options, targets = [] }: StartRequest,
    signal?: AbortSignal,
  ): Promise<RunDocument> {
    const recipe = recipeById(recipeId);
    const checked = checkOptions(recipe.kind, options);
    const volume = await volumeById(volumeId, volumes);
    const runId = randomBytes(6).toString('hex');
    const targetsNow = () =>
      Promise.all(
        targets.map(async (target) => ({
          volume: await volumeById(target.volumeId, volumes),
          folder: target.folder,
        })),
      );
    const further = await targetsNow();
    const request = (volume: Volume, targets: readonly RunTarget[], job: Job | null): RunRequest => {
      const promised = promisedBefore(job, [volume, ...targets.map((target) => target.volume)]);
      return { runId, volume, folder, recipe, options: checked, targets, promised };
    };
    const asked = request(volume, further, null);
    const keeps = await checkRun(asked, signal);
    if (closed) throw new Problem('closing', 'Tavrox is being stopped. Start it again first.', { status: 503 });
    const run = await openRun(asked).catch((error: unknown) => {
      if (error instanceof Problem) throw error;
      throw new Problem('not-kept', `The run was not started, since it could not be kept. ${refusalText(error, db)}`, {
        status: 507,
        cause: error,
      });
    });
    const job: Job = {
      request: asked,
      run,
      abort: new AbortController(),
      pause: createPauseSwitch(),
      progress: null,
      deviceKeys: deviceKeysOf(asked),
      anew: null,
      keeps,
      unkept: null,
    };
    jobs.push(job);
    startNext();
    if (job.run.state === 'queued') {
      job.anew = async () => {
        job.request = request(await volumeById(volumeId, volumes), await targetsNow(), job);
        return job.request;
      };
    }
    return run;
  }

  /** One after the other: what is promised to one is known to the next. */
  let starting: Promise<unknown> = Promise.resolve();

  return {
    start(request, signal) {
      const started = starting.then(() => start(request, signal));
      starting = started.catch(() => undefined);
      return started;
    },
    stop(runId) {
      const job = jobs.find((one) => one.run.id === runId);
      if (!job) throw new Problem('not-running', `The run “${runId}” is not going on.`, { status: 404 });
      job.abort.abort();
      if (job.run.state === 'queued') dropWaiting(job);
    },
    setPaused(runId, paused) {
      const job = jobs.find((one) => one.run.id === runId && one.run.state === 'running');
      if (!job) throw new Problem('not-running', `The run “${runId}” is not going on.`, { status: 404 });
      checkCanBeHeld(job.request.recipe.kind);
      job.pause.set(paused);
    },
    annotate(runId, change) {
      const job = jobs.find((one) => one.run.id === runId);
      if (job) Object.assign(job.run, change);
      return job !== undefined;
    },
    annotated: () => undefined,
    activeDocument: (runId) => jobs.find((job) => job.run.id === runId)?.run,
    document: (runId) => Promise.resolve(jobs.find((job) => job.run.id === runId)?.run),
    onKept(listener) {
      keptListeners.add(listener);
      return () => keptListeners.delete(listener);
    },
    active,
    subscribe(listener) {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    async close() {
      closed = true;
      for (const job of [...jobs]) {
        job.abort.abort();
        if (job.run.state === 'queued') dropWaiting(job);
      }
      closing.abort();
      await Promise.all(finishing);
    },
  };

  /** A waiting run that is stopped never starts, and is kept as stopped. */
  function dropWaiting(job: Job): void {
    jobs.splice(jobs.indexOf(job), 1);
    job.run.state = 'stopped';
    job.run.endedAt = new Date().toISOString();
    const work = setRunState(db, job.run).catch(onFault);
    finishing.add(work);
    void work.finally(() => finishing.delete(work));
    const ended: RunEvent = {
      type: 'ended',
      state: 'stopped',
      endedAt: job.run.endedAt,
      freeBytes: null,
      connection: null,
      failure: null,
    };
    tell({ type: 'event', runId: job.run.id, event: ended });
    tell({ type: 'active', active: active() });
  }
}
