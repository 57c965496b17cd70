import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useEffect, useState } from 'react';
import type { Problem } from '#core/1-ground/problem.ts';
import { api } from '../api/client.ts';
import { Heading, ProblemText } from '../kit/words.tsx';

/** How many browsers are let in, and ending all but this. */
export function Browsers() {
  const [browsers, setBrowsers] = useState<number>();
  const [problem, setProblem] = useState<string>();
  const tell = (error: unknown) => setProblem((error as Problem).detail);
  useEffect(() => {
    api.sessions().then((found) => setBrowsers(found.browsers), tell);
  }, []);
  const others = (browsers ?? 1) - 1;
  return (
    <>
      <Heading>Browsers</Heading>
      <Typography variant="body2">
        {others > 0
          ? `Beside this one ${others === 1 ? 'another browser is' : `${others} other browsers are`} let in until Tavrox ends.`
          : 'Only this browser is let in.'}{' '}
        For another, <code>tavrox address</code> prints an address that counts once.
      </Typography>
      {others > 0 && (
        <Button
          variant="outlined"
          sx={{ mt: 1, alignSelf: 'flex-start' }}
          onClick={() => void api.endOtherSessions().then(() => setBrowsers(1), tell)}
        >
          Let only this one in
        </Button>
      )}
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
    </>
  );
}
