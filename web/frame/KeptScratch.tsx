import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useEffect, useState } from 'react';
import type { KeptScratchEntry } from '#core/6-exchange/api/wire.ts';
import type { Problem } from '#core/1-ground/problem.ts';
import { bytesText } from '#core/1-ground/units/format.ts';
import { api } from '../api/client.ts';
import { Heading, ProblemText } from '../kit/words.tsx';
import { ink } from '../theme/tokens.ts';

/** Scratch files that long fills left on purpose: where they are, and giving them back. */
export function KeptScratch() {
  const [kept, setKept] = useState<KeptScratchEntry[]>([]);
  const [problem, setProblem] = useState<string>();
  useEffect(() => {
    api.kept().then(setKept, (error: unknown) => setProblem((error as Problem).detail));
  }, []);
  const remove = async (runId: string) => {
    try {
      await api.removeKept(runId);
      setKept((all) => all.filter((one) => one.runId !== runId));
      setProblem(undefined);
    } catch (error) {
      setProblem((error as Problem).detail);
    }
  };
  return (
    <>
      <Heading>Kept scratch files</Heading>
      {kept.length === 0 && (
        <Box sx={{ fontSize: 14, color: ink('second') }}>
          None. A Long fill that keeps its scratch file is listed here; Existing material reads it again.
        </Box>
      )}
      {kept.map((one) => (
        <Box key={one.runId} sx={{ display: 'flex', justifyContent: 'space-between', gap: 2, py: 0.5, fontSize: 13.5 }}>
          <span style={{ overflowWrap: 'anywhere' }}>
            <b>{bytesText(one.bytes)}</b> on {one.driveLabel}
            <span style={{ color: ink('second') }}> · {one.folder}</span>
          </span>
          <Button variant="text" onClick={() => void remove(one.runId)} sx={{ flex: 'none', fontSize: 13.5 }}>
            Remove
          </Button>
        </Box>
      ))}
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
    </>
  );
}
