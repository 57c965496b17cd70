import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { Suspense, lazy, useState } from 'react';
import { useNavigate } from 'react-router';
import { recipeKindById } from '#core/3-jobs/recipes/registry.ts';
import { askedOf } from '#core/4-runs/supply/condition-words.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { api } from '../../api/client.ts';
import { mayChange } from '../../api/session.ts';
import { useAttempt } from '../../kit/use-attempt.ts';
import { Heading, ProblemText } from '../../kit/words.tsx';
import { useContextStore } from '../../state/context.ts';
import { refresh } from '../../state/library.ts';
import { deleteKept } from '../../state/undo.ts';
import { Tip } from '../../kit/Tip.tsx';
import { ink } from '../../theme/tokens.ts';

// Fields are loaded when something is to be typed: the first page does without them.
const TextLine = lazy(() => import('../../kit/form.tsx').then((form) => ({ default: form.TextLine })));

const tagsOf = (text: string): string[] => [
  ...new Set(
    text
      .split(',')
      .map((tag) => tag.trim())
      .filter(Boolean),
  ),
];

/** What a person adds to a run, and what can be done with it. */
export default function RunNotes({ run }: { run: RunDocument }) {
  const navigate = useNavigate();
  const { recipeOptions, pinnedRunIds, set, togglePinned } = useContextStore();
  const [draft, setDraft] = useState<{ note: string; tags: string } | null>(null);
  const [asked, setAsked] = useState(false);
  const { problem, attempt } = useAttempt();

  const save = () =>
    attempt(async () => {
      if (draft === null) return;
      const change = { note: draft.note.trim(), tags: tagsOf(draft.tags) };
      await api.annotateRun(run.id, change);
      // The run at hand is a copy: it takes the change too, and the list is asked for again.
      Object.assign(run, change);
      setDraft(null);
      await refresh('runs', 'drives');
    });
  const leaveOut = (leftOut: boolean) =>
    attempt(async () => {
      await api.annotateRun(run.id, { leftOut });
      Object.assign(run, { leftOut });
      await refresh('runs', 'drives');
    });
  const remove = () =>
    attempt(async () => {
      await deleteKept('run', run.id, `The run of ${run.drive.label}`, () => api.deleteRun(run.id));
      await refresh('runs', 'drives');
      void navigate('/measure');
    });
  const repeat = () => {
    set({ recipeId: run.recipe, recipeOptions: { ...recipeOptions, [run.recipe]: run.options } });
  };

  const isChangeable = run.endedAt !== null && mayChange();
  const small = { fontSize: 13.5, px: 0.5, minWidth: 0, fontWeight: 400 } as const;
  return (
    <>
      <Heading>This run</Heading>
      {draft === null ? (
        <>
          {run.note !== '' && <Box sx={{ fontSize: 13.5, overflowWrap: 'anywhere' }}>{run.note}</Box>}
          {run.tags.length > 0 && (
            <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.75, mt: 0.5 }}>
              {run.tags.map((tag) => (
                <Box
                  key={tag}
                  component="span"
                  sx={{
                    fontSize: 12.5,
                    px: 0.9,
                    border: `1px solid ${ink('rule')}`,
                    borderRadius: 1,
                    color: ink('second'),
                  }}
                >
                  {tag}
                </Box>
              ))}
            </Box>
          )}
          {run.leftOut && (
            <Box data-left-out="" sx={{ fontSize: 13.5, color: ink('second') }}>
              Left out: it stays here and counts for nothing in Fit, Drives, Copies and Sizing.
            </Box>
          )}
          <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.5, mx: -0.5, mt: 0.25 }}>
            {mayChange() && (
              <Button variant="text" sx={small} onClick={() => setDraft({ note: run.note, tags: run.tags.join(', ') })}>
                {run.note === '' && run.tags.length === 0 ? 'Add a note' : 'Change note'}
              </Button>
            )}
            {!recipeKindById(run.recipe).hasTargets && (
              <Tip text={askedOf(run).join('')}>
                <Button variant="text" sx={small} onClick={repeat}>
                  Take its options
                </Button>
              </Tip>
            )}
            <Button variant="text" sx={small} onClick={() => togglePinned(run.id)}>
              {pinnedRunIds.includes(run.id) ? 'Unpin' : 'Pin'}
            </Button>
            {isChangeable && (
              <Tip text="A run that something spoilt need not rule its drive.">
                <Button variant="text" sx={small} onClick={() => void leaveOut(!run.leftOut)}>
                  {run.leftOut ? 'Count this run again' : 'Leave this run out'}
                </Button>
              </Tip>
            )}
            {isChangeable && (
              <Button variant="text" sx={small} onClick={() => (asked ? void remove() : setAsked(true))}>
                {asked ? 'Yes, delete' : 'Delete'}
              </Button>
            )}
          </Box>
        </>
      ) : (
        <Suspense>
          <TextLine
            label="Note"
            value={draft.note}
            help="What one should know of this run."
            lines={2}
            onChange={(note) => setDraft({ ...draft, note })}
          />
          <TextLine
            label="Tags"
            value={draft.tags}
            help="Separated by commas."
            onChange={(tags) => setDraft({ ...draft, tags })}
          />
          <Box sx={{ display: 'flex', gap: 1, mt: 1 }}>
            <Button variant="outlined" onClick={() => void save()}>
              Keep
            </Button>
            <Button variant="text" onClick={() => setDraft(null)}>
              Cancel
            </Button>
          </Box>
        </Suspense>
      )}
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
    </>
  );
}
