import ButtonBase from '@mui/material/ButtonBase';
import { Suspense, lazy, useState, type ReactNode } from 'react';
import { Tip } from './Tip.tsx';
import { ink } from '../theme/tokens.ts';

// Menus come with the first one that is opened: the first page does without them.
const Menu = lazy(() => import('@mui/material/Menu'));

interface MenuButtonProps {
  /** What it means, or what is under it, in a sentence. */
  help: string;
  /** Whether it keeps its width when others have to give way. */
  isFirm?: boolean;
  /** What is in the menu, given what closes it. */
  items: (close: () => void) => ReactNode;
  onClose?: () => void;
  /** What stands on the line. */
  children: ReactNode;
}

/** A line of words under which a menu opens. */
export function MenuButton({ help, isFirm = false, items, onClose, children }: MenuButtonProps) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const close = () => {
    setAnchor(null);
    onClose?.();
  };
  return (
    <>
      <Tip text={help}>
        <ButtonBase
          aria-haspopup="menu"
          aria-expanded={anchor !== null}
          onClick={(event) => setAnchor(event.currentTarget)}
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
      </Tip>
      {anchor && (
        <Suspense>
          <Menu open anchorEl={anchor} onClose={close}>
            {items(close)}
          </Menu>
        </Suspense>
      )}
    </>
  );
}
