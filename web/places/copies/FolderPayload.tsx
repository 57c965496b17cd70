import Button from '@mui/material/Button';
import { useState } from 'react';
import { Problem } from '#core/problem.ts';
import { bytesTyped } from '#core/units/typable.ts';
import { api } from '../../api/client.ts';
import { SideSheet } from '../../kit/SideSheet.tsx';
import { ProblemText } from '../../kit/words.tsx';
import { useLibrary } from '../../state/library.ts';
import type { FieldTexts } from '#core/fields/field.ts';
import { EndField, endOn, type ChosenEnd } from './EndField.tsx';

/** Takes size and number of files from a folder of this machine. Names and contents are not read. */
export default function FolderPayload({
  onTexts,
  onClose,
}: {
  onTexts: (part: FieldTexts) => void;
  onClose: () => void;
}) {
  const real = (useLibrary((state) => state.volumes) ?? []).filter(({ kind }) => kind === 'real');
  const [end, setEnd] = useState<ChosenEnd>(() => endOn(real[0]));
  const [problem, setProblem] = useState<string>();
  const take = async () => {
    try {
      const { files, bytes } = await api.folderPayload(end.volumeId, end.folder);
      if (files === 0) return setProblem(`${end.folder} holds no files. Choose another folder.`);
      onTexts({ bytes: bytesTyped(bytes), files: String(files) });
      onClose();
    } catch (error) {
      setProblem(error instanceof Problem ? error.detail : String(error));
    }
  };
  return (
    <SideSheet
      title="Sizes from a folder"
      onClose={onClose}
      actions={
        <Button variant="contained" disabled={real.length === 0} onClick={() => void take()}>
          Take these
        </Button>
      }
    >
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
      <EndField label="Volume" volumes={real} end={end} onEnd={setEnd} />
    </SideSheet>
  );
}
