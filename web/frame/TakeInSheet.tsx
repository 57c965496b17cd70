import Button from '@mui/material/Button';
import List from '@mui/material/List';
import ListItem from '@mui/material/ListItem';
import Typography from '@mui/material/Typography';
import { Suspense, lazy, useEffect, useState } from 'react';
import { Link } from 'react-router';
import type { ImportPreview } from '#core/6-exchange/api/wire.ts';
import { isTableName } from '#core/1-ground/curves/table-trace.ts';
import { Problem } from '#core/1-ground/problem.ts';
import { arrivalText, countsText } from '#core/6-exchange/archive/plan-words.ts';
import type { Take } from '#core/6-exchange/archive/plan.ts';
import { api } from '../api/client.ts';
import { ChoiceLine } from '../kit/form.tsx';
import { SideSheet } from '../kit/SideSheet.tsx';
import { Heading, ProblemText } from '../kit/words.tsx';
import { refresh } from '../state/library.ts';

const TraceSheet = lazy(() => import('./TraceSheet.tsx'));

interface TakeInSheetProps {
  file: File;
  onClose: () => void;
  /** Called when what was taken in is shown somewhere else. */
  onDone?: () => void;
}

/** Tables are traces that others made; everything else is an archive, a document or a report. */
export default function TakeInSheet({ file, onClose, onDone }: TakeInSheetProps) {
  const leave = () => {
    onClose();
    onDone?.();
  };
  if (isTableName(file.name)) {
    return (
      <Suspense>
        <TraceSheet file={file} onClose={onClose} onDone={leave} />
      </Suspense>
    );
  }
  return <DocumentSheet file={file} onClose={onClose} onDone={leave} />;
}

const CHOICES: readonly (readonly [Take, string])[] = [
  ['newer', 'The newer'],
  ['mine', 'Mine'],
  ['theirs', 'Theirs'],
  ['both', 'Both'],
];

/** Documents listed at most: more are counted. */
const MOST_LISTED = 60;

/** What taking a file in would change, and the button that does it. */
function DocumentSheet({ file, onClose, onDone }: TakeInSheetProps) {
  const [take, setTake] = useState<Take>('newer');
  const [preview, setPreview] = useState<ImportPreview>();
  const [problem, setProblem] = useState<string>();
  const [isDone, setDone] = useState(false);
  const said = (error: unknown) => setProblem(error instanceof Problem ? error.detail : String(error));
  useEffect(() => {
    let left = false;
    api.previewImport(file, file.name, take).then(
      (found) => !left && setPreview(found),
      (error: unknown) => !left && said(error),
    );
    return () => {
      left = true;
    };
  }, [file, take]);
  const takeIn = async () => {
    try {
      setPreview(await api.importFile(file, file.name, take));
      await refresh();
      setDone(true);
    } catch (error) {
      said(error);
    }
  };
  const counts = preview?.counts;
  const changes = counts ? counts.kept + counts.replaced + counts.beside : 0;
  const differs = preview?.planned.some(({ arrival }) => ['newer', 'older', 'conflict'].includes(arrival));
  const report = isDone ? preview?.planned.find(({ kind }) => kind === 'report') : undefined;
  return (
    <SideSheet
      title="Take in a file"
      onClose={onClose}
      actions={
        isDone ? (
          <Button variant="contained" onClick={onClose}>
            Close
          </Button>
        ) : (
          <Button variant="contained" disabled={changes === 0} onClick={() => void takeIn()}>
            Take it in
          </Button>
        )
      }
    >
      <Typography variant="body2" sx={{ overflowWrap: 'anywhere' }}>
        {file.name}
      </Typography>
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
      {!preview && problem === undefined && <Typography>Reading it.</Typography>}
      {preview && (
        <>
          <Typography role="status" sx={{ mt: 1 }}>
            {isDone ? 'Taken in: ' : ''}
            {countsText(preview.counts)}
          </Typography>
          {report && (
            <Link to={`/report/${report.keptAs}`} onClick={onDone} style={{ color: 'inherit' }}>
              Open the report
            </Link>
          )}
          {differs && !isDone && (
            <ChoiceLine
              label="Where something is here and is another"
              help="Nothing is taken in by halves: all of it, or nothing."
              value={take}
              options={CHOICES}
              onChange={(next) => setTake(next as Take)}
            />
          )}
          <Heading>What is in it</Heading>
          <List disablePadding>
            {preview.planned.slice(0, MOST_LISTED).map((one) => (
              <ListItem key={`${one.kind} ${one.id}`} disableGutters sx={{ py: '2px', fontSize: 13.5 }}>
                {arrivalText(one, take)}
              </ListItem>
            ))}
          </List>
          {preview.planned.length > MOST_LISTED && (
            <Typography variant="body2" color="textSecondary">
              And {preview.planned.length - MOST_LISTED} more.
            </Typography>
          )}
        </>
      )}
    </SideSheet>
  );
}
