import { formatDuration, formatNumber, latenessText, orDash } from '#core/1-ground/units/format.ts';
import { FigureTable } from '../../../kit/table.tsx';
import { ink } from '../../../theme/tokens.ts';
import type { MeasureView } from './measure-view.ts';
import { Tip } from '../../../kit/Tip.tsx';
import { FrameStrip } from '../../../pictures/pictures.tsx';

/** Frames at their pace: when each was done, and which were dropped. */
export const framesView: MeasureView = {
  picture: (run, { figures }) => figures.frames && <FrameStrip figures={figures.frames} frames={run.frames} />,
  table: ({ frames }) =>
    frames && (
      <FigureTable
        heads={[
          'Stream',
          'Frames',
          'Late',
          'Dropped',
          'First dropped',
          { head: 'p50', wideOnly: true },
          { head: 'p99', wideOnly: true },
          'Longest',
          'Buffer at its lowest',
        ]}
        rows={frames.streams.map((stream, index) => ({
          key: String(index),
          data: { 'data-stream': String(index) },
          cells: [
            <Tip key="name" text={stream.name}>
              <span>{stream.name}</span>
            </Tip>,
            formatNumber(stream.frames, 'full'),
            formatNumber(stream.late, 'full'),
            <b key="dropped" style={{ color: stream.dropped > 0 ? ink('breaks') : undefined }}>
              {formatNumber(stream.dropped, 'full')}
            </b>,
            orDash(stream.firstDroppedSeconds, formatDuration),
            orDash(stream.latenessP50Seconds, latenessText),
            orDash(stream.latenessP99Seconds, latenessText),
            orDash(stream.latenessMaxSeconds, latenessText),
            `${stream.lowWaterFrames} of ${stream.bufferFrames}`,
          ],
        }))}
      />
    ),
  word: ({ frames }) =>
    frames && frames.dropped > 0 ? `${formatNumber(frames.dropped, 'full')} dropped` : 'no frame dropped',
  hasTraceAxis: false,
};
