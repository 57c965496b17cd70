import { Fragment, Suspense, lazy, memo, useState } from 'react';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { Link } from 'react-router';
import type { RunListEntry } from '#core/6-exchange/api/wire.ts';
import { conditionLines, runKindText } from '#core/4-runs/supply/condition-words.ts';
import type { runWords } from '#core/4-runs/supply/run-words.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { formatRate } from '#core/1-ground/units/format.ts';
import { PutIntoReport } from '../../frame/PutIntoReport.tsx';
import { PickLine } from '../../kit/PickLine.tsx';
import { saveJson } from '../../kit/save-json.ts';
import { Doubts, Heading } from '../../kit/words.tsx';
import { InlineVerdict } from '../../pictures/kit/verdict-marks.tsx';
import { useWorkload } from '../../state/judged.ts';
import { VERDICT_INK, verdictName } from '#core/5-answers/verdict/verdict.ts';
import type { JudgedItem } from '#core/5-answers/verdict/judge-workload.ts';
import { ink } from '../../theme/tokens.ts';
import { measureViewOf } from './measures/registry.ts';
import { Tip } from '../../kit/Tip.tsx';
import type { RunAnalysis } from './use-analysis.ts';

const HowLoud = lazy(() => import('./HowLoud.tsx'));
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
          {run.endedAt === null && 'So far: '}
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
      {run.endedAt !== null && (
        <Button
          variant="text"
          sx={{ ml: -0.75, mt: 1, fontSize: 13.5 }}
          onClick={() => saveJson(run.drive.label, 'run', run)}
        >
          Export this run
        </Button>
      )}
      <PutIntoReport subject={run.id} put={run.endedAt === null ? null : () => ({ kind: 'run', runId: run.id })} />
      <Suspense>
        <RunNotes key={run.id} run={run} />
      </Suspense>
      <Suspense>
        <HowLoud run={run} />
      </Suspense>
      <Heading>Conditions</Heading>
      <Typography variant="body2" component="div" color="textSecondary">
        {conditionLines(run).map((line) => (
          <div key={line}>{line}</div>
        ))}
      </Typography>
      <History run={run} history={history} />
    </>
  );
});

const MOST_LISTED = 40;
const EVERYWHERE = 'everywhere';
const hostOf = ({ run }: RunListEntry): string => run.conditions.software.host;

/** Runs of the same drive, on whichever machine; of one machine alone where there are several. */
function History({ run, history }: Pick<RunColumnProps, 'run' | 'history'>) {
  const [host, setHost] = useState(EVERYWHERE);
  if (history.length === 0) return null;
  const hosts = [...new Set(history.map(hostOf))];
  const isOne = hosts.length < 2;
  const shown = history.filter((entry) => isOne || host === EVERYWHERE || host === `at ${hostOf(entry)}`);
  return (
    <>
      <Heading>Runs of {run.drive.label}</Heading>
      {!isOne && (
        <PickLine
          label="Measured at"
          value={hosts.some((name) => host === `at ${name}`) ? host : EVERYWHERE}
          help="Of these runs, those of one machine or of all."
          options={[[EVERYWHERE, 'every machine'], ...hosts.map((name) => [`at ${name}`, name] as const)]}
          onChange={setHost}
        />
      )}
      {shown.slice(0, MOST_LISTED).map((entry) => (
        <HistoryLine
          key={entry.run.id}
          entry={entry}
          shown={entry.run.id === run.id}
          host={isOne || host !== EVERYWHERE ? null : hostOf(entry)}
        />
      ))}
    </>
  );
}

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
          <InlineVerdict {...verdict} />
          <Box component="span" sx={{ flex: 1, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
            {demand.name}
          </Box>
          <span style={{ color: ink(VERDICT_INK[verdict.verdict]) }}>{verdictName(verdict)}</span>
        </Box>
      ))}
    </>
  );
}

interface HistoryLineProps {
  entry: RunListEntry;
  shown: boolean;
  /** Where it was measured, where that is to be told. */
  host: string | null;
}

function HistoryLine({ entry: { run, figures, doubts }, shown, host }: HistoryLineProps) {
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
          {runKindText(run).toLowerCase()}
          {run.state === 'finished' ? '' : `, ${run.state}`}
          {host === null ? '' : `, at ${host}`}
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
