import Typography from '@mui/material/Typography';
import { isOwnUser, mayChange } from '../api/session.ts';
import { SideSheet } from '../kit/SideSheet.tsx';
import { Heading } from '../kit/words.tsx';
import { useLibrary } from '../state/library.ts';
import { Examples } from './Examples.tsx';
import { PassOn } from './PassOn.tsx';
import { Backups } from './Backups.tsx';
import { Browsers } from './Browsers.tsx';
import { KeptScratch } from './KeptScratch.tsx';
import { LeftScratch } from './LeftScratch.tsx';
import { OtherMachines } from './OtherMachines.tsx';
import { StandInFaults } from './StandInFaults.tsx';

export default function SettingsSheet({ onClose }: { onClose: () => void }) {
  const standIns = useLibrary((state) => state.volumes).filter((volume) => volume.kind === 'stand-in');

  return (
    <SideSheet title="Settings" onClose={onClose}>
      {mayChange() && (
        <>
          <Examples />
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
        </>
      )}
      <OtherMachines onLeave={onClose} />
      <PassOn onDone={onClose} />
      {isOwnUser() && (
        <>
          <Backups />
          <Browsers />
        </>
      )}
    </SideSheet>
  );
}
