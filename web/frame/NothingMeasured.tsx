import Button from '@mui/material/Button';
import type { ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { EmptyPlace } from '../kit/words.tsx';
import { PlaceLayout } from './PlaceLayout.tsx';

/** A place that shows drives while none has been measured: what will be in it, and the way to the first run. */
export function NothingMeasured({ children }: { children: ReactNode }) {
  const navigate = useNavigate();
  return (
    <PlaceLayout>
      <EmptyPlace
        title="No drive has been measured yet"
        action={
          <Button variant="contained" onClick={() => void navigate('/measure')}>
            Measure a drive
          </Button>
        }
      >
        {children}
      </EmptyPlace>
    </PlaceLayout>
  );
}
