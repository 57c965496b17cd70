import type { Direction } from '#core/1-ground/curves/direction.ts';
import { progressDuration, type Progress } from '#core/1-ground/curves/progress.ts';
import { emptyConditions, type RunDocument } from '#core/4-runs/run/run-document.ts';
import { runOfTrace } from '#core/4-runs/supply/bare-trace.ts';

/** What whoever takes a trace in says of it. */
export interface TableRun {
  id: string;
  /** The drive that it was measured on, by the name that it is to have here. */
  driveLabel: string;
  /** Ties all traces of one drive together. */
  driveId: string;
  direction: Direction;
  /** ISO 8601, UTC: when it was measured. */
  startedAt: string;
  /** Name of the file. */
  file: string;
}

const NOT_KNOWN = 'not known';

/**
 * A run from a trace that others made: what is not known of it is left open, and it is said where it came from. It is
 * read, doubted and judged like every other.
 */
export function runOfTable(
  trace: Progress,
  { id, driveLabel, driveId, direction, startedAt, file }: TableRun,
): RunDocument {
  const nothing = { freeBytes: 0, totalBytes: 0 };
  return {
    ...runOfTrace(trace, direction),
    id,
    options: {},
    startedAt,
    endedAt: new Date(Date.parse(startedAt) + progressDuration(trace) * 1000).toISOString(),
    note: `Read from the table ${file}.`.slice(0, 4000),
    tags: ['from a table'],
    drive: {
      id: driveId,
      label: driveLabel,
      medium: 'unknown',
      identity: { kind: 'mount', value: `table-${driveId}` },
    },
    volume: {
      id: `table-${driveId}`,
      kind: 'real',
      label: driveLabel,
      mountPoint: '',
      filesystem: 'unknown',
      ...nothing,
    },
    conditions: {
      ...emptyConditions(nothing),
      software: { version: NOT_KNOWN, platform: NOT_KNOWN, host: NOT_KNOWN },
      ioMode: 'unknown',
    },
  };
}
