import Button from '@mui/material/Button';
import Snackbar from '@mui/material/Snackbar';
import { ink } from '../theme/tokens.ts';
import { undoLast, useUndo } from '../state/undo.ts';

/** So long what was done can be taken back. */
const MILLISECONDS = 15_000;

/** What was deleted or changed last, and the way back. */
export function UndoBar() {
  const last = useUndo((state) => state.last);
  return (
    <Snackbar
      key={last?.text ?? ''}
      open={last !== null}
      autoHideDuration={MILLISECONDS}
      onClose={(_event, why) => why === 'timeout' && useUndo.setState({ last: null })}
      message={last?.text}
      anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      // Beside the rail, and not over what a sheet or a column ends with, in small windows too.
      sx={{ left: { xs: 96, sm: 96 }, right: 'auto', maxWidth: 330 }}
      slotProps={{ content: { sx: { bgcolor: ink('text'), color: ink('page') } } }}
      action={
        <Button variant="text" color="inherit" sx={{ color: 'inherit' }} onClick={() => void undoLast()}>
          Undo (u)
        </Button>
      }
    />
  );
}
