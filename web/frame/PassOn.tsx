import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import Typography from '@mui/material/Typography';
import { Suspense, lazy, useRef, useState } from 'react';
import { ARCHIVE_KINDS, type ArchiveKind } from '#core/6-exchange/archive/archive-kinds.ts';
import type { Problem } from '#core/1-ground/problem.ts';
import { api } from '../api/client.ts';
import { mayChange } from '../api/session.ts';
import { FileInput } from '../kit/FileInput.tsx';
import { saveBlob } from '../kit/save-json.ts';
import { Heading, ProblemText } from '../kit/words.tsx';
import { useLibrary } from '../state/library.ts';

const TakeInSheet = lazy(() => import('./TakeInSheet.tsx'));

const NAMES: Record<ArchiveKind, string> = {
  drive: 'Cards of drives',
  run: 'Runs',
  workload: 'Workloads',
  project: 'Projects',
  report: 'Reports',
  settings: 'Settings',
};

/**
 * The workspace, or parts of it, for another Tavrox; and what comes from there.
 * @param onDone what was taken in leads elsewhere: the sheet around it closes
 */
export function PassOn({ onDone }: { onDone: () => void }) {
  const { drives, runs, workloads, projects, reports, settings } = useLibrary();
  const counts: Record<ArchiveKind, number> = {
    drive: drives.length,
    run: runs.length,
    workload: workloads.length,
    project: projects.length,
    report: reports.length,
    settings: settings ? 1 : 0,
  };
  const [chosen, setChosen] = useState<readonly ArchiveKind[]>(ARCHIVE_KINDS);
  const [isWriting, setWriting] = useState(false);
  const [problem, setProblem] = useState<string>();
  const [file, setFile] = useState<File | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const save = async () => {
    setWriting(true);
    try {
      const only = chosen.length === ARCHIVE_KINDS.length ? '' : chosen.join(',');
      saveBlob('Tavrox', 'zip', await api.exportArchive(only));
      setProblem(undefined);
    } catch (error) {
      setProblem((error as Problem).detail);
    }
    setWriting(false);
  };
  return (
    <>
      <Heading>Pass on</Heading>
      <Typography variant="body2">
        An archive is a zip of documents that another Tavrox takes in. It holds everything as it is, with paths, names
        of machines and serial numbers; a report is what leaves them out.
      </Typography>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 1.5 }}>
        {ARCHIVE_KINDS.map((kind) => (
          <FormControlLabel
            key={kind}
            label={
              <Typography variant="body2">
                {kind === 'settings' ? NAMES[kind] : `${NAMES[kind]}, ${counts[kind]}`}
              </Typography>
            }
            control={
              <Checkbox
                checked={chosen.includes(kind)}
                onChange={(event) =>
                  setChosen(event.target.checked ? [...chosen, kind] : chosen.filter((one) => one !== kind))
                }
              />
            }
          />
        ))}
      </Box>
      <Box sx={{ display: 'flex', gap: 1, mt: 0.5 }}>
        <Button variant="outlined" disabled={chosen.length === 0 || isWriting} onClick={() => void save()}>
          {isWriting ? 'Packing' : 'Save an archive'}
        </Button>
        <Button variant="outlined" disabled={!mayChange()} onClick={() => input.current?.click()}>
          Take in a file
        </Button>
      </Box>
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
      <FileInput label="File to take in" input={input} accept="" onFile={setFile} />
      <Suspense>{file && <TakeInSheet file={file} onClose={() => setFile(null)} onDone={onDone} />}</Suspense>
    </>
  );
}
