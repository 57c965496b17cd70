import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import type { ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { EmptyPlace } from '../kit/words.tsx';
import { useAddDrive } from './add-drive.tsx';
import { PlaceLayout } from './PlaceLayout.tsx';

/**
 * A place that shows drives while none has been measured: what will be in it, and the way to the first run.
 * @param more what can be done there all the same
 */
export function NothingMeasured({ children, more }: { children: ReactNode; more?: ReactNode }) {
  const navigate = useNavigate();
  const { add, sheet } = useAddDrive();
  return (
    <PlaceLayout>
      <EmptyPlace
        title="No drive has been measured yet"
        action={
          <Box sx={{ display: 'flex', gap: 1, justifyContent: 'center', flexWrap: 'wrap' }}>
            <Button variant="contained" onClick={() => void navigate('/measure')}>
              Measure a drive
            </Button>
            <Button variant="outlined" onClick={add}>
              Add a drive by hand
            </Button>
            {more}
          </Box>
        }
      >
        {children}
      </EmptyPlace>
      {sheet}
    </PlaceLayout>
  );
}
