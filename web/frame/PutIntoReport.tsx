import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Put } from '#core/6-exchange/report/put.ts';
import { mayChange } from '../api/session.ts';
import { ProblemText } from '../kit/words.tsx';
import { putIntoReport, type Changed } from '../state/report-edits.ts';
import { useShortcuts } from './shortcuts.ts';

interface PutIntoReportProps {
  /** What would be put in, made when it is asked for; null while there is nothing to be shown. */
  put: (() => Put) | null;
  /** Another for each thing that is shown: what was said of the one before is over then. */
  subject: string;
}

/** Puts what is shown into the report, by its button or by *e*. One in a place. */
export function PutIntoReport({ put, subject }: PutIntoReportProps) {
  const [done, setDone] = useState<{ subject: string; changed: Changed | null } | null>(null);
  const own = done?.subject === subject ? done : null;
  const doIt = async () => {
    if (!put || own?.changed === null) return;
    setDone({ subject, changed: null });
    setDone({ subject, changed: await putIntoReport(put()) });
  };
  useShortcuts((key) => {
    if (key === 'e' && mayChange()) void doIt();
  });
  if (!put || !mayChange()) return null;
  const { report, problem } = own?.changed ?? {};
  return (
    <Box sx={{ mt: 1.5 }} data-put-into-report="">
      <Button
        variant="text"
        disabled={own?.changed === null}
        onClick={() => void doIt()}
        sx={{ ml: -0.75, fontSize: 13.5 }}
      >
        Put into the report
      </Button>
      <span role="status">
        {report && (
          <Link to={`/report/${report.outline.id}`} style={{ color: 'inherit', fontSize: 13.5, marginLeft: 6 }}>
            it is in: open the report
          </Link>
        )}
      </span>
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
    </Box>
  );
}
