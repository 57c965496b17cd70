import ListItemText from '@mui/material/ListItemText';
import MenuItem from '@mui/material/MenuItem';
import MenuList from '@mui/material/MenuList';
import { createContext, useContext, type KeyboardEvent, type ReactNode } from 'react';
import { Tip } from './Tip.tsx';

type ChoiceRole = 'radiogroup' | 'listbox';
const Role = createContext<ChoiceRole>('radiogroup');
const MOVES = ['ArrowDown', 'ArrowUp', 'Home', 'End'];

interface ChoiceListProps {
  role?: ChoiceRole;
  label: string;
  /** Whether it stands in a frame of its own and scrolls in it. */
  isBoxed?: boolean;
  children: ReactNode;
}

/**
 * Lines of which one is chosen: Tab comes to the list once, at the chosen line or the first, and the arrow keys go
 * through it. In a radio group the line that is come to is chosen.
 */
export function ChoiceList({ role = 'radiogroup', label, isBoxed = false, children }: ChoiceListProps) {
  const chooseFocused = ({ key }: KeyboardEvent) => {
    const line = document.activeElement;
    if (role === 'radiogroup' && MOVES.includes(key) && line?.getAttribute('aria-checked') === 'false') {
      (line as HTMLElement).click();
    }
  };
  // Letters are shortcuts of the place, and not beginnings of lines; in a box that is searched they lead to one.
  const leaveLetters = (event: KeyboardEvent) => {
    if (role === 'radiogroup' && event.key.length === 1 && event.key !== ' ') event.stopPropagation();
  };
  return (
    <MenuList
      role={role}
      aria-label={label}
      disablePadding
      disableListWrap
      data-boxed={isBoxed || undefined}
      onKeyDownCapture={leaveLetters}
      onKeyDown={chooseFocused}
    >
      <Role.Provider value={role}>{children}</Role.Provider>
    </MenuList>
  );
}

interface ChoiceItemProps {
  chosen: boolean;
  onChoose: () => void;
  /** A mark at its edge, a frame around it, or one line of many. */
  look?: 'edge' | 'frame' | 'row';
  /** More about it, for those who point at it. */
  more?: string;
  children: ReactNode;
}

/** One line of a ChoiceList, to be pressed over its whole width. */
export function ChoiceItem({ chosen, onChoose, look = 'edge', more, children }: ChoiceItemProps) {
  const marks =
    useContext(Role) === 'radiogroup'
      ? { role: 'radio', 'aria-checked': chosen }
      : { role: 'option', 'aria-selected': chosen };
  const line = (
    <MenuItem {...marks} selected={chosen} data-look={look} onClick={onChoose}>
      {children}
    </MenuItem>
  );
  return more === undefined ? line : <Tip text={more}>{line}</Tip>;
}

/** What a line says: what it is, and under it more about it. */
export function ChoiceText({ name, more }: { name: ReactNode; more: ReactNode }) {
  return <ListItemText primary={name} secondary={more} />;
}
