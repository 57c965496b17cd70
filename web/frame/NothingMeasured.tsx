import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { Suspense, lazy, useState, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { EmptyPlace } from '../kit/words.tsx';
import { PlaceLayout } from './PlaceLayout.tsx';

const NewDriveSheet = lazy(() => import('./NewDriveSheet.tsx'));

/** A place that shows drives while none has been measured: what will be in it, and the way to the first run. */
export function NothingMeasured({ children }: { children: ReactNode }) {
  const navigate = useNavigate();
  const [isAdding, setAdding] = useState(false);
  return (
    <PlaceLayout>
      <EmptyPlace
        title="No drive has been measured yet"
        action={
          <Box sx={{ display: 'flex', gap: 1, justifyContent: 'center', flexWrap: 'wrap' }}>
            <Button variant="contained" onClick={() => void navigate('/measure')}>
              Measure a drive
            </Button>
            <Button variant="outlined" onClick={() => setAdding(true)}>
              Add a drive by hand
            </Button>
          </Box>
        }
      >
        {children}
      </EmptyPlace>
      <Suspense fallback={null}>{isAdding && <NewDriveSheet onClose={() => setAdding(false)} />}</Suspense>
    </PlaceLayout>
  );
}
