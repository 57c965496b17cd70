import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { letIn } from '../api/session.ts';
import { ProblemText } from '../kit/words.tsx';

/** What a browser sees that was not let in: what to do. */
export default function ClosedDoor() {
  const [key, setKey] = useState('');
  const [problem, setProblem] = useState<string>();
  const open = async () => {
    // The whole address may be pasted too.
    const refusal = await letIn(key.trim().replace(/^.*#key=/, ''));
    if (refusal === undefined) location.reload();
    else setProblem(refusal);
  };
  return (
    <Box
      component="main"
      sx={{ maxWidth: 560, mx: 'auto', mt: '18vh', px: 3, display: 'flex', flexDirection: 'column', gap: 1.5 }}
    >
      <Typography variant="h1">This browser has to be let in</Typography>
      <Typography>
        Tavrox writes to disks, so it lets in only whoever can see its terminal. Open the whole address that it printed
        when it started, or paste that address here. Each counts once; <code>tavrox address</code> prints another. From
        another machine, paste the token you were given.
      </Typography>
      <Box
        component="form"
        sx={{ display: 'flex', gap: 1 }}
        onSubmit={(event) => {
          event.preventDefault();
          void open();
        }}
      >
        <TextField
          fullWidth
          autoFocus
          autoComplete="off"
          value={key}
          onChange={(event) => setKey(event.target.value)}
          slotProps={{ htmlInput: { 'aria-label': 'Address, key or token' } }}
        />
        <Button type="submit" variant="contained" disabled={key.trim() === ''}>
          Open
        </Button>
      </Box>
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
    </Box>
  );
}
