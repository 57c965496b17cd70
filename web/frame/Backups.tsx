import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useEffect, useState } from 'react';
import type { BackupEntry } from '#core/6-exchange/api/wire.ts';
import type { Problem } from '#core/1-ground/problem.ts';
import { bytesText, count } from '#core/1-ground/units/format.ts';
import { api } from '../api/client.ts';
import { Heading, ProblemText } from '../kit/words.tsx';
import { refresh } from '../state/library.ts';
import { ink } from '../theme/tokens.ts';

/** What is kept of the store, how much it takes, and how it is put back. */
export function Backups() {
  const [backups, setBackups] = useState<BackupEntry[]>([]);
  const [problem, setProblem] = useState<string>();
  useEffect(() => {
    api.backups().then(setBackups, (error: unknown) => setProblem((error as Problem).detail));
  }, []);
  const [asked, setAsked] = useState(false);
  const [done, setDone] = useState<string>();
  const list = () => api.backups().then(setBackups);
  const attempt = (doing: Promise<string>) =>
    doing
      .then(async (sentence) => {
        setDone(sentence);
        setProblem(undefined);
        await list();
      })
      .catch((error: unknown) => setProblem((error as Problem).detail));
  const backUp = () => api.makeBackup().then(({ file }) => `Backed up to ${file}.`);
  const restore = async (backup: BackupEntry) => {
    const { documents, before } = await api.restoreBackup(backup.file.split('/').at(-1)!);
    await refresh();
    return `${count(documents, 'document is', 'documents are')} here again. What was here before is in ${before ?? 'no backup'}.`;
  };
  const [newest] = backups;
  const bytes = backups.reduce((sum, backup) => sum + backup.bytes, 0);
  return (
    <>
      <Heading>Backups</Heading>
      <Typography variant="body2" sx={{ overflowWrap: 'anywhere' }}>
        {newest
          ? `${count(backups.length, 'backup', 'backups')} of runs, drives, workloads, projects and reports, ${bytesText(bytes)} in all, the newest of ${new Date(newest.madeAt).toLocaleString('en-GB')}: ${newest.file}.`
          : 'None yet: the first is made when the store is a day old.'}{' '}
        One is made a day, and before a new version changes the store; the last seven are kept.{' '}
        <code>tavrox restore</code> puts one back.
      </Typography>
      <Box sx={{ display: 'flex', gap: 1, mt: 1, flexWrap: 'wrap' }}>
        <Button variant="outlined" onClick={() => void attempt(backUp())}>
          Back up now
        </Button>
        {newest && (
          <Button
            variant="text"
            onBlur={() => setAsked(false)}
            onClick={() => {
              if (asked) void attempt(restore(newest));
              setAsked(!asked);
            }}
            sx={asked ? { color: ink('breaks') } : {}}
          >
            {asked ? 'Yes, put the newest in the place of everything' : 'Restore the newest'}
          </Button>
        )}
      </Box>
      <Typography variant="body2" role="status" sx={{ overflowWrap: 'anywhere' }}>
        {done}
      </Typography>
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
    </>
  );
}
