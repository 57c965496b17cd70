import { memo } from 'react';
import Box from '@mui/material/Box';
import type { RunFigures } from '#core/4-runs/trace/figures.ts';
import type { MeasureView } from './measures/measure-view.ts';

/** Tables taller than this scroll: the picture keeps its place. */
const MOST_HEIGHT = 190;

/** The figures under the picture: each measure has its own. */
export const FiguresTable = memo(function FiguresTable({ view, figures }: { view: MeasureView; figures: RunFigures }) {
  return (
    <Box sx={{ flex: 'none', mt: 1.25, maxHeight: MOST_HEIGHT, overflowY: 'auto', '&:empty': { display: 'none' } }}>
      {view.table(figures)}
    </Box>
  );
});
