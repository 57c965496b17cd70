import { Suspense, lazy, useState, type ReactNode } from 'react';
import type { DriveCard } from '#core/6-exchange/api/wire.ts';

const NewDriveSheet = lazy(() => import('./NewDriveSheet.tsx'));

/** Adding a drive that is not here, from any place: what opens its sheet, and the sheet to be drawn there. */
export function useAddDrive(onAdded?: (card: DriveCard) => void): { add: () => void; sheet: ReactNode } {
  const [isAdding, setAdding] = useState(false);
  return {
    add: () => setAdding(true),
    sheet: (
      <Suspense fallback={null}>
        {isAdding && <NewDriveSheet onClose={() => setAdding(false)} {...(onAdded ? { onAdded } : {})} />}
      </Suspense>
    ),
  };
}
