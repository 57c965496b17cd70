import { checkOptions } from '#core/3-jobs/recipes/registry.ts';
import { lastSecondsOf, type RunDocument } from '#core/4-runs/run/run-document.ts';
import { applyRunEvent } from '#core/4-runs/run/run-events.ts';
import type { Fault } from '#core/4-runs/stand-ins/faults.ts';
import { recipeById } from '#engine/recipes/registry.ts';
import {
  NO_HISTORY,
  carryOutRun,
  checkRun,
  openRunDocument,
  type DriveHistory,
  type RunRequest,
} from '#engine/run/runner.ts';
import { STAND_INS, type StandIn } from '#engine/volumes/stand-in/catalogue.ts';
import { standInVolume } from '#engine/volumes/stand-in/stand-in-volume.ts';
import { createPauseSwitch, type StepControl, type VolumeInfo } from '#engine/volumes/volume.ts';

export interface Simulation {
  /** Id of a stand-in that ships, or one of one's own. */
  standIn: string | StandIn;
  recipeId: string;
  /** Further stand-ins that it writes to. */
  targets?: readonly (string | StandIn)[];
  options?: object;
  seed?: number;
  faults?: readonly Fault[];
  history?: Partial<DriveHistory>;
  runId?: string;
  startedAt?: string;
  control?: StepControl;
  /** The drive that the run belongs to; one made up for it otherwise. */
  referenceFor?: (info: VolumeInfo) => Promise<RunDocument['drive']>;
}

/** The request of a run on a stand-in, as fast as the processor allows. */
export function simulationRequest(simulation: Simulation): RunRequest {
  const { standIn, recipeId, options, seed = 1, faults = [], runId } = simulation;
  const recipe = recipeById(recipeId);
  const known = (one: string | StandIn) => (typeof one === 'string' ? STAND_INS.find(({ id }) => id === one)! : one);
  const device = known(standIn);
  return {
    runId: runId ?? `${device.id}-${recipeId}-${seed}`,
    volume: standInVolume(device, { speed: Infinity, seed }, faults),
    folder: '',
    recipe,
    options: checkOptions(recipe.kind, options),
    targets: (simulation.targets ?? []).map((target) => ({
      volume: standInVolume(known(target), { speed: Infinity, seed }),
      folder: '',
    })),
  };
}

/**
 * A run on a stand-in from beginning to end, the same for a seed on every machine: for the demo
 * workspace, for proofs and for trying out. @throws Problem when the options do not fit.
 */
export async function simulateRun(simulation: Simulation): Promise<RunDocument> {
  const { history, startedAt = '2026-03-02T09:00:00.000Z', referenceFor, control } = simulation;
  const request = simulationRequest(simulation);
  await checkRun(request);
  const referenceOf = async (info: VolumeInfo) =>
    (await referenceFor?.(info)) ?? {
      id: info.identity.value,
      label: info.label,
      medium: info.medium,
      identity: info.identity,
    };
  const drive = await referenceOf(request.volume.info);
  const others = await Promise.all(request.targets.map(({ volume }) => referenceOf(volume.info)));
  const run = openRunDocument(request, [drive, ...others], { ...NO_HISTORY, ...history }, 'running', startedAt);
  // The same on every machine: the conditions of a made-up drive are made up too.
  run.conditions.software = { ...run.conditions.software, platform: 'simulated', host: 'lowlight' };
  await carryOutRun(
    { ...request, run },
    (event) => applyRunEvent(run, event),
    () => undefined,
    control ?? { signal: new AbortController().signal, pause: createPauseSwitch() },
  );
  const seconds = lastSecondsOf(run);
  run.endedAt = new Date(Date.parse(startedAt) + seconds * 1000).toISOString();
  return run;
}
