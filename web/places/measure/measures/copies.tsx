import { lazy } from 'react';
import { formatDuration, formatNumber, formatRate, formatShare, orDash } from '#core/1-ground/units/format.ts';
import { FigureTable } from '../../../kit/table.tsx';
import { ink } from '../../../theme/tokens.ts';
import type { MeasureView } from './measure-view.ts';

const CopiedPicture = lazy(() => import('./CopiedPicture.tsx'));
const CopyEnds = lazy(() => import('./CopyEnds.tsx'));

/** Copies: their rate as they went along beside the prediction, and which side waited for which. */
export const copiesView: MeasureView = {
  picture: (run, { figures }) =>
    run.copy && figures.copies && figures.copies.legs.some(({ stretches }) => stretches.length > 0) ? (
      <CopiedPicture run={run} copy={run.copy} figures={figures.copies} />
    ) : null,
  table: ({ copies }) =>
    copies && (
      <FigureTable
        heads={[
          'Copy',
          'Took',
          'MB/s',
          'First estimate',
          'Source waits',
          'Targets wait',
          { head: 'Flush', wideOnly: true },
          { head: 'Read back', wideOnly: true },
          'Whole',
          'Alike',
        ]}
        rows={copies.legs.map(({ leg, from, outcome, seconds, bytesPerSecond, earlySeconds, waits }) => ({
          key: String(leg),
          data: { 'data-leg': String(leg) },
          cells: [
            `${leg}, ${from === 0 ? 'there' : 'back'}`,
            <b key="took">{formatDuration(seconds)}</b>,
            formatRate(bytesPerSecond).number,
            orDash(earlySeconds, formatDuration),
            orDash(waits[0]?.share ?? null, formatShare),
            waits.length < 2
              ? '–'
              : waits
                  .slice(1)
                  .map(({ share }) => formatShare(share))
                  .join(', '),
            orDash(outcome?.flushSeconds ?? null, formatDuration),
            outcome === null || outcome.verifySeconds === 0 ? '–' : formatDuration(outcome.verifySeconds),
            outcome === null
              ? '–'
              : `${formatNumber(outcome.wholeFiles, 'full')} of ${formatNumber(outcome.files, 'full')}`,
            outcome === null || outcome.checkedFiles + outcome.differingFiles === 0 ? (
              '–'
            ) : (
              <span key="alike" style={{ color: outcome.differingFiles > 0 ? ink('breaks') : undefined }}>
                {outcome.differingFiles > 0
                  ? `${formatNumber(outcome.differingFiles, 'full')} differ`
                  : `${formatNumber(outcome.checkedFiles, 'full')}`}
              </span>
            ),
          ],
        }))}
      />
    ),
  word({ copies }) {
    const leg = copies?.legs[0];
    return leg ? `${formatRate(leg.bytesPerSecond).number} copied` : 'copied';
  },
  aside: (run) => run.copy && <CopyEnds copy={run.copy} />,
  hasTraceAxis: false,
};
