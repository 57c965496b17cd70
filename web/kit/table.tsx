import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableContainer from '@mui/material/TableContainer';
import TableHeadRows from '@mui/material/TableHead';
import TableRowOf from '@mui/material/TableRow';
import type { ReactNode } from 'react';
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

/** Figures in lines: the first column names, the rest are numbers at their right edge. */
export function FigureTable({ heads, rows }: { heads: readonly TableHead[]; rows: readonly TableRow[] }) {
  const givesWay = (index: number) => (typeof heads[index] === 'string' ? {} : { 'data-wide-only': '' });
  return (
    <TableContainer>
      <Table>
        <TableHeadRows>
          <TableRowOf>
            {heads.map((head, index) => (
              <TableCell key={index} {...givesWay(index)}>
                {index === 0 ? <span style={VISUALLY_HIDDEN}>{headText(head)}</span> : headText(head)}
              </TableCell>
            ))}
          </TableRowOf>
        </TableHeadRows>
        <TableBody>
          {rows.map(({ key, cells, data }) => (
            <TableRowOf key={key} {...data}>
              {cells.map((cell, index) => (
                <TableCell key={index} {...givesWay(index)}>
                  {cell}
                </TableCell>
              ))}
            </TableRowOf>
          ))}
        </TableBody>
      </Table>
    </TableContainer>
  );
}
