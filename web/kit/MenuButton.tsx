import ButtonBase from '@mui/material/ButtonBase';
import type { ReactNode } from 'react';
import { ink } from '../theme/tokens.ts';

interface MenuButtonProps {
  /** What it means, or what is under it, in a sentence. */
  help: string;
  isOpen: boolean;
  onOpen: (anchor: HTMLElement) => void;
  /** Whether it keeps its width when others have to give way. */
  isFirm?: boolean;
  children: ReactNode;
}

/** A line of words under which a menu opens. */
export function MenuButton({ help, isOpen, onOpen, isFirm = false, children }: MenuButtonProps) {
  return (
    <ButtonBase
      aria-haspopup="menu"
      aria-expanded={isOpen}
      title={help}
      onClick={(event) => onOpen(event.currentTarget)}
      sx={{
        flex: isFirm ? 'none' : '0 1 auto',
        minWidth: 0,
        minHeight: 34,
        gap: 1,
        px: 0.75,
        mx: -0.75,
        borderRadius: 1,
        justifyContent: 'flex-start',
        fontSize: 14.5,
        '&:hover': { bgcolor: ink('raised') },
      }}
    >
      {children}
      <svg width={9} height={6} aria-hidden="true" style={{ flex: 'none' }}>
        <path d="M1 1l3.5 3.5L8 1" fill="none" stroke={ink('second')} strokeWidth={1.4} />
      </svg>
    </ButtonBase>
  );
}
