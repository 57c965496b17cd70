import Box from '@mui/material/Box';
import type { SxProps } from '@mui/material/styles';
import type { ReactNode } from 'react';
import { FOCUS_INSIDE } from '../theme/parts.ts';

/** The part of a column or sheet that scrolls; what scrolls can be scrolled by keyboard. */
export function ScrollBox({ sx, children }: { sx: SxProps; children: ReactNode }) {
  const own = {
    flex: 1,
    minHeight: 0,
    overflowY: 'auto',
    '&:focus-visible': FOCUS_INSIDE,
  };
  return (
    <Box tabIndex={0} sx={[own, ...(Array.isArray(sx) ? (sx as SxProps[]) : [sx])] as SxProps}>
      {children}
    </Box>
  );
}
