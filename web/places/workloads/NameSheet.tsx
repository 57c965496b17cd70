import Button from '@mui/material/Button';
import { useState } from 'react';
import type { Workload } from '#core/3-jobs/demand/workload.ts';
import { TextLine } from '../../kit/form.tsx';
import { SideSheet } from '../../kit/SideSheet.tsx';

const LONGEST_NAME = 120;
const LONGEST_NOTE = 4000;

interface NameSheetProps {
  workload: Workload;
  onClose: () => void;
  onSave: (workload: Workload) => void;
}

/** Name and note of a workload. */
export default function NameSheet({ workload, onClose, onSave }: NameSheetProps) {
  const [name, setName] = useState(workload.name);
  const [note, setNote] = useState(workload.note);
  const nameError =
    name.trim() === ''
      ? 'A workload needs a name.'
      : name.length > LONGEST_NAME
        ? `At most ${LONGEST_NAME} characters.`
        : undefined;
  const noteError = note.length > LONGEST_NOTE ? `At most ${LONGEST_NOTE} characters.` : undefined;
  return (
    <SideSheet
      title="Name and note"
      onClose={onClose}
      actions={
        <Button
          variant="contained"
          disabled={nameError !== undefined || noteError !== undefined}
          onClick={() => onSave({ ...workload, name: name.trim(), note })}
        >
          Keep
        </Button>
      }
    >
      <TextLine
        label="Name"
        help="As it stands in the strip above."
        value={name}
        error={nameError}
        onChange={setName}
      />
      <TextLine
        label="Note"
        help="What the job is, for whoever reads it."
        value={note}
        error={noteError}
        lines={4}
        onChange={setNote}
      />
    </SideSheet>
  );
}
