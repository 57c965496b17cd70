import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useEffect, useState } from 'react';
import { Problem } from '#core/1-ground/problem.ts';
import { api } from '../api/client.ts';
import { SideSheet } from '../kit/SideSheet.tsx';
import { Heading, ProblemText } from '../kit/words.tsx';
import { refresh, useLibrary } from '../state/library.ts';
import { ink } from '../theme/tokens.ts';
import { PassOn } from './PassOn.tsx';
import { Backups } from './Backups.tsx';
import { Browsers } from './Browsers.tsx';
import { KeptScratch } from './KeptScratch.tsx';
import { LeftScratch } from './LeftScratch.tsx';
import { StandInFaults } from './StandInFaults.tsx';

export default function SettingsSheet({ onClose }: { onClose: () => void }) {
  const [present, setPresent] = useState(false);
  const [asked, setAsked] = useState(false);
  const [problem, setProblem] = useState<string>();
  const standIns = useLibrary((state) => state.volumes).filter((volume) => volume.kind === 'stand-in');

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

  return (
    <SideSheet title="Settings" onClose={onClose}>
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
      <Heading>Stand-ins</Heading>
      <Typography variant="body2" sx={{ mb: 1 }}>
        Simulated drives that ship with Tavrox. Nothing is written to a disk when they are measured. A fault that is
        switched on holds for the runs started from then on, until Tavrox ends.
      </Typography>
      {standIns.map((standIn) => (
        <StandInFaults key={standIn.id} standIn={standIn} />
      ))}
      <KeptScratch />
      <LeftScratch />
      <PassOn onDone={onClose} />
      <Backups />
      <Browsers />
    </SideSheet>
  );
}
