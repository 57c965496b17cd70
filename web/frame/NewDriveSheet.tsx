import Typography from '@mui/material/Typography';
import type { DriveCard } from '#core/6-exchange/api/wire.ts';
import { NEW_DRIVE_FIELDS, newDriveText, newDriveTexts, readNewDrive } from '#core/2-trade/drives/new-drive.ts';
import { api } from '../api/client.ts';
import { KeptFieldsSheet } from '../kit/KeptFieldsSheet.tsx';
import { refresh } from '../state/library.ts';

interface NewDriveSheetProps {
  onClose: () => void;
  onAdded?: (card: DriveCard) => void;
}

/** A drive that is not here, from its box, a data sheet or one line: what it promises, until it is measured. */
export default function NewDriveSheet({ onClose, onAdded }: NewDriveSheetProps) {
  return (
    <KeptFieldsSheet
      title="Add a drive"
      fields={NEW_DRIVE_FIELDS}
      start={newDriveTexts}
      read={readNewDrive}
      onKeep={async (kept) => {
        const card = await api.addDrive(kept);
        await refresh('drives');
        onAdded?.(card);
      }}
      onClose={onClose}
      hint="What is typed is a promise: verdicts say “would hold” until it is measured."
      after={(group, texts) => (group === NEW_DRIVE_FIELDS[0]!.group ? <TakenFor texts={texts} /> : null)}
    />
  );
}

/** What the line is taken for, as it is typed. */
function TakenFor({ texts }: { texts: Readonly<Record<string, string>> }) {
  const { kept } = readNewDrive(texts);
  if (!kept) return null;
  return (
    <Typography variant="body2" role="status" sx={{ mt: 0.75 }} data-taken-for="">
      {newDriveText(kept)}
    </Typography>
  );
}
