import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMemo, useState } from 'react';
import type { DriveCard } from '#core/api/wire.ts';
import { DRIVE_FIELDS, driveTexts, readDrive } from '#core/drives/drive-details.ts';
import type { FieldTexts } from '#core/fields/field.ts';
import { Problem } from '#core/problem.ts';
import { api } from '../../api/client.ts';
import { FieldLines } from '../../kit/field-lines.tsx';
import { SideSheet } from '../../kit/SideSheet.tsx';
import { ProblemText } from '../../kit/words.tsx';
import { useLibrary } from '../../state/library.ts';
import { ink } from '../../theme/tokens.ts';

/** What a person knows of a drive beside what was measured. */
export default function CardSheet({ card, onClose }: { card: DriveCard; onClose: () => void }) {
  const [texts, setTexts] = useState<FieldTexts>(() => driveTexts(card.label, card.details));
  const [problem, setProblem] = useState<string>();
  const { card: read, errors } = useMemo(() => readDrive(texts), [texts]);
  const keep = async () => {
    if (!read) return;
    try {
      await api.changeDrive(card.id, read);
      await useLibrary.getState().refresh();
      onClose();
    } catch (error) {
      setProblem(error instanceof Problem ? error.detail : String(error));
    }
  };
  return (
    <SideSheet
      title="Edit card"
      onClose={onClose}
      actions={
        <>
          <Button variant="contained" disabled={read === null} onClick={() => void keep()}>
            Keep
          </Button>
          {read === null && (
            <Typography variant="body2" sx={{ color: ink('second') }}>
              Something above cannot be used yet.
            </Typography>
          )}
        </>
      }
    >
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
      <FieldLines
        fields={DRIVE_FIELDS}
        texts={texts}
        errors={errors}
        onTexts={(part) => setTexts((old) => ({ ...old, ...part }))}
      />
    </SideSheet>
  );
}
