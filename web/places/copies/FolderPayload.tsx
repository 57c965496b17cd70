import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { bytesText, count } from '#core/1-ground/units/format.ts';
import { bytesTyped } from '#core/1-ground/units/typable.ts';
import { api } from '../../api/client.ts';
import { SideSheet } from '../../kit/SideSheet.tsx';
import { ProblemText } from '../../kit/words.tsx';
import { useLibrary } from '../../state/library.ts';
import type { FieldTexts } from '#core/1-ground/fields/field.ts';
import { useFolderWork } from './use-folder-work.ts';
import { EndField, endOn, type ChosenEnd } from './EndField.tsx';

interface FolderSize {
  files: number;
  bytes: number;
}

/** Takes size and number of files from a folder of this machine. Names and contents are not read. */
export default function FolderPayload({
  onTexts,
  onClose,
}: {
  onTexts: (part: FieldTexts) => void;
  onClose: () => void;
}) {
  const real = useLibrary((state) => state.volumes).filter(({ kind }) => kind === 'real');
  const [end, setEnd] = useState<ChosenEnd>(() => endOn(real[0]));
  const work = useFolderWork<FolderSize, FolderSize>(
    (onMessage, signal) => api.folderPayload(end.volumeId, end.folder, onMessage, signal),
    ({ files, bytes }) => {
      if (files === 0) return;
      onTexts({ bytes: bytesTyped(bytes), files: String(files) });
      onClose();
    },
  );
  const { isGoing, progress, found } = work;
  const problem = found?.files === 0 ? `${end.folder} holds no files. Choose another folder.` : work.problem;
  return (
    <SideSheet
      title="Sizes from a folder"
      onlyAsks
      onClose={onClose}
      actions={
        isGoing ? (
          <Button variant="outlined" onClick={work.stop}>
            Stop
          </Button>
        ) : (
          <Button variant="contained" disabled={real.length === 0} onClick={() => void work.start()}>
            Take these
          </Button>
        )
      }
    >
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
      <EndField label="Volume" volumes={real} end={end} onEnd={setEnd} />
      {isGoing && (
        <Box role="status" sx={{ mt: 1.5 }}>
          <LinearProgress aria-label="Counting the files" />
          <Typography variant="body2" sx={{ mt: 0.5 }}>
            {progress ? `${count(progress.files, 'file', 'files')}, ${bytesText(progress.bytes)} so far` : 'Looking'}
          </Typography>
        </Box>
      )}
    </SideSheet>
  );
}
