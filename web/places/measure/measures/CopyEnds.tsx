import { Fragment } from 'react';
import { greatest } from '#core/1-ground/numbers/statistics.ts';
import Typography from '@mui/material/Typography';
import type { CopyRecord } from '#core/4-runs/run/copy-record.ts';
import { formatNumber } from '#core/1-ground/units/format.ts';
import { Doubts, Heading } from '../../../kit/words.tsx';
import { ink } from '../../../theme/tokens.ts';

/** Notes that are listed; more are counted. */
const MOST_NOTES = 40;

/** Where a copy was read and written, what became of it, and what was passed over. */
export default function CopyEnds({ copy: { ends, legs, notes, watch } }: { copy: CopyRecord }) {
  const heat = (end: number): string => {
    const celsius = watch.temperatureCelsius.filter((value, row) => watch.end[row] === end && value !== null);
    return celsius.length === 0
      ? ''
      : `, ${formatNumber(celsius[0]!)} to ${formatNumber(greatest(celsius.map(Number)))} °C`;
  };
  const kept = legs.flatMap(({ keptFolders }) => keptFolders);
  const [told, others] = [notes.slice(0, MOST_NOTES), notes.length - MOST_NOTES];
  return (
    <>
      <Heading>Its ends</Heading>
      <Typography variant="body2" component="div" sx={{ overflowWrap: 'anywhere' }}>
        {ends.map(({ drive, folder }, end) => (
          <div key={end} data-end={end}>
            {end === 0 ? 'from' : 'to'} <b>{drive.label}</b>
            <span style={{ color: ink('second') }}>
              {folder === '' ? '' : ` ${folder}`}
              {end === 0 ? '' : heat(end)}
            </span>
          </div>
        ))}
        {kept.map((folder) => (
          <div key={folder}>kept in {folder}</div>
        ))}
      </Typography>
      <Doubts title="What it came upon">
        {[
          ...told.map(({ leg, kind, path, detail, end }) => (
            <Fragment key={`${leg} ${kind} ${end} ${path} ${detail}`}>
              {path === '' ? '' : <span style={{ color: ink('text') }}>{path}: </span>}
              {detail}
            </Fragment>
          )),
          ...(others > 0 ? [`${others} more are in the run’s document.`] : []),
        ]}
      </Doubts>
    </>
  );
}
