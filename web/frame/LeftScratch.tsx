import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useEffect, useState } from 'react';
import type { LeftScratchEntry } from '#core/6-exchange/api/wire.ts';
import type { Problem } from '#core/1-ground/problem.ts';
import { api } from '../api/client.ts';
import { Heading, ProblemText } from '../kit/words.tsx';
import { ink } from '../theme/tokens.ts';

/** Scratch folders that could not be removed: where they are, why, and what can be done. Nothing where there are none. */
export function LeftScratch() {
  const [left, setLeft] = useState<LeftScratchEntry[]>([]);
  const [problem, setProblem] = useState<string>();
  useEffect(() => {
    api.left().then(setLeft, (error: unknown) => setProblem((error as Problem).detail));
  }, []);
  const attempt = async (act: (id: string) => Promise<unknown>, id: string) => {
    try {
      await act(id);
      setProblem(undefined);
    } catch (error) {
      setProblem((error as Problem).detail);
    }
    setLeft(await api.left());
  };
  if (left.length === 0 && problem === undefined) return null;
  return (
    <>
      <Heading>Left on drives</Heading>
      {left.map(({ id, folder, driveLabel, why }) => (
        <Box key={id} data-left={id} sx={{ py: 0.5, fontSize: 13.5 }}>
          <Box sx={{ overflowWrap: 'anywhere' }}>
            {driveLabel}
            <span style={{ color: ink('second') }}> · {folder}</span>
          </Box>
          <Box sx={{ overflowWrap: 'anywhere' }}>{why}</Box>
          <Button variant="text" onClick={() => void attempt(api.removeLeft, id)} sx={{ fontSize: 13.5, ml: -0.75 }}>
            Remove now
          </Button>
          <Button variant="text" onClick={() => void attempt(api.forgetLeft, id)} sx={{ fontSize: 13.5 }}>
            Forget it
          </Button>
        </Box>
      ))}
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
    </>
  );
}
