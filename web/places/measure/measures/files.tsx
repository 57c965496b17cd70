import { formatDuration, formatNumber, formatRate } from '#core/1-ground/units/format.ts';
import { FigureTable } from '../../../kit/table.tsx';
import type { MeasureView } from './measure-view.ts';
import { ScatterPicture } from '../../../pictures/pictures.tsx';

const ACTION_NAMES = { create: 'creating', read: 'reading', list: 'listing', delete: 'deleting' } as const;

/** Many files: what each action costs beside the bytes. */
export const filesView: MeasureView = {
  picture: (run, { figures }) =>
    figures.files && figures.files.length > 0 ? <ScatterPicture files={run.files} figures={figures.files} /> : null,
  table: ({ files }) =>
    files && (
      <FigureTable
        heads={[
          'Action',
          'Files a second',
          'MB/s',
          'Cost of a file',
          { head: 'p50', wideOnly: true },
          { head: 'p99', wideOnly: true },
          'Files',
          'In all',
        ]}
        rows={files.map((one) => ({
          key: one.action,
          data: { 'data-action': one.action },
          cells: [
            ACTION_NAMES[one.action],
            <b key="rate">{formatNumber(one.filesPerSecond)}</b>,
            one.bytes > 0 ? formatRate(one.bytesPerSecond).number : '–',
            formatDuration(one.costSeconds),
            formatDuration(one.p50Seconds),
            formatDuration(one.p99Seconds),
            formatNumber(one.files, 'full'),
            formatDuration(one.seconds),
          ],
        }))}
      />
    ),
  word({ files }) {
    const created = files?.find((one) => one.action === 'create');
    return created ? `${formatNumber(created.filesPerSecond)} files/s` : 'files timed';
  },
  hasTraceAxis: false,
};
