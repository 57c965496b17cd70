import Box from '@mui/material/Box';
import type { SxProps } from '@mui/material/styles';
import { useEffect, useRef, type KeyboardEvent, type ReactNode } from 'react';

const STEPS: Record<string, (at: number, last: number) => number> = {
  ArrowDown: (at, last) => Math.min(last, at + 1),
  ArrowUp: (at) => Math.max(0, at - 1),
  Home: () => 0,
  End: (_at, last) => last,
};

interface ChoiceListProps {
  role: 'radiogroup' | 'listbox';
  label: string;
  sx?: SxProps;
  children: ReactNode;
}

/**
 * Lines of which one is chosen, as a keyboard expects them: Tab comes to the list once, at the chosen line or the first,
 * and the arrow keys go through it. In a radio group the line that is come to is chosen.
 */
export function ChoiceList({ role, label, sx, children }: ChoiceListProps) {
  const list = useRef<HTMLDivElement>(null);
  const lines = () => [...(list.current?.querySelectorAll<HTMLElement>('[role="radio"], [role="option"]') ?? [])];
  const isChosen = (line: HTMLElement) =>
    line.getAttribute(role === 'radiogroup' ? 'aria-checked' : 'aria-selected') === 'true';
  // The lines stand anywhere among the children: which of them Tab comes to is decided once they are there.
  useEffect(() => {
    const all = lines();
    const entrance = all.find(isChosen) ?? all[0];
    for (const line of all) line.tabIndex = line === entrance ? 0 : -1;
  });
  const onKeyDown = (event: KeyboardEvent) => {
    const step = STEPS[event.key];
    const all = lines();
    const at = all.indexOf(document.activeElement as HTMLElement);
    if (!step || at < 0) return;
    event.preventDefault();
    const next = all[step(at, all.length - 1)]!;
    next.focus();
    if (role === 'radiogroup' && !isChosen(next)) next.click();
  };
  return (
    <Box ref={list} role={role} aria-label={label} onKeyDown={onKeyDown} {...(sx ? { sx } : {})}>
      {children}
    </Box>
  );
}
