import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useEffect, useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { Problem } from '#core/1-ground/problem.ts';
import { progressBytes, progressDuration } from '#core/1-ground/curves/progress.ts';
import {
  DATA_UNITS,
  TIME_UNITS,
  openQuestions,
  readTraceTable,
  traceOfTable,
  type TraceColumns,
  type TraceTable,
} from '#core/1-ground/curves/table-trace.ts';
import type { Direction } from '#core/1-ground/curves/direction.ts';
import { bytesText, formatDuration, rateText } from '#core/1-ground/units/format.ts';
import { runOfTable } from '#core/4-runs/supply/table-run.ts';
import { api } from '../api/client.ts';
import { ChoiceLine, TextLine } from '../kit/form.tsx';
import { PickLine } from '../kit/PickLine.tsx';
import { readTextFile } from '../kit/read-document.ts';
import { SideSheet } from '../kit/SideSheet.tsx';
import { FigureTable } from '../kit/table.tsx';
import { Heading, ProblemText } from '../kit/words.tsx';
import { useLibrary, refresh } from '../state/library.ts';

interface TraceSheetProps {
  file: File;
  onClose: () => void;
  /** Called when the trace is shown in its place. */
  onDone: () => void;
}

const LARGEST_TABLE_BYTES = 200e6;
const SHOWN_ROWS = 4;
const UNIT_NAMES: Record<string, string> = {
  s: 'seconds',
  ms: 'milliseconds',
  min: 'minutes',
  h: 'hours',
  moment: 'time of day or date',
};

/** A trace that others made: which column says what is asked where the table does not say it by itself. */
export default function TraceSheet({ file, onClose, onDone }: TraceSheetProps) {
  const navigate = useNavigate();
  const drives = useLibrary((state) => state.drives);
  const [table, setTable] = useState<TraceTable>();
  const [problem, setProblem] = useState<string>();
  const [said, setSaid] = useState<Partial<TraceColumns>>({});
  const [direction, setDirection] = useState<Direction>('write');
  const [label, setLabel] = useState(file.name.replace(/\.\w+$/, '').slice(0, 100));
  useEffect(() => {
    readTextFile(file, LARGEST_TABLE_BYTES)
      .then((text) => {
        const read = readTraceTable(text, file.name);
        setTable(read);
        setSaid(read.plain);
      })
      .catch((error: unknown) => setProblem(error instanceof Problem ? error.detail : String(error)));
  }, [file]);
  const open = openQuestions(said);
  const { trace, fault } = useMemo(() => {
    if (!table || openQuestions(said).length > 0) return { trace: null, fault: undefined };
    try {
      return { trace: traceOfTable(table, said as TraceColumns, file.name), fault: undefined };
    } catch (error) {
      return { trace: null, fault: error instanceof Problem ? error.detail : String(error) };
    }
  }, [table, said, file.name]);
  const set = (change: Partial<TraceColumns>) => setSaid((old) => ({ ...old, ...change }));
  const known = drives.find((drive) => drive.label === label.trim());
  const takeIn = async () => {
    if (!trace) return;
    const id = `table-${crypto.randomUUID().slice(0, 8)}`;
    const driveId = known?.id ?? `d-${crypto.randomUUID().slice(0, 8)}`;
    const startedAt = new Date(file.lastModified).toISOString();
    const run = runOfTable(trace, { id, driveId, driveLabel: label.trim(), direction, startedAt, file: file.name });
    // On the card of a drive that is known here it lies with that drive's own runs.
    const identity = known ? { kind: known.identityKind, value: known.identityValue } : run.drive.identity;
    const document_ = { ...run, drive: { ...run.drive, identity, medium: known?.medium ?? run.drive.medium } };
    try {
      await api.importFile(new Blob([JSON.stringify(document_)]), file.name, 'newer');
      await refresh();
      onDone();
      void navigate(`/measure/runs/${id}`);
    } catch (error) {
      setProblem(error instanceof Problem ? error.detail : String(error));
    }
  };
  const columns = table?.heads.map((head, index) => [String(index), head || `column ${index + 1}`] as const) ?? [];
  return (
    <SideSheet
      title="Take in a trace"
      onClose={onClose}
      actions={
        <>
          <Button variant="contained" disabled={!trace || label.trim() === ''} onClick={() => void takeIn()}>
            Take it in
          </Button>
          <Typography variant="body2" color="textSecondary">
            {open.length > 0 && table ? `Not known yet: ${open.join('; ')}.` : ''}
          </Typography>
        </>
      }
    >
      <Typography variant="body2" sx={{ overflowWrap: 'anywhere' }}>
        {file.name}
      </Typography>
      {(problem ?? fault) !== undefined && <ProblemText>{problem ?? fault}</ProblemText>}
      {table && (
        <>
          <FigureTable
            heads={['line', ...table.heads.map((head, index) => head || `column ${index + 1}`)]}
            rows={table.rows
              .slice(0, SHOWN_ROWS)
              .map(({ line, cells }) => ({ key: String(line), cells: [String(line), ...cells] }))}
          />
          <PickLine
            label="When"
            help="The column of the time."
            value={said.time === undefined ? '' : String(said.time)}
            options={columns}
            onChange={(value) => set({ time: Number(value) })}
          />
          <PickLine
            label="Time in"
            help="What its numbers count."
            value={said.timeUnit ?? ''}
            options={[...Object.keys(TIME_UNITS), 'moment'].map((unit) => [unit, UNIT_NAMES[unit] ?? unit])}
            onChange={(value) => set({ timeUnit: value as TraceColumns['timeUnit'] })}
          />
          <PickLine
            label="How much"
            help="The column of what was moved, or of its rate."
            value={said.value === undefined ? '' : String(said.value)}
            options={columns}
            onChange={(value) => set({ value: Number(value) })}
          />
          <ChoiceLine
            label="Which is"
            help="A rate, and what was moved since, hold for the time up to their row."
            value={said.kind ?? ''}
            options={[
              ['total', 'all so far'],
              ['step', 'since the row before'],
              ['rate', 'a rate'],
            ]}
            onChange={(value) => set({ kind: value as TraceColumns['kind'] })}
          />
          <PickLine
            label="In"
            help={said.kind === 'rate' ? 'Per second.' : 'Bytes have a capital B; bits are an eighth of them.'}
            value={said.unit ?? ''}
            options={Object.keys(DATA_UNITS).map((unit) => [unit, said.kind === 'rate' ? `${unit}/s` : unit])}
            onChange={(value) => set({ unit: value as TraceColumns['unit'] })}
          />
          <ChoiceLine
            label="Direction"
            help="Whether it was written or read."
            value={direction}
            options={[
              ['write', 'Writing'],
              ['read', 'Reading'],
            ]}
            onChange={(value) => setDirection(value as Direction)}
          />
          <TextLine
            label="Drive"
            help={
              known ? 'There is a card of that name: the trace joins its runs.' : 'A new card is made under this name.'
            }
            value={label}
            {...(label.trim() === '' ? { error: 'Give the drive a name.' } : {})}
            onChange={(value) => setLabel(value.slice(0, 120))}
          />
          {trace && (
            <>
              <Heading>What it comes to</Heading>
              <Typography role="status">
                {bytesText(progressBytes(trace))} in {formatDuration(progressDuration(trace))}, a mean of{' '}
                {rateText(progressBytes(trace) / progressDuration(trace))}. Nothing is known of how it was measured, and
                that stays said with it.
              </Typography>
            </>
          )}
        </>
      )}
    </SideSheet>
  );
}
