import { endProgress, note, showProgress } from '#cli/output.ts';
import { onEnding } from '#cli/signals.ts';
import { measureThroughServer } from '#cli/through-server.ts';
import { formatClock } from '#core/1-ground/units/format.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { applyRunEvent, type RunProgress } from '#core/4-runs/run/run-events.ts';
import { summaryOf, type RunSummary } from '#core/4-runs/supply/run-summary.ts';
import { NO_HISTORY, carryOutRun, openRunDocument, type RunRequest } from '#engine/run/runner.ts';
import { cleanUpScratch } from '#engine/scratch/left.ts';
import { mountPointsNow } from '#engine/volumes/real/discovery.ts';
import { createPauseSwitch, type Volume } from '#engine/volumes/volume.ts';
import type { ServerNote } from '#server/serve.ts';

/** Where a run is carried out: by the server that runs on the data folder, which keeps it, or here. */
interface Where {
  server: ServerNote | undefined;
  journalFolder: string;
}

/**
 * Carries out a run that was checked, with its progress on standard error; Ctrl-C ends it with what was measured.
 * @throws Problem of the server; a failure of the run is the run's
 */
export async function carryOut(
  request: RunRequest,
  { server, journalFolder }: Where,
): Promise<RunDocument & RunSummary> {
  const abort = new AbortController();
  const leave = onEnding(() => {
    note('Stopping; what was measured is kept.');
    abort.abort();
  });
  try {
    if (!server) return await carryOutHere(request, journalFolder, abort.signal);
    const { volume, folder, recipe, options, targets } = request;
    const started = {
      volumeId: volume.info.id,
      folder,
      recipeId: recipe.kind.id,
      options,
      targets: targets.map((target) => ({ volumeId: target.volume.info.id, folder: target.folder })),
    };
    return await measureThroughServer(server, started, showRun, abort.signal);
  } finally {
    endProgress();
    leave();
  }
}

async function carryOutHere(
  request: RunRequest,
  journalFolder: string,
  signal: AbortSignal,
): Promise<RunDocument & RunSummary> {
  // Without a server nobody else cleans up after a crash of an earlier command.
  await cleanUpScratch(journalFolder, () => false, mountPointsNow);
  const unkept = ({ info }: Volume) => ({
    id: 'unkept',
    label: info.driveLabel || info.label,
    medium: info.medium,
    identity: info.identity,
  });
  const drives = request.targets.map((target) => unkept(target.volume));
  const run = openRunDocument(
    request,
    [unkept(request.volume), ...drives],
    NO_HISTORY,
    'running',
    new Date().toISOString(),
  );
  const control = { signal, pause: createPauseSwitch() };
  await carryOutRun({ ...request, run }, (event) => applyRunEvent(run, event), showRun, control);
  return { ...run, ...summaryOf(run) };
}

/** How far a run is; how each job stands where it goes on until they are decided. */
function showRun({ elapsedSeconds, remainingSeconds, text, jobs = [] }: RunProgress): void {
  const left = remainingSeconds === null ? '' : `, ${formatClock(remainingSeconds)} left`;
  const standing = jobs.map((job) => (jobs.length > 1 ? `${job.name}: ${job.text}` : job.text)).join('; ');
  const line = `${formatClock(elapsedSeconds)}  ${text}${left}${standing === '' ? '' : `  ${standing}`}`;
  showProgress(line, elapsedSeconds);
}
