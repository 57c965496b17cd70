import { greatest } from '#core/1-ground/numbers/statistics.ts';
import { Fragment, Suspense, lazy, memo } from 'react';
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { Link } from 'react-router';
import type { RunListEntry } from '#core/6-exchange/api/wire.ts';
import { recipeKindById } from '#core/3-jobs/recipes/registry.ts';
import type { runWords } from '#core/4-runs/supply/run-words.ts';
import type { IoMode, Marker, RunDocument } from '#core/4-runs/run/run-document.ts';
import { bytesText, formatDuration, formatNumber, formatRate, formatShare } from '#core/1-ground/units/format.ts';
import { Doubts, Heading } from '../../kit/words.tsx';
import { InlineVerdict, VERDICT_INK, VERDICT_NAME } from '../../pictures/kit/verdict-marks.tsx';
import { useWorkload } from '../../state/judged.ts';
import type { JudgedItem } from '#core/5-answers/verdict/judge-workload.ts';
import { ink } from '../../theme/tokens.ts';
import { measureViewOf } from './measures/registry.ts';
import { Tip } from '../../kit/Tip.tsx';
import type { RunAnalysis } from './use-analysis.ts';

const RunNotes = lazy(() => import('./RunNotes.tsx'));

interface RunColumnProps {
  run: RunDocument;
  /** Counts the changes of the run that matter here, see useRun. */
  settledRevision: number;
  /** What the run says where rates do not say it. */
  words: ReturnType<typeof runWords>;
  doubts: RunAnalysis['doubts'];
  judged: RunAnalysis['judged'];
  history: readonly RunListEntry[];
}

/** What a run says in words: the job, the doubts, the conditions; and the runs before it. */
export const RunColumn = memo(function RunColumn({ run, words, doubts, judged, history }: RunColumnProps) {
  return (
    <>
      {words === null ? (
        <WorkloadWords judged={judged} />
      ) : (
        <Typography data-words="">
          <b>{words.lead}</b> {words.text}
        </Typography>
      )}
      <Doubts title="Doubts">
        {doubts.map(({ code, direction, evidence, advice }) => (
          <Fragment key={`${code} ${direction}`}>
            {evidence} <span style={{ color: ink('text') }}>{advice}</span>
          </Fragment>
        ))}
      </Doubts>
      <Suspense>{measureViewOf(run.recipe).aside?.(run)}</Suspense>
      <Suspense>
        <RunNotes key={run.id} run={run} />
      </Suspense>
      <Heading>Conditions</Heading>
      <Typography variant="body2" component="div" color="textSecondary">
        {conditionLines(run).map((line) => (
          <div key={line}>{line}</div>
        ))}
      </Typography>
      {history.length > 0 && (
        <>
          <Heading>Runs of {run.drive.label}</Heading>
          {history.slice(0, 40).map((entry) => (
            <HistoryLine key={entry.run.id} entry={entry} shown={entry.run.id === run.id} />
          ))}
        </>
      )}
    </>
  );
});

function WorkloadWords({ judged }: { judged: readonly JudgedItem[] }) {
  const workload = useWorkload();
  const [lead] = [...judged].sort((a, b) => b.demand.bytesPerSecond - a.demand.bytesPerSecond);
  if (!workload || !lead) {
    return (
      <Typography variant="body2" color="textSecondary">
        Choose a workload in the strip above, and its data rates are drawn across the trace.
      </Typography>
    );
  }
  return (
    <>
      <Typography>
        <b>{lead.demand.name}.</b> {lead.sentence}
      </Typography>
      <Heading>
        {workload.name}, from this run alone ·{' '}
        <Link to="/fit" style={{ color: 'inherit' }}>
          open Fit
        </Link>
      </Heading>
      {judged.map(({ demand, verdict }) => (
        <Box
          key={demand.itemId}
          sx={{ display: 'flex', gap: 1, fontSize: 13.5, py: '2px' }}
          data-verdict={verdict.verdict}
        >
          <InlineVerdict verdict={verdict.verdict} />
          <Box component="span" sx={{ flex: 1, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
            {demand.name}
          </Box>
          <span style={{ color: ink(VERDICT_INK[verdict.verdict]) }}>{VERDICT_NAME[verdict.verdict]}</span>
        </Box>
      ))}
    </>
  );
}

const IO_MODE_LINES: Record<IoMode, string> = {
  direct: 'system cache bypassed',
  buffered: 'through the system’s cache',
  memory: 'memory: nothing reached a drive',
  simulated: 'simulated',
};

function conditionLines(run: RunDocument): string[] {
  const { conditions, options, volume } = run;
  const { start, series, verification, ioMode } = conditions;
  const fill = start.totalBytes > 0 ? 1 - start.freeBytes / start.totalBytes : 0;
  const temperatures = series.temperatureCelsius.filter((value) => value !== null);
  const processor = series.processorShare.filter((value) => value !== null);
  return [
    `${volume.kind === 'stand-in' ? 'stand-in' : `${volume.filesystem} at ${volume.mountPoint}`}, ${formatShare(fill)} full`,
    recipeKindById(run.recipe).summary(options),
    IO_MODE_LINES[ioMode],
    ...(verification.checkedBytes > 0 ? [`${bytesText(verification.checkedBytes)} verified on reading back`] : []),
    ...(temperatures.length > 0
      ? [`${formatNumber(temperatures[0]!)} to ${formatNumber(greatest(temperatures))} °C`]
      : []),
    ...(processor.length > 0
      ? [`processor ${formatShare(processor.reduce((sum, share) => sum + share, 0) / processor.length)} busy`]
      : []),
    ...(start.restSeconds !== null ? [`rested ${formatDuration(start.restSeconds)} before`] : []),
    ...(start.writtenLastHourBytes !== null && start.writtenLastHourBytes > 0
      ? [`${bytesText(start.writtenLastHourBytes)} written to it in the hour before`]
      : []),
    ...(start.onBattery === true ? ['on battery'] : []),
    ...run.markers.filter(({ kind }) => TOLD_MARKERS.includes(kind)).map(({ note }) => note),
    ...(start.discardSupported === false ? ['no discard: deleted data stays with the drive'] : []),
  ];
}

/** Markers that are reported in words and not drawn. */
const TOLD_MARKERS: readonly Marker['kind'][] = ['skipped', 'left-behind', 'clock-set'];

function HistoryLine({ entry: { run, figures, doubts }, shown }: { entry: RunListEntry; shown: boolean }) {
  const when = new Date(run.startedAt).toLocaleString('en-GB', {
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
  });
  const rate = (direction: 'write' | 'read') => {
    const own = figures[direction];
    return own ? formatRate(own.medianBytesPerSecond).number : '–';
  };
  const own = measureViewOf(run.recipe).word(figures);
  const isVoid = doubts.some((doubt) => doubt.effect === 'void');
  return (
    <Box
      component={Link}
      to={`/measure/runs/${run.id}`}
      aria-current={shown ? 'page' : undefined}
      sx={{
        display: 'flex',
        gap: 1,
        py: '5px',
        px: 1,
        mx: -1,
        fontSize: 13.5,
        color: 'inherit',
        textDecoration: 'none',
        borderRadius: 1,
        bgcolor: shown ? ink('raised') : 'transparent',
        '&:hover': { bgcolor: ink('raised') },
      }}
    >
      <Box component="span" sx={{ flex: 1, whiteSpace: 'nowrap', overflow: 'hidden', textOverflow: 'ellipsis' }}>
        {when}
        <span style={{ color: ink('second') }}>
          {' '}
          {recipeKindById(run.recipe).label.toLowerCase()}
          {run.state === 'finished' ? '' : `, ${run.state}`}
        </span>
      </Box>
      {isVoid ? <span style={{ color: ink('breaks') }}>void</span> : null}
      {own === null ? (
        <>
          <Tip text="writing, MB/s">
            <span style={{ color: ink('writing'), whiteSpace: 'nowrap' }}>{rate('write')}</span>
          </Tip>
          <Tip text="reading, MB/s">
            <span style={{ color: ink('reading'), whiteSpace: 'nowrap' }}>{rate('read')}</span>
          </Tip>
        </>
      ) : (
        <span style={{ whiteSpace: 'nowrap' }}>{own}</span>
      )}
    </Box>
  );
}
