import Box from '@mui/material/Box';
import { Suspense, lazy, useEffect, useState } from 'react';
import { Outlet, useNavigate } from 'react-router';
import { ProblemText } from '../kit/words.tsx';
import { useContextStore } from '../state/context.ts';
import { useLibrary } from '../state/library.ts';
import { followLiveFeed, useLive } from '../state/live.ts';
import { followSettings } from '../state/settings.ts';
import { ContextStrip } from './ContextStrip.tsx';
import { placePath } from '../places/place.ts';
import { PLACES } from '../places/registry.ts';
import { Rail } from './Rail.tsx';
import { useShortcuts } from './shortcuts.ts';
import { undoLast } from '../state/undo.ts';
import { UndoBar } from './UndoBar.tsx';

// Sheets come when they are opened for the first time.
const HelpSheet = lazy(() => import('./HelpSheet.tsx'));
const TakeInSheet = lazy(() => import('./TakeInSheet.tsx'));
const SettingsSheet = lazy(() => import('./SettingsSheet.tsx'));

/** Rail, context strip and the place. */
export function Frame() {
  const [sheet, setSheet] = useState<'help' | 'settings' | null>(null);
  const [dropped, setDropped] = useState<File | null>(null);
  const navigate = useNavigate();
  const problem = useLibrary((state) => state.problem);
  const unkept = useLive((state) => state.active.find((run) => run.unkept !== null)?.unkept);

  useEffect(() => {
    return followLiveFeed();
  }, []);
  useEffect(() => followSettings(), []);
  useFirstChoice();
  useDroppedFile(setDropped);

  useShortcuts((key) => {
    const place = PLACES.find((one) => one.key === key);
    if (place) void navigate(placePath(place));
    if (key === '?') setSheet('help');
    if (key === 'u') void undoLast();
  });

  return (
    <Box sx={{ display: 'flex', height: '100%' }}>
      <Rail onSettings={() => setSheet('settings')} onHelp={() => setSheet('help')} />
      <Box sx={{ flex: 1, minWidth: 0, display: 'flex', flexDirection: 'column' }}>
        <ContextStrip />
        {problem && (
          <Box sx={{ px: 3 }}>
            <ProblemText>{problem.detail}</ProblemText>
          </Box>
        )}
        {unkept && (
          <Box sx={{ px: 3 }}>
            <ProblemText>{unkept}</ProblemText>
          </Box>
        )}
        <Outlet />
      </Box>
      <UndoBar />
      <Suspense>
        {sheet === 'help' && <HelpSheet onClose={() => setSheet(null)} />}
        {dropped && <TakeInSheet file={dropped} onClose={() => setDropped(null)} />}
        {sheet === 'settings' && <SettingsSheet onClose={() => setSheet(null)} />}
      </Suspense>
    </Box>
  );
}

/** On a first visit, and when what was chosen is gone, chooses what there is. */
function useFirstChoice(): void {
  const { drives, workloads } = useLibrary();
  useEffect(() => {
    const { driveIds, workloadId, set } = useContextStore.getState();
    const present = driveIds.filter((id) => drives.some((drive) => drive.id === id));
    if (present.length === 0) set({ driveIds: drives.slice(0, 4).map((drive) => drive.id) });
    else if (present.length < driveIds.length) set({ driveIds: present });
    const known = workloads.some((workload) => workload.id === workloadId);
    if (!known && workloads[0]) set({ workloadId: workloads[0].id });
    if (!known && workloads.length === 0 && workloadId !== null) set({ workloadId: null });
  }, [drives, workloads]);
}

/** A file that is dropped where nothing else takes it is offered to be taken in; the page itself is never left for it. */
function useDroppedFile(onFile: (file: File) => void): void {
  useEffect(() => {
    const over = (event: DragEvent) => event.preventDefault();
    const drop = (event: DragEvent) => {
      // A field that takes files has taken it, or an open sheet is in the way.
      const isTaken = event.defaultPrevented || document.querySelector('[role="dialog"]') !== null;
      event.preventDefault();
      if (isTaken) return;
      const [file] = event.dataTransfer?.files ?? [];
      if (file) onFile(file);
    };
    window.addEventListener('dragover', over);
    window.addEventListener('drop', drop);
    return () => {
      window.removeEventListener('dragover', over);
      window.removeEventListener('drop', drop);
    };
  }, [onFile]);
}
