import { runKindText } from '#core/4-runs/supply/condition-words.ts';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { Suspense } from 'react';
import { heardIn } from '#core/4-runs/run/loudness.ts';
import { movedSecondsOf, type RunDocument } from '#core/4-runs/run/run-document.ts';
import { formatClock } from '#core/1-ground/units/format.ts';
import { EmptyPlace, ProblemText } from '../../kit/words.tsx';
import { LoudnessPicture } from '../../pictures/pictures.tsx';
import { useContextStore } from '../../state/context.ts';
import { useLive } from '../../state/live.ts';
import { ink } from '../../theme/tokens.ts';
import { FiguresTable } from './FiguresTable.tsx';
import { measureViewOf } from './measures/registry.ts';
import type { RunAnalysis } from './use-analysis.ts';
import { useHeard } from './use-heard.ts';

/** What a run without a picture is at. */
const EMPTY_TITLES = {
  waiting: 'Waiting for the device',
  starting: 'Starting',
  nothing: 'Nothing was measured',
} as const;
const EMPTY_TEXTS: Record<keyof typeof EMPTY_TITLES, string> = {
  waiting: 'Another run uses this device. This one starts by itself when that one ends.',
  starting: 'The scratch file is being made and the first requests are under way.',
  nothing: 'The run ended before the first bytes were moved.',
};

/** Picture and figures of a run. */
export function RunView({ run, analysis }: { run: RunDocument; analysis: RunAnalysis }) {
  const { traceAxis, set } = useContextStore();
  const view = measureViewOf(run.recipe);
  const stage = run.state === 'queued' ? 'waiting' : run.endedAt === null ? 'starting' : 'nothing';
  return (
    <>
      <Box sx={{ display: 'flex', justifyContent: 'space-between', alignItems: 'baseline', mb: 0.5 }}>
        <Typography
          variant="h1"
          sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap', minWidth: 0 }}
        >
          <RunTitle run={run} />
        </Typography>
        {view.hasTraceAxis && (
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
      {/* In a low window the place scrolls: a picture keeps a height in which it can be read. */}
      <Box
        className="keeps-height"
        sx={{ flex: '1 0 240px', minHeight: 240, display: 'flex', flexDirection: 'column' }}
      >
        <Suspense fallback={<Box sx={{ flex: 1 }} />}>
          {view.picture(run, analysis) ?? (
            <EmptyPlace isPart title={EMPTY_TITLES[stage]}>
              {EMPTY_TEXTS[stage]}
            </EmptyPlace>
          )}
        </Suspense>
      </Box>
      <Suspense>
        <HeardOf run={run} />
      </Suspense>
      <FiguresTable view={view} figures={analysis.figures} />
    </>
  );
}

/** How loud it was, where a microphone heard it. */
function HeardOf({ run }: { run: RunDocument }) {
  const loudness = useHeard(run);
  if (loudness === null || !loudness.levels.some((level) => level !== null)) return null;
  const moved = movedSecondsOf(run);
  const heard = heardIn(loudness, moved);
  const before = heard?.before ?? null;
  const zero =
    before === null
      ? { level: heard?.underLoad ?? loudness.levels.find((level) => level !== null)!, when: 'under load' }
      : { level: before, when: 'before the run' };
  return <LoudnessPicture loudness={loudness} movedSeconds={moved} zero={zero} />;
}

const ENDED: Record<RunDocument['state'], string> = {
  finished: '',
  stopped: ', stopped',
  interrupted: ', cut off',
  failed: ', failed',
  queued: '',
  running: '',
};

/** The run that is shown: what it did, of which drive, and when; while it goes on, how far it is. */
function RunTitle({ run }: { run: RunDocument }) {
  const progress = useLive((state) => state.active.find((one) => one.runId === run.id)?.progress);
  const when = new Date(run.startedAt).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' });
  const small = { fontSize: 14, fontWeight: 400, color: ink('second'), marginLeft: 10 };
  if (run.endedAt === null) {
    const name = `${runKindText(run)} ${run.copy ? 'from' : 'on'} ${run.drive.label}`;
    if (!progress) return <>{name}</>;
    const left = progress.remainingSeconds === null ? '' : `, about ${formatClock(progress.remainingSeconds)} left`;
    return (
      <>
        {name}
        <span role="status" style={small}>
          {progress.paused ? 'held: ' : ''}
          {progress.text}, {formatClock(progress.elapsedSeconds)} elapsed{left}
        </span>
      </>
    );
  }
  return (
    <>
      {runKindText(run)} {run.copy ? 'from' : 'on'} {run.drive.label}
      <span style={small}>
        {when}
        {ENDED[run.state]}
        {run.note === '' ? '' : `: ${run.note}`}
      </span>
    </>
  );
}
