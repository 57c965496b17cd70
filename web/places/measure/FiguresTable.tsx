import { memo } from 'react';
import Box from '@mui/material/Box';
import { DIRECTIONS } from '#core/run/run-document.ts';
import type { DirectionFigures, RunFigures } from '#core/trace/figures.ts';
import { formatDuration, formatRate, rateText } from '#core/units/format.ts';
import { FigureText } from '../../kit/words.tsx';
import { DIRECTION_STYLE } from '../../pictures/direction-style.ts';
import { ink } from '../../theme/tokens.ts';

/** The figures under the trace: one line a direction, each with its spread. */
export const FiguresTable = memo(function FiguresTable({ figures }: { figures: RunFigures }) {
  const shown = DIRECTIONS.filter((direction) => figures[direction] !== null);
  if (shown.length === 0) return null;
  return (
    <Box
      component="table"
      sx={{
        flex: 'none',
        width: '100%',
        mt: 1.25,
        borderCollapse: 'collapse',
        fontSize: 14,
        '& th': { fontWeight: 400, fontSize: 12.5, color: ink('second'), textAlign: 'right', pb: '2px', px: 1 },
        '& td': { textAlign: 'right', borderTop: `1px solid ${ink('rule')}`, height: 36, px: 1, whiteSpace: 'nowrap' },
        '& th:first-of-type, & td:first-of-type': { textAlign: 'left', pl: 0 },
        '& th:last-of-type, & td:last-of-type': { pr: 0 },
      }}
    >
      <thead>
        <tr>
          <th scope="col">
            <span style={{ position: 'absolute', left: -9999 }}>Direction</span>
          </th>
          <th scope="col">Median of passes</th>
          <th scope="col">95 % interval</th>
          <th scope="col">Slowest – fastest pass</th>
          <th scope="col">Worst second</th>
          <th scope="col">Latency p50</th>
          <th scope="col">p99</th>
          <th scope="col">Longest</th>
        </tr>
      </thead>
      <tbody>
        {shown.map((direction) => (
          <Line key={direction} direction={direction} figures={figures[direction]!} />
        ))}
      </tbody>
    </Box>
  );
});

function Line({ direction, figures }: { direction: (typeof DIRECTIONS)[number]; figures: DirectionFigures }) {
  const { colour, dash, name } = DIRECTION_STYLE[direction];
  const rate = (value: number) => formatRate(value).number;
  const latency = (seconds: number | null) => (seconds === null ? '–' : formatDuration(seconds));
  const interval = figures.medianInterval95;
  return (
    <tr data-figures={direction}>
      <td>
        <svg width={28} height={8} aria-hidden="true" style={{ marginRight: 8, verticalAlign: 'middle' }}>
          <line
            x1={0}
            x2={28}
            y1={4}
            y2={4}
            stroke={colour}
            strokeWidth={2.4}
            {...(dash ? { strokeDasharray: dash } : {})}
          />
        </svg>
        {name}
      </td>
      <td title={rateText(figures.medianBytesPerSecond, 'full')}>
        <FigureText figure={formatRate(figures.medianBytesPerSecond)} size={20} />
      </td>
      <td>{interval ? `${rate(interval[0])} – ${rate(interval[1])}` : 'from 6 passes on'}</td>
      <td>
        {rate(figures.lowestPassBytesPerSecond)} – {rate(figures.highestPassBytesPerSecond)}
        <span style={{ color: ink('second') }}>, {figures.passes === 1 ? '1 pass' : `${figures.passes} passes`}</span>
      </td>
      <td>{figures.worstSecondBytesPerSecond === null ? '–' : rate(figures.worstSecondBytesPerSecond)}</td>
      <td>{latency(figures.latencyP50Seconds)}</td>
      <td>{latency(figures.latencyP99Seconds)}</td>
      <td>{latency(figures.latencyMaxSeconds)}</td>
    </tr>
  );
}
