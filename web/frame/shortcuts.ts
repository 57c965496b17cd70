import { useEffect } from 'react';

/** Shortcuts that the current place offers beside those of the frame. */
export const PLACE_SHORTCUTS: readonly { key: string; does: string }[] = [
  { key: 'g', does: 'Start or stop a run (Measure)' },
  { key: 'j', does: 'Next run (Measure), next part (Report)' },
  { key: 'k', does: 'Previous run (Measure), previous part (Report)' },
  { key: 'h', does: 'Hold the run, or let it go on' },
  { key: 'o', does: 'What to run, and its options' },
  { key: 'p', does: 'Pin the run, the drive or the build, for a comparison; again lets it go' },
  { key: 'e', does: 'Put what is shown into the report' },
  { key: 'u', does: 'Undo the last deletion, or the last change to a workload' },
  { key: 'x', does: 'Trace by data written or by time (Measure)' },
];

function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName))
  );
}

/**
 * Calls `onKey` with single keys that are pressed outside fields and open sheets, without modifiers,
 * which belong to browser and screen reader.
 */
export function useShortcuts(onKey: (key: string) => void): void {
  useEffect(() => {
    const listener = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
      if (document.querySelector('[role="dialog"], [role="menu"]')) return;
      onKey(event.key);
    };
    // Before any list takes a letter for the beginning of one of its lines.
    window.addEventListener('keydown', listener, { capture: true });
    return () => window.removeEventListener('keydown', listener, { capture: true });
  });
}
