import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { Suspense, lazy, memo, useMemo, useState, type ReactNode } from 'react';
import { useNavigate, useParams } from 'react-router';
import type { RunListEntry, VolumeEntry } from '#core/api/wire.ts';
import { bindingHop } from '#core/links/connection.ts';
import { Problem } from '#core/problem.ts';
import type { RunDocument } from '#core/run/run-document.ts';
import type { ShortPassesOptions } from '#core/run/short-passes-options.ts';
import { blockText, bytesText, formatClock, formatDuration } from '#core/units/format.ts';
import { api } from '../../api/client.ts';
import { PlaceLayout } from '../../frame/PlaceLayout.tsx';
import { useShortcuts } from '../../frame/shortcuts.ts';
import { EmptyPlace, ProblemText } from '../../kit/words.tsx';
import { TracePicture } from '../../pictures/TracePicture.tsx';
import { useContextStore } from '../../state/context.ts';
import { useLibrary } from '../../state/library.ts';
import { useLive } from '../../state/live.ts';
import { useRun, type FollowedRun } from '../../state/use-run.ts';
import { ink } from '../../theme/tokens.ts';
import { FiguresTable } from './FiguresTable.tsx';
import { RunColumn } from './RunColumn.tsx';
import { VolumesColumn } from './VolumesColumn.tsx';
import { useAnalysis, type RunAnalysis } from './use-analysis.ts';

const FolderSheet = lazy(() => import('./FolderSheet.tsx'));
const OptionsSheet = lazy(() => import('./OptionsSheet.tsx'));

/** Measure: a run as it goes on, or one that was kept, over the need lines of the workload. */
export function Component() {
  const { runId } = useParams();
  const navigate = useNavigate();
  const { volumes, runs } = useLibrary();
  const { driveIds, targetVolumeId, folders, shortPasses, traceAxis, set } = useContextStore();
  const active = useLive((state) => state.active);
  const [sheet, setSheet] = useState<'folder' | 'options' | null>(null);
  const [problem, setProblem] = useState<string>();

  // The current drive's volume; or one just chosen, whose drive has no card before its first run.
  const justChosen = volumes?.find((volume) => volume.id === targetVolumeId);
  const fresh = justChosen !== undefined && (justChosen.driveId === null || justChosen.driveId === driveIds[0]);
  const target = fresh
    ? justChosen
    : volumes?.find((volume) => volume.driveId !== null && volume.driveId === driveIds[0]);
  const driveId = target ? target.driveId : driveIds[0];
  const history = useMemo(() => (runs ?? []).filter((entry) => entry.run.drive.id === driveId), [runs, driveId]);
  const shownId = runId ?? history[0]?.run.id;
  const followed = useRun(shownId);
  const { run, problem: runProblem } = followed;
  // The run itself is known before the feed of what goes on has told of it.
  const activeRun =
    active.find((one) => one.runId === shownId) ??
    (run?.endedAt === null ? { runId: run.id, state: run.state } : undefined);

  const start = async () => {
    if (!target) {
      setSheet('folder');
      return;
    }
    const folder = target.kind === 'real' ? folders[target.id] : '';
    if (folder === undefined) {
      setSheet('folder');
      return;
    }
    try {
      const { id } = await api.startRun({
        volumeId: target.id,
        folder,
        recipeId: 'short-passes',
        options: shortPasses,
      });
      setProblem(undefined);
      await useLibrary.getState().refresh();
      const started = useLibrary.getState().runs?.find((entry) => entry.run.id === id);
      if (started) useContextStore.getState().makeCurrent(started.run.drive.id);
      void navigate(`/measure/runs/${id}`);
    } catch (error) {
      setProblem((error as Problem).detail);
    }
  };
  const stop = () => {
    if (activeRun) api.stopRun(activeRun.runId).catch((error: unknown) => setProblem((error as Problem).detail));
  };

  useShortcuts((key) => {
    if (key === 'g') void (activeRun ? stop() : start());
    if (key === 'x') set({ traceAxis: traceAxis === 'bytes' ? 'seconds' : 'bytes' });
    if (key === 'j' || key === 'k') {
      const at = history.findIndex((entry) => entry.run.id === shownId);
      const next = history[at + (key === 'j' ? 1 : -1)];
      if (next) void navigate(`/measure/runs/${next.run.id}`);
    }
  });

  const actions = (
    <>
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
      {activeRun ? (
        <Button variant="contained" onClick={stop} fullWidth>
          {activeRun.state === 'queued' ? 'Do not start' : 'Stop, keep result'}
        </Button>
      ) : (
        <Button variant="contained" onClick={() => void start()} fullWidth>
          {target ? 'Start' : 'Choose a volume'}
        </Button>
      )}
      <Typography variant="caption" component="p" sx={{ color: ink('second'), mt: 1 }}>
        {activeRun
          ? 'The run goes on when this tab is closed.'
          : target
            ? `${optionsText(shortPasses)}.`
            : 'A first reading takes seconds.'}
      </Typography>
    </>
  );

  const setUp = <SetUpLine target={target} folder={target ? folders[target.id] : undefined} onSheet={setSheet} />;
  return (
    <>
      {run ? (
        <RunLayout run={run} followed={followed} history={history} actions={actions} setUp={setUp} />
      ) : (
        <PlaceLayout column={<VolumesColumn volumes={volumes} />} actions={actions}>
          {setUp}
          {runProblem && <ProblemText>{runProblem.detail}</ProblemText>}
          {!runProblem && runs !== undefined && shownId === undefined && (
            <EmptyPlace
              title="No run of this drive yet"
              action={
                <Button variant="outlined" onClick={() => setSheet('folder')}>
                  Choose where to measure
                </Button>
              }
            >
              The trace of a run will be here: what the drive wrote and read from second to second, with the data rates
              of your workload drawn across it. Choose a volume and a folder on it, then start. The first reading is
              there within seconds.
            </EmptyPlace>
          )}
        </PlaceLayout>
      )}
      <Suspense>
        {sheet === 'folder' && <FolderSheet onClose={() => setSheet(null)} />}
        {sheet === 'options' && <OptionsSheet onClose={() => setSheet(null)} />}
      </Suspense>
    </>
  );
}

interface RunLayoutProps {
  run: RunDocument;
  followed: FollowedRun;
  history: readonly RunListEntry[];
  actions: ReactNode;
  setUp: ReactNode;
}

/** The place with a run in it: its analysis is made once for picture and words. */
function RunLayout({ run, followed, history, actions, setUp }: RunLayoutProps) {
  const analysis = useAnalysis(run, followed);
  return (
    <PlaceLayout
      column={
        <RunColumn
          run={run}
          settledRevision={followed.settledRevision}
          doubts={analysis.doubts}
          judged={analysis.judged}
          history={history}
        />
      }
      actions={actions}
    >
      {setUp}
      <RunView run={run} analysis={analysis} />
    </PlaceLayout>
  );
}

function optionsText({ passes, seconds, sizeBytes, blockBytes, depth }: ShortPassesOptions): string {
  const count = passes === null ? 'Passes until stopped' : `${passes} ${passes === 1 ? 'pass' : 'passes'}`;
  const size = sizeBytes === null ? `about ${formatDuration(seconds)}` : bytesText(sizeBytes);
  return `${count} of ${size} a direction, ${blockText(blockBytes)} blocks at depth ${depth}`;
}

interface SetUpLineProps {
  target: VolumeEntry | undefined;
  folder: string | undefined;
  onSheet: (sheet: 'folder' | 'options') => void;
}

const SetUpLine = memo(function SetUpLine({ target, folder, onSheet }: SetUpLineProps) {
  const where =
    target === undefined
      ? 'a volume you choose'
      : target.kind === 'stand-in'
        ? `${target.label}, simulated`
        : (folder ?? target.mountPoint);
  return (
    <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1.25, mb: 1, minWidth: 0 }}>
      <Typography variant="h1" sx={{ flex: 'none' }}>
        Short passes
      </Typography>
      <Typography variant="body2" component="span" sx={{ color: ink('second'), flex: 'none' }}>
        on
      </Typography>
      <Button
        variant="text"
        onClick={() => onSheet('folder')}
        title={where}
        sx={{ minWidth: 0, flexShrink: 1, justifyContent: 'flex-start' }}
      >
        <Box
          component="span"
          sx={{
            overflow: 'hidden',
            textOverflow: 'ellipsis',
            whiteSpace: 'nowrap',
            direction: target?.kind === 'real' ? 'rtl' : 'ltr',
          }}
        >
          <bdi>{where}</bdi>
        </Box>
      </Button>
      <Box sx={{ flex: 1 }} />
      <Button variant="text" onClick={() => onSheet('options')} sx={{ flex: 'none', fontWeight: 400 }}>
        Options
      </Button>
    </Box>
  );
});

/** Picture and figures of a run. */
function RunView({ run, analysis: { passes, apart, figures, judged } }: { run: RunDocument; analysis: RunAnalysis }) {
  const { traceAxis, set } = useContextStore();
  const live = run.endedAt === null;
  const needLines = useMemo(
    () =>
      judged.map(({ demand, verdict }) => ({
        id: demand.itemId,
        name: demand.name,
        bytesPerSecond: demand.bytesPerSecond,
        verdict: verdict.verdict,
      })),
    [judged],
  );
  const hop = bindingHop(run.connection);
  const { series } = run.conditions;
  const temperature = series.atSeconds.map((atSeconds, row) => ({
    atSeconds,
    celsius: series.temperatureCelsius[row]!,
  }));

  return (
    <>
      <Box sx={{ display: 'flex', justifyContent: 'space-between', alignItems: 'baseline', mb: 0.5 }}>
        <Typography
          variant="body2"
          sx={{ color: ink('second'), overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
        >
          <RunStateText run={run} />
        </Typography>
        <Button
          variant="text"
          sx={{ flex: 'none', fontWeight: 400, fontSize: 13 }}
          onClick={() => set({ traceAxis: traceAxis === 'bytes' ? 'seconds' : 'bytes' })}
        >
          {traceAxis === 'bytes' ? 'Show by time' : 'Show by data moved'}
        </Button>
      </Box>
      {run.failure && <ProblemText>{run.failure.detail}</ProblemText>}
      {passes.length > 0 ? (
        <TracePicture
          passes={passes}
          apart={apart}
          axis={traceAxis}
          needLines={needLines}
          ceiling={hop ? { label: hop.label, bytesPerSecond: hop.ceilingBytesPerSecond } : null}
          temperature={temperature}
          live={live}
        />
      ) : (
        <EmptyPlace
          title={run.state === 'queued' ? 'Waiting for the device' : live ? 'Starting' : 'Nothing was measured'}
        >
          {run.state === 'queued'
            ? 'Another run uses this device. This one starts by itself when that one ends.'
            : live
              ? 'The scratch file is being made and the first requests are under way.'
              : 'The run ended before the first bytes were moved.'}
        </EmptyPlace>
      )}
      <FiguresTable figures={figures} />
    </>
  );
}

function RunStateText({ run }: { run: RunDocument }) {
  const progress = useLive((state) => state.active.find((one) => one.runId === run.id)?.progress);
  const when = new Date(run.startedAt).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' });
  if (run.endedAt === null) {
    if (!progress) return <>Starting on {run.drive.label}</>;
    const left = progress.remainingSeconds === null ? '' : `, about ${formatClock(progress.remainingSeconds)} left`;
    return (
      <span role="status">
        {progress.text}, {formatClock(progress.elapsedSeconds)} elapsed{left}
      </span>
    );
  }
  const ended = {
    finished: '',
    stopped: ', stopped',
    interrupted: ', cut off',
    failed: ', failed',
    queued: '',
    running: '',
  }[run.state];
  return (
    <>
      {run.drive.label}, {when}
      {ended}
      {run.note === '' ? '' : `: ${run.note}`}
    </>
  );
}
