import Typography from '@mui/material/Typography';
import { useEffect, useState } from 'react';
import type { BackupEntry } from '#core/6-exchange/api/wire.ts';
import type { Problem } from '#core/1-ground/problem.ts';
import { bytesText, count } from '#core/1-ground/units/format.ts';
import { api } from '../api/client.ts';
import { Heading, ProblemText } from '../kit/words.tsx';

/** What is kept of the store, how much it takes, and how it is put back. */
export function Backups() {
  const [backups, setBackups] = useState<BackupEntry[]>([]);
  const [problem, setProblem] = useState<string>();
  useEffect(() => {
    api.backups().then(setBackups, (error: unknown) => setProblem((error as Problem).detail));
  }, []);
  const [newest] = backups;
  const bytes = backups.reduce((sum, backup) => sum + backup.bytes, 0);
  return (
    <>
      <Heading>Backups</Heading>
      <Typography variant="body2" sx={{ overflowWrap: 'anywhere' }}>
        {newest
          ? `${count(backups.length, 'backup', 'backups')} of runs, drives, workloads and projects, ${bytesText(bytes)} in all, the newest of ${new Date(newest.madeAt).toLocaleString('en-GB')}: ${newest.file}.`
          : 'None yet: the first is made when the store is a day old.'}{' '}
        One is made a day, and before a new version changes the store; the last seven are kept.{' '}
        <code>tavrox restore</code> puts one back.
      </Typography>
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
    </>
  );
}
