import Box from '@mui/material/Box';
import type { ReactNode } from 'react';
import { ink } from '../theme/tokens.ts';

export interface TableRow {
  key: string;
  cells: readonly ReactNode[];
  /** Marks for tests and styles: `data-…` of the row. */
  data?: Record<`data-${string}`, string>;
}

/** Figures in lines: the first column names, the rest are numbers at their right edge. */
export function FigureTable({ heads, rows }: { heads: readonly string[]; rows: readonly TableRow[] }) {
  return (
    <Box
      component="table"
      sx={{
        flex: 'none',
        width: '100%',
        borderCollapse: 'collapse',
        fontSize: 14,
        '& th': { fontWeight: 400, fontSize: 12.5, color: ink('second'), textAlign: 'right', pb: '2px', px: 1 },
        '& td': { textAlign: 'right', borderTop: `1px solid ${ink('rule')}`, height: 34, px: 1, whiteSpace: 'nowrap' },
        '& th:first-of-type, & td:first-of-type': { textAlign: 'left', pl: 0 },
        '& td:first-of-type': { maxWidth: 240, overflow: 'hidden', textOverflow: 'ellipsis' },
        '& th:last-of-type, & td:last-of-type': { pr: 0 },
      }}
    >
      <thead>
        <tr>
          {heads.map((head, index) => (
            <th scope="col" key={head}>
              {index === 0 ? <span style={{ position: 'absolute', left: -9999 }}>{head}</span> : head}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map(({ key, cells, data }) => (
          <tr key={key} {...data}>
            {cells.map((cell, index) => (
              <td key={heads[index]}>{cell}</td>
            ))}
          </tr>
        ))}
      </tbody>
    </Box>
  );
}
