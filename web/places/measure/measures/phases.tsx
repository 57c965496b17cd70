import { lazy } from 'react';
import { formatDuration, formatNumber, formatRate, orDash } from '#core/1-ground/units/format.ts';
import { FigureTable } from '../../../kit/table.tsx';
import type { MeasureView } from './measure-view.ts';

const ReplayStrips = lazy(() => import('./ReplayStrips.tsx'));

/** A load that was replayed: what each phase took, beside what was expected of the drive. */
export const phasesView: MeasureView = {
  picture: (run, { figures }) =>
    figures.phases && figures.phases.length > 0 ? <ReplayStrips run={run} phases={figures.phases} /> : null,
  table: ({ phases }) =>
    phases && (
      <FigureTable
        heads={['Phase', 'Computing', 'Reading', 'MB/s', { head: 'p50', wideOnly: true }, 'p99', 'Too late', 'Limit']}
        rows={phases.map((one, index) => ({
          key: `${index}`,
          data: { 'data-replayed': one.name },
          cells: [
            one.name,
            formatDuration(one.processorSeconds),
            <b key="data">{formatDuration(one.dataSeconds)}</b>,
            one.bytes > 0 ? formatRate(one.bytesPerSecond).number : '–',
            orDash(one.latencyP50Seconds, formatDuration),
            orDash(one.latencyP99Seconds, formatDuration),
            one.chunks > 0
              ? `${formatNumber(one.lateChunks, 'full')} of ${formatNumber(one.chunks, 'full')} chunks`
              : '–',
            orDash(one.limitSeconds, formatDuration),
          ],
        }))}
      />
    ),
  word({ phases }) {
    const seconds =
      phases?.reduce((sum, one) => sum + (one.chunks > 0 ? 0 : one.processorSeconds + one.dataSeconds), 0) ?? 0;
    return seconds > 0 ? formatDuration(seconds) : 'streamed';
  },
  hasTraceAxis: false,
};
