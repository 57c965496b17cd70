import ButtonBase from '@mui/material/ButtonBase';
import type { SxProps } from '@mui/material/styles';
import type { ReactNode } from 'react';
import { ink } from '../theme/tokens.ts';

interface RadioLineProps {
  chosen: boolean;
  onChoose: () => void;
  children: ReactNode;
  /** How a chosen one is marked, and whatever else differs from place to place. */
  sx: SxProps;
}

/** One of several things to choose from, each over a whole line. Stands in a radio group. */
export function RadioLine({ chosen, onChoose, children, sx }: RadioLineProps) {
  return (
    <ButtonBase
      role="radio"
      aria-checked={chosen}
      onClick={onChoose}
      sx={
        [
          {
            display: 'block',
            width: '100%',
            textAlign: 'left',
            px: 1.5,
            '&:focus-visible': { outline: `2px solid ${ink('text')}`, outlineOffset: -2 },
          },
          ...(Array.isArray(sx) ? (sx as SxProps[]) : [sx]),
        ] as SxProps
      }
    >
      {children}
    </ButtonBase>
  );
}
