import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useRef, useState } from 'react';
import { parseProfile } from '#core/4-runs/supply/profile.ts';
import { textsOfProfile } from '#core/4-runs/supply/typed-from-profile.ts';
import type { DriveCard } from '#core/6-exchange/api/wire.ts';
import { NEW_DRIVE_FIELDS, newDriveText, newDriveTexts, readNewDrive } from '#core/2-trade/drives/new-drive.ts';
import { api } from '../api/client.ts';
import { FileInput } from '../kit/FileInput.tsx';
import { KeptFieldsSheet } from '../kit/KeptFieldsSheet.tsx';
import { notTaken, readDocument } from '../kit/read-document.ts';
import { ProblemText } from '../kit/words.tsx';
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
      after={(group, texts, onTexts) =>
        group === NEW_DRIVE_FIELDS[0]!.group ? (
          <>
            <TakenFor texts={texts} />
            <FromProfile onTexts={onTexts} />
          </>
        ) : null
      }
    />
  );
}

/** Fills the fields with what the profile of somebody else’s drive says, to be gone over. */
function FromProfile({ onTexts }: { onTexts: (texts: Readonly<Record<string, string>>) => void }) {
  const input = useRef<HTMLInputElement>(null);
  const [problem, setProblem] = useState<string>();
  const take = async (file: File) => {
    try {
      onTexts(textsOfProfile(parseProfile(await readDocument(file))));
      setProblem(undefined);
    } catch (error) {
      setProblem(notTaken(file, error));
    }
  };
  return (
    <Box sx={{ mt: 0.75 }}>
      <Button variant="text" onClick={() => input.current?.click()} sx={{ ml: -1 }}>
        From a colleague’s profile
      </Button>
      <FileInput label="A drive’s profile" input={input} onFile={(file) => void take(file)} />
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
    </Box>
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
