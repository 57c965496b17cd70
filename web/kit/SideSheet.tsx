import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Drawer from '@mui/material/Drawer';
import Typography from '@mui/material/Typography';
import { useId, type ReactNode } from 'react';
import { ink } from '../theme/tokens.ts';
import { ScrollBox } from './ScrollBox.tsx';

interface SideSheetProps {
  title: string;
  onClose: () => void;
  /** Buttons at the foot, the filled one first. */
  actions?: ReactNode;
  children: ReactNode;
}

/** The sheet from the right in which every form and choice is made. */
export function SideSheet({ title, onClose, actions, children }: SideSheetProps) {
  const titleId = useId();
  return (
    <Drawer
      anchor="right"
      open
      onClose={onClose}
      slotProps={{ paper: { role: 'dialog', 'aria-modal': true, 'aria-labelledby': titleId } }}
    >
      <Box sx={{ display: 'flex', alignItems: 'baseline', justifyContent: 'space-between', px: 3, pt: 2.5, pb: 1 }}>
        <Typography id={titleId} variant="h1" component="h2">
          {title}
        </Typography>
        <Button variant="text" onClick={onClose}>
          Close
        </Button>
      </Box>
      <ScrollBox sx={{ px: 3, pb: 3, display: 'flex', flexDirection: 'column' }}>{children}</ScrollBox>
      {actions !== undefined && (
        <Box
          sx={{ px: 3, py: 2, borderTop: `1px solid ${ink('rule')}`, display: 'flex', gap: 1.5, alignItems: 'center' }}
        >
          {actions}
        </Box>
      )}
    </Drawer>
  );
}
