import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { Suspense, lazy, useMemo } from 'react';
import { bindingHop } from '#core/links/connection.ts';
import { recipeKindById } from '#core/recipes/registry.ts';
import type { RunDocument } from '#core/run/run-document.ts';
import { formatClock } from '#core/units/format.ts';
import { EmptyPlace, ProblemText } from '../../kit/words.tsx';
import type { StillMark } from '../../pictures/TraceMarks.tsx';
import { TracePicture } from '../../pictures/TracePicture.tsx';
import { useContextStore } from '../../state/context.ts';
import { useLive } from '../../state/live.ts';
import { ink } from '../../theme/tokens.ts';
import { FiguresTable } from './FiguresTable.tsx';
import type { RunAnalysis } from './use-analysis.ts';

// Most runs are traces: the other pictures come when one is opened that needs them.
const FrameStrip = lazy(() => import('../../pictures/FrameStrip.tsx'));
const LadderPicture = lazy(() => import('../../pictures/LadderPicture.tsx'));
const ScatterPicture = lazy(() => import('../../pictures/ScatterPicture.tsx'));

/** Picture and figures of a run. */
export function RunView({ run, analysis }: { run: RunDocument; analysis: RunAnalysis }) {
  const { traceAxis, set } = useContextStore();
  const live = run.endedAt === null;
  const { figures } = analysis;
  const isTrace = figures.ladder === null && figures.frames === null && figures.files === null;
  return (
    <>
      <Box sx={{ display: 'flex', justifyContent: 'space-between', alignItems: 'baseline', mb: 0.5 }}>
        <Typography
          variant="body2"
          sx={{ color: ink('second'), overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
        >
          <RunStateText run={run} />
        </Typography>
        {isTrace && (
          <Button
            variant="text"
            sx={{ flex: 'none', fontWeight: 400, fontSize: 13 }}
            onClick={() => set({ traceAxis: traceAxis === 'bytes' ? 'seconds' : 'bytes' })}
          >
            {traceAxis === 'bytes' ? 'Show by time' : 'Show by data moved'}
          </Button>
        )}
      </Box>
      {run.failure && <ProblemText>{run.failure.detail}</ProblemText>}
      <Suspense fallback={<Box sx={{ flex: 1 }} />}>
        {figures.ladder !== null && figures.ladder.length > 0 ? (
          <LadderPicture ladder={figures.ladder} />
        ) : figures.frames !== null ? (
          <FrameStrip figures={figures.frames} frames={run.frames} />
        ) : figures.files !== null && figures.files.length > 0 ? (
          <ScatterPicture files={run.files} figures={figures.files} />
        ) : analysis.passes.length > 0 ? (
          <Trace run={run} analysis={analysis} live={live} />
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
      </Suspense>
      <FiguresTable figures={figures} />
    </>
  );
}

const isStill = (kind: string): kind is StillMark['kind'] => ['pause', 'rest', 'sleep'].includes(kind);

function Trace({ run, analysis, live }: { run: RunDocument; analysis: RunAnalysis; live: boolean }) {
  const { passes, apart, judged, levels, doubts } = analysis;
  const traceAxis = useContextStore((state) => state.traceAxis);
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
  const still = run.markers.flatMap(({ kind, atSeconds, seconds }) =>
    isStill(kind) ? [{ kind, atSeconds, seconds }] : [],
  );
  return (
    <TracePicture
      passes={passes}
      apart={apart}
      axis={traceAxis}
      needLines={needLines}
      ceiling={hop ? { label: hop.label, bytesPerSecond: hop.ceilingBytesPerSecond } : null}
      temperature={temperature}
      levels={levels}
      doubts={doubts}
      still={still}
      live={live}
    />
  );
}

const ENDED: Record<RunDocument['state'], string> = {
  finished: '',
  stopped: ', stopped',
  interrupted: ', cut off',
  failed: ', failed',
  queued: '',
  running: '',
};

function RunStateText({ run }: { run: RunDocument }) {
  const progress = useLive((state) => state.active.find((one) => one.runId === run.id)?.progress);
  const when = new Date(run.startedAt).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' });
  if (run.endedAt === null) {
    if (!progress) return <>Starting on {run.drive.label}</>;
    const left = progress.remainingSeconds === null ? '' : `, about ${formatClock(progress.remainingSeconds)} left`;
    return (
      <span role="status">
        {progress.paused ? 'held: ' : ''}
        {progress.text}, {formatClock(progress.elapsedSeconds)} elapsed{left}
      </span>
    );
  }
  return (
    <>
      {recipeKindById(run.recipe).label} on {run.drive.label}, {when}
      {ENDED[run.state]}
      {run.note === '' ? '' : `: ${run.note}`}
    </>
  );
}
