import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { Suspense, lazy, useEffect, useMemo, useState, type ReactNode } from 'react';
import { useLoaderData, useNavigate, useParams, type LoaderFunctionArgs } from 'react-router';
import type { RunListEntry } from '#core/6-exchange/api/wire.ts';
import type { Problem } from '#core/1-ground/problem.ts';
import { recipeKindById, type AnyRecipeKind } from '#core/3-jobs/recipes/registry.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { runWords } from '#core/4-runs/supply/run-words.ts';
import { api } from '../../api/client.ts';
import { mayChange } from '../../api/session.ts';
import { PlaceLayout } from '../../frame/PlaceLayout.tsx';
import { useShortcuts } from '../../frame/shortcuts.ts';
import { EmptyPlace, ProblemText } from '../../kit/words.tsx';
import { useContextStore } from '../../state/context.ts';
import { refresh, useLibrary } from '../../state/library.ts';
import { useLive } from '../../state/live.ts';
import { useRun, type FollowedRun } from '../../state/use-run.ts';
import { costText } from './cost-text.ts';
import { optionsOf } from './recipe-options.ts';
import { RunColumn } from './RunColumn.tsx';
import { RunView } from './RunView.tsx';
import { SetUpLine } from './SetUpLine.tsx';
import { useAnalysis } from './use-analysis.ts';
import { useAskedCard, useKnowledge, useTarget } from './use-knowledge.ts';
import { VolumesColumn } from './VolumesColumn.tsx';

const AskLine = lazy(() => import('./ask/AskLine.tsx'));
const FolderSheet = lazy(() => import('./FolderSheet.tsx'));
const RecipeSheet = lazy(() => import('./RecipeSheet.tsx'));

/** The run of the address; null where there is none in it. */
export const loader = ({ params: { runId } }: LoaderFunctionArgs): Promise<RunDocument> | null =>
  runId === undefined ? null : api.run(runId);

/** Measure: a run as it goes on, or one that was kept, over the need lines of the workload. */
export function Component() {
  const { runId } = useParams();
  const navigate = useNavigate();
  const { volumes, runs } = useLibrary();
  const { driveIds, folders, recipeId, recipeOptions, traceAxis, set } = useContextStore();
  const active = useLive((state) => state.active);
  const [sheet, setSheet] = useState<'folder' | 'recipe' | null>(null);
  const [problem, setProblem] = useState<string>();

  const target = useTarget();
  const askedCard = useAskedCard();
  const kind = recipeKindById(recipeId);
  const options = useMemo(() => optionsOf(kind, recipeOptions), [kind, recipeOptions]);
  const targetDriveId = target ? target.driveId : driveIds[0];
  // Copies are looked at in Copies first: here they would hide the drive's own traces.
  const newestId = runs.find(({ run: one }) => one.drive.id === targetDriveId && !recipeKindById(one.recipe).hasTargets)
    ?.run.id;
  const shownId = runId ?? newestId;
  const opened = useLoaderData<typeof loader>();
  const followed = useRun(shownId, opened && opened.id === shownId ? opened : undefined);
  const { run, problem: runProblem } = followed;
  const driveId = run?.drive.id ?? targetDriveId;
  const history = useMemo(() => runs.filter((entry) => entry.run.drive.id === driveId), [runs, driveId]);
  // Opening a run makes its drive the current one: what is started next goes there too.
  const openedDriveId = runId === undefined ? undefined : run?.drive.id;
  const drivesChosen = driveIds.length > 0;
  useEffect(() => {
    // Not before the first choice of drives was made: the others stay held beside it.
    if (openedDriveId === undefined || !drivesChosen) return;
    const context = useContextStore.getState();
    if (context.driveIds[0] === openedDriveId) return;
    context.makeCurrent(openedDriveId);
    context.set({ targetVolumeId: null });
  }, [openedDriveId, drivesChosen]);
  // The run itself is known before the feed of what goes on has told of it.
  const activeRun =
    active.find((one) => one.runId === shownId) ??
    (run?.endedAt === null ? { runId: run.id, state: run.state, progress: null } : undefined);

  const folder = target?.kind === 'real' ? folders[target.id] : '';
  const start = async () => {
    if (!target || folder === undefined) {
      setSheet('folder');
      return;
    }
    try {
      const { id } = await api.startRun({ volumeId: target.id, folder, recipeId, options });
      setProblem(undefined);
      await refresh('runs', 'drives', 'volumes');
      const started = useLibrary.getState().runs.find((entry) => entry.run.id === id);
      if (started) useContextStore.getState().makeCurrent(started.run.drive.id);
      void navigate(`/measure/runs/${id}`);
    } catch (error) {
      setProblem((error as Problem).detail);
    }
  };
  const tell = (work: Promise<unknown>) => work.catch((error: unknown) => setProblem((error as Problem).detail));
  const stop = () => activeRun && tell(api.stopRun(activeRun.runId));
  const holdable = activeRun?.state === 'running' && run !== undefined && recipeKindById(run.recipe).canBeHeld;
  const hold = () => {
    if (!activeRun || !holdable) return;
    void tell(activeRun.progress?.paused ? api.resumeRun(activeRun.runId) : api.pauseRun(activeRun.runId));
  };

  useShortcuts((key) => {
    if (key === 'g' && mayChange()) void (activeRun ? stop() : start());
    if (key === 'h' && mayChange()) hold();
    if (key === 'o') setSheet('recipe');
    if (key === 'p' && shownId !== undefined) useContextStore.getState().togglePinned(shownId);
    if (key === 'x') set({ traceAxis: traceAxis === 'bytes' ? 'seconds' : 'bytes' });
    if (key === 'j' || key === 'k') {
      const at = history.findIndex((entry) => entry.run.id === shownId);
      const next = history[at + (key === 'j' ? 1 : -1)];
      if (next) void navigate(`/measure/runs/${next.run.id}`);
    }
  });

  const actions = (
    <>
      {!activeRun && <SetUpLine recipeLabel={kind.label} target={target} folder={folder} onSheet={setSheet} />}
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
      {activeRun ? (
        <Box sx={{ display: 'flex', gap: 1 }}>
          <Button variant="contained" disabled={!mayChange()} onClick={() => void stop()} sx={{ flex: 1 }}>
            {activeRun.state === 'queued' ? 'Do not start' : 'Stop, keep result'}
          </Button>
          {holdable && (
            <Button variant="outlined" disabled={!mayChange()} onClick={hold}>
              {activeRun.progress?.paused ? 'Go on' : 'Hold'}
            </Button>
          )}
        </Box>
      ) : (
        <Box sx={{ display: 'flex', gap: 1 }}>
          <Button variant="contained" disabled={!mayChange()} onClick={() => void start()} sx={{ flex: 1 }}>
            {target ? 'Start' : 'Choose where to measure'}
          </Button>
          <Button variant="outlined" onClick={() => setSheet('recipe')}>
            Options
          </Button>
        </Box>
      )}
      <Typography variant="caption" component="p" color="textSecondary" sx={{ mt: 1 }}>
        {activeRun ? (
          'The run goes on when this tab is closed.'
        ) : (
          <NextRunText kind={kind} options={options} known={target !== undefined} />
        )}
      </Typography>
    </>
  );

  const ask = (
    <Suspense fallback={<Box sx={{ height: 61, flex: 'none' }} />}>
      <AskLine target={target} card={askedCard} folder={folder} onWhere={() => setSheet('folder')} />
    </Suspense>
  );
  return (
    <>
      {ask}
      {run ? (
        <RunLayout run={run} followed={followed} history={history} actions={actions} />
      ) : (
        <PlaceLayout column={<VolumesColumn volumes={volumes} />} actions={actions}>
          {runProblem && <ProblemText>{runProblem.detail}</ProblemText>}
          {!runProblem && shownId === undefined && (
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
        {sheet === 'recipe' && <RecipeSheet onClose={() => setSheet(null)} />}
      </Suspense>
    </>
  );
}

/** What the start button would do, and what it takes. */
function NextRunText({ kind, options, known }: { kind: AnyRecipeKind; options: object; known: boolean }) {
  const knowledge = useKnowledge();
  if (!known) return 'A first reading takes seconds.';
  return `${kind.summary(options)}. ${costText(kind, options, knowledge)}`;
}

interface RunLayoutProps {
  run: RunDocument;
  followed: FollowedRun;
  history: readonly RunListEntry[];
  actions: ReactNode;
}

/** The place with a run in it: its analysis is made once for picture and words. */
function RunLayout({ run, followed, history, actions }: RunLayoutProps) {
  const analysis = useAnalysis(run, followed);
  return (
    <PlaceLayout
      mayScroll
      column={
        <RunColumn
          run={run}
          settledRevision={followed.settledRevision}
          words={runWords(analysis.figures)}
          doubts={analysis.doubts}
          judged={analysis.judged}
          history={history}
        />
      }
      actions={actions}
    >
      <RunView run={run} analysis={analysis} />
    </PlaceLayout>
  );
}
