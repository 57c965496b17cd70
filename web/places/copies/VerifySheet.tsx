import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import {
  isAllAlike,
  verifiedWords,
  type VerifiedFolder,
  type VerifyProgress,
} from '#core/5-answers/copies/verified-folder.ts';
import { bytesText, formatNumber } from '#core/1-ground/units/format.ts';
import { api } from '../../api/client.ts';
import { SideSheet } from '../../kit/SideSheet.tsx';
import { Heading, ProblemText } from '../../kit/words.tsx';
import { useLibrary } from '../../state/library.ts';
import { useFolderWork } from './use-folder-work.ts';
import { EndField, endOn, type ChosenEnd } from './EndField.tsx';

const MOST_SHOWN = 200;

/** Holds the files of a folder against the media hash list that lies in it; nothing is written. */
export default function VerifySheet({ onClose }: { onClose: () => void }) {
  const real = useLibrary((state) => state.volumes).filter(({ kind }) => kind === 'real');
  const [end, setEnd] = useState<ChosenEnd>(() => endOn(real[0]));
  const { isGoing, progress, found, problem, start, stop } = useFolderWork<VerifyProgress, VerifiedFolder>(
    (onMessage, signal) => api.verify(end.volumeId, end.folder, onMessage, signal),
  );
  return (
    <SideSheet
      title="Verify a hash list"
      onlyAsks
      onClose={onClose}
      actions={
        isGoing ? (
          <Button variant="outlined" onClick={stop}>
            Stop
          </Button>
        ) : (
          <Button variant="contained" disabled={real.length === 0 || end.folder === ''} onClick={() => void start()}>
            Verify
          </Button>
        )
      }
    >
      <Typography variant="body2">
        Every file that the list in a folder names is read and compared (ASC MHL, or MHL version 1). Nothing is written.
      </Typography>
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
      <EndField label="Volume" volumes={real} end={end} onEnd={setEnd} />
      {isGoing && progress && (
        <Box role="status" sx={{ mt: 1.5 }}>
          <LinearProgress
            variant={progress.ofBytes > 0 ? 'determinate' : 'indeterminate'}
            value={progress.ofBytes > 0 ? (100 * progress.bytes) / progress.ofBytes : 0}
            aria-label="Read of what the list names"
          />
          <Typography variant="body2" sx={{ mt: 0.5 }}>
            {formatNumber(progress.files, 'full')} of {formatNumber(progress.ofFiles, 'full')} files,{' '}
            {bytesText(progress.bytes)} of {bytesText(progress.ofBytes)}
          </Typography>
        </Box>
      )}
      {found && <Found found={found} />}
    </SideSheet>
  );
}

function Found({ found }: { found: VerifiedFolder }) {
  const { lead, text } = verifiedWords(found);
  const lines = [
    ...found.differing.map((path) => `${path}: differs`),
    ...found.missing.map((path) => `${path}: missing`),
    ...found.unreadable.map(({ path, why }) => `${path}: ${why}`),
    ...found.unlisted.map((path) => `${path}: in no list`),
  ];
  return (
    <Box data-verified={isAllAlike(found)}>
      <Heading>What was found</Heading>
      <Typography>
        <b>{lead}</b> {text}
      </Typography>
      {lines.length > 0 && (
        <Box component="ul" sx={{ m: 0, mt: 1, pl: 2, fontSize: 13.5, overflowWrap: 'anywhere' }}>
          {lines.slice(0, MOST_SHOWN).map((line) => (
            <li key={line}>{line}</li>
          ))}
          {lines.length > MOST_SHOWN && <li>and {formatNumber(lines.length - MOST_SHOWN, 'full')} more</li>}
        </Box>
      )}
    </Box>
  );
}
