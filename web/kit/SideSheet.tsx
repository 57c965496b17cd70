import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Drawer from '@mui/material/Drawer';
import Typography from '@mui/material/Typography';
import { useId, useRef, useState, type ReactNode } from 'react';
import { ink } from '../theme/tokens.ts';
import { ScrollBox } from './ScrollBox.tsx';

interface SideSheetProps {
  title: string;
  onClose: () => void;
  /** What is typed in it is only asked with: there is nothing to lose. */
  onlyAsks?: boolean;
  /** Buttons at the foot, the filled one first. */
  actions?: ReactNode;
  children: ReactNode;
}

/** Words that somebody types; choices are made and undone by a press. */
const isText = (target: EventTarget): boolean =>
  target instanceof HTMLTextAreaElement || (target instanceof HTMLInputElement && target.type === 'text');

/**
 * The sheet from the right in which every form and choice is made. What was typed in it is not thrown away by one press of
 * Escape or beside it: that asks first.
 */
export function SideSheet({ title, onClose, onlyAsks = false, actions, children }: SideSheetProps) {
  const titleId = useId();
  const isTyped = useRef(false);
  const [isAsked, setAsked] = useState(false);
  const leave = () => {
    if (isTyped.current && !isAsked && !onlyAsks) setAsked(true);
    else onClose();
  };
  return (
    <Drawer
      anchor="right"
      open
      onClose={leave}
      onInput={({ target }) => {
        if (!isText(target)) return;
        isTyped.current = true;
        setAsked(false);
      }}
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
      {isAsked && (
        <Typography role="alert" variant="body2" sx={{ px: 3, py: 1, color: ink('tight') }}>
          What you typed here is not used yet. Press Escape once more to leave it.
        </Typography>
      )}
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
