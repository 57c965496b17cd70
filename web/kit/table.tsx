import Box from '@mui/material/Box';
import type { ReactNode } from 'react';
import { ink } from '../theme/tokens.ts';
import { VISUALLY_HIDDEN } from './words.tsx';

export interface TableRow {
  key: string;
  cells: readonly ReactNode[];
  /** Marks for tests and styles: `data-…` of the row. */
  data?: Record<`data-${string}`, string>;
}

/** A column: its head, and whether it gives way where there is little room. */
export type TableHead = string | { head: string; wideOnly: true };

const headText = (head: TableHead): string => (typeof head === 'string' ? head : head.head);
/** Narrower than this, columns that may give way do. */
const NARROW = 640;

/** Figures in lines: the first column names, the rest are numbers at their right edge. */
export function FigureTable({ heads, rows }: { heads: readonly TableHead[]; rows: readonly TableRow[] }) {
  const givesWay = (index: number) => (typeof heads[index] === 'string' ? {} : { 'data-wide-only': '' });
  return (
    <Box sx={{ containerType: 'inline-size' }}>
      <Box
        component="table"
        sx={{
          flex: 'none',
          width: '100%',
          borderCollapse: 'collapse',
          fontSize: 14,
          '& th': { fontWeight: 400, fontSize: 12.5, color: ink('second'), textAlign: 'right', pb: '2px', px: 1 },
          '& td': {
            textAlign: 'right',
            borderTop: `1px solid ${ink('rule')}`,
            height: 34,
            px: 1,
            whiteSpace: 'nowrap',
          },
          '& th:first-of-type, & td:first-of-type': { textAlign: 'left', pl: 0 },
          '& td:first-of-type': { maxWidth: 240, overflow: 'hidden', textOverflow: 'ellipsis' },
          [`@container (max-width: ${NARROW}px)`]: { '& [data-wide-only]': { display: 'none' } },
          '& th:last-of-type, & td:last-of-type': { pr: 0 },
        }}
      >
        <thead>
          <tr>
            {heads.map((head, index) => (
              <th scope="col" key={headText(head)} {...givesWay(index)}>
                {index === 0 ? <span style={VISUALLY_HIDDEN}>{headText(head)}</span> : headText(head)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ key, cells, data }) => (
            <tr key={key} {...data}>
              {cells.map((cell, index) => (
                <td key={headText(heads[index]!)} {...givesWay(index)}>
                  {cell}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </Box>
    </Box>
  );
}
