import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useEffect, useState } from 'react';
import type { Problem } from '#core/1-ground/problem.ts';
import { api } from '../api/client.ts';
import { Heading, ProblemText } from '../kit/words.tsx';
import { refresh } from '../state/library.ts';
import { ink } from '../theme/tokens.ts';

/** The made-up workspace, and the switch that takes it away. @param quiet shows nothing where there are no examples */
export function Examples({ quiet = false }: { quiet?: boolean }) {
  const [present, setPresent] = useState(false);
  const [asked, setAsked] = useState(false);
  const [problem, setProblem] = useState<string>();
  useEffect(() => {
    api.examples().then(
      (examples) => setPresent(examples.present),
      (error: unknown) => setProblem((error as Problem).detail),
    );
  }, []);
  const remove = async () => {
    try {
      await api.removeExamples();
      await refresh();
      setPresent(false);
    } catch (error) {
      setProblem((error as Problem).detail);
    }
  };
  if (quiet && !present) return null;
  return (
    <>
      <Heading>Examples</Heading>
      <Typography variant="body2">
        The workloads, drives and runs of Lowlight Dome Works are made up. They can go in one step; your own runs and
        drives stay.
      </Typography>
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
      {present ? (
        <Button
          variant="outlined"
          sx={{ mt: 1.5, alignSelf: 'flex-start' }}
          onClick={() => (asked ? void remove() : setAsked(true))}
        >
          {asked ? 'Yes, remove all examples' : 'Remove all examples'}
        </Button>
      ) : (
        <Typography variant="body2" sx={{ mt: 1, color: ink('second') }}>
          There are none here.
        </Typography>
      )}
    </>
  );
}
