import Popover from '@mui/material/Popover';
import Typography from '@mui/material/Typography';
import { useState, type ReactNode, type SVGAttributes } from 'react';
import { pressable } from './pressable.ts';

interface ExplainedProps extends SVGAttributes<SVGGElement> {
  /** What the mark is, in a few words. */
  label: string;
  /** What it means, in a sentence or two. */
  words: string;
  /** Words stand in the mark, and it is called by them. */
  isNamed?: boolean;
  children: ReactNode;
}

/** A mark on a picture that says what it is when it is pressed, by hand or by keys. */
export function Explained({ label, words, isNamed = false, children, ...more }: ExplainedProps) {
  /** The mark while it explains itself. */
  const [pressed, setPressed] = useState<SVGGElement | null>(null);
  return (
    <>
      <g {...more} {...pressable(isNamed ? null : label, null, setPressed)}>
        {children}
      </g>
      {pressed && (
        <Popover
          open
          anchorEl={pressed}
          onClose={() => setPressed(null)}
          anchorOrigin={{ vertical: 'bottom', horizontal: 'center' }}
          transformOrigin={{ vertical: 'top', horizontal: 'center' }}
          slotProps={{
            root: { slotProps: { backdrop: { sx: { bgcolor: 'transparent' } } } },
            paper: { role: 'dialog', 'aria-label': label, sx: { p: 1.5, maxWidth: 380 } },
          }}
        >
          <Typography variant="body2" component="p" sx={{ fontWeight: 650, m: 0 }}>
            {label}
          </Typography>
          <Typography variant="body2" component="p" sx={{ m: 0, mt: 0.5 }}>
            {words}
          </Typography>
        </Popover>
      )}
    </>
  );
}
