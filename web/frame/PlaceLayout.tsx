import Box from '@mui/material/Box';
import type { ReactNode } from 'react';
import { ScrollBox } from '../kit/ScrollBox.tsx';
import { ink } from '../theme/tokens.ts';

const COLUMN_WIDTH = 300;

interface PlaceLayoutProps {
  children: ReactNode;
  /** In a low window its middle scrolls, where its picture keeps a height of its own. */
  mayScroll?: boolean;
  /** Figures and sentences beside the picture. */
  column?: ReactNode;
  /** Pinned at the foot of the column. */
  actions?: ReactNode;
}

/** The middle of a place: one large picture, and a narrow column of words and figures beside it. */
export function PlaceLayout({ children, mayScroll = false, column, actions }: PlaceLayoutProps) {
  return (
    <Box sx={{ flex: 1, display: 'flex', minHeight: 0 }}>
      <Box
        component="main"
        sx={{
          flex: 1,
          minWidth: 0,
          minHeight: 0,
          display: 'flex',
          flexDirection: 'column',
          px: 3,
          pt: 2.25,
          pb: 1.75,
          ...(mayScroll ? { overflowY: 'auto' } : {}),
        }}
      >
        {children}
      </Box>
      {column !== undefined && (
        <Box
          component="aside"
          aria-label="Figures and sentences"
          sx={{
            width: COLUMN_WIDTH,
            flex: 'none',
            display: 'flex',
            flexDirection: 'column',
            borderLeft: `1px solid ${ink('rule')}`,
            minHeight: 0,
          }}
        >
          <ScrollBox sx={{ px: 2.5, py: 2.25 }}>{column}</ScrollBox>
          {actions !== undefined && (
            <Box sx={{ px: 2.5, pt: 1.75, pb: 2, borderTop: `1px solid ${ink('rule')}` }}>{actions}</Box>
          )}
        </Box>
      )}
    </Box>
  );
}
