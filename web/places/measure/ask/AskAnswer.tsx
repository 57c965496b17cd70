import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useEffect, useState } from 'react';
import type { Workload } from '#core/3-jobs/demand/workload.ts';
import type { Problem } from '#core/1-ground/problem.ts';
import { MOST_SECONDS } from '#core/3-jobs/recipes/until-decided.ts';
import { demandsOf } from '#core/3-jobs/demand/items.ts';
import type { DriveCard, VolumeEntry } from '#core/6-exchange/api/wire.ts';
import { TAKEN_EMPTY, assumedText, costOfDecidingOn, fitsText, questionText } from '#core/5-answers/ask/question.ts';
import { answerOf, type Answer } from '#core/5-answers/verdict/answer.ts';
import { provingWords } from '#core/5-answers/verdict/proving-words.ts';
import { VERDICT_INK, verdictName } from '#core/5-answers/verdict/verdict.ts';
import { ProblemText } from '../../../kit/words.tsx';
import { InlineVerdict } from '../../../pictures/kit/verdict-marks.tsx';
import { spaceOf } from '../../../state/drive-supplies.ts';
import { useContextStore } from '../../../state/context.ts';
import { useLibrary } from '../../../state/library.ts';
import { useLive } from '../../../state/live.ts';
import { ink } from '../../../theme/tokens.ts';
import { judgedOn, judgedOnCard, type Decision } from './use-decision.ts';

interface AskAnswerProps {
  decision: Decision;
  /** What stands in the fields now; another than what was asked where it was changed since. */
  asked: Workload | null;
  assumed: readonly string[];
  isTouched: boolean;
  /** Where the next run goes. */
  volume: VolumeEntry | undefined;
  /** A drive that is not attached, which is asked about in its place. */
  card: DriveCard | undefined;
}

/** The answer in a sentence, with its reason and its limit; while a run goes on, how far each job is decided. */
export function AskAnswer({ decision, asked, assumed, isTouched, volume, card }: AskAnswerProps) {
  const { asked: now, problem, isBusy } = decision;
  const active = useLive((state) => state.active.find((one) => one.runId === now?.runId));
  const { answer, drive, problem: fault } = useAnswer(now, active !== undefined);
  if (problem !== undefined || fault !== undefined) return <ProblemText>{problem ?? fault}</ProblemText>;
  if (isBusy && !now) return <Line>Looking at what is known.</Line>;
  if (!now)
    return isTouched && asked ? (
      <Line>{`${assumedText(assumed)} ${card ? NOT_MEASURED : willText(asked, volume)}`.trim()}</Line>
    ) : null;
  const question = questionText(drive, now.workload);
  if (active) {
    const jobs = active.progress?.jobs ?? [];
    return (
      <Box role="status" sx={{ mt: 1 }}>
        <Typography variant="body2" color="textSecondary">
          {question}
        </Typography>
        {jobs.length === 0 && <Typography>What is known does not decide it. It is measured now.</Typography>}
        {jobs.map((job) => (
          <Typography key={job.name}>
            {now.workload.items.length > 1 && <b>{job.name}: </b>}
            {job.text}
          </Typography>
        ))}
      </Box>
    );
  }
  if (!answer) return <Line>Looking at what is known.</Line>;
  const isSame = asked === null || JSON.stringify(asked) === JSON.stringify(now.workload);
  const proof = answer.verdict === 'not-proven' ? answer.deciding?.verdict.wouldProve : null;
  return (
    <Box role="status" data-answer={answer.verdict} sx={{ mt: 1, opacity: isSame ? 1 : 0.55 }}>
      <Typography variant="body2" color="textSecondary">
        {question}
        {!isSame && ' The fields say something else by now: ask again.'}
        <Button variant="text" onClick={decision.clear} sx={{ fontSize: 13, fontWeight: 400, ml: 1, py: 0 }}>
          Put away
        </Button>
      </Typography>
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'baseline' }}>
        <InlineVerdict {...answer} />
        <Typography>
          <b style={{ color: ink(VERDICT_INK[answer.verdict]) }}>{verdictName(answer)}.</b> <b>{answer.lead}</b>{' '}
          {answer.text} {answer.fits} {card && takenOf(card)}
          {proof && ` What would prove it: ${provingWords(proof)}`} {assumedText(assumed)}
        </Typography>
      </Box>
    </Box>
  );
}

const NOT_MEASURED = 'It is not attached: what is known of it answers, and nothing is measured.';

/** What is taken of a drive that is not attached. */
const takenOf = ({ identityKind }: DriveCard): string =>
  identityKind === 'typed'
    ? TAKEN_EMPTY
    : 'It is not attached: how much is free on it is not known, and nothing is measured on it now.';

/** What asking does where what is known does not decide it; nothing before it is known where. */
function willText({ items }: Workload, volume: VolumeEntry | undefined): string {
  const demands = items.flatMap(demandsOf);
  if (!volume || demands.length === 0) return '';
  const limits = { mostSeconds: MOST_SECONDS, mostBytes: null };
  return `Where what is known does not decide it, asking ${costOfDecidingOn(volume, demands, limits)}.`;
}

function Line({ children }: { children: string }) {
  return (
    <Typography variant="body2" color="textSecondary" sx={{ mt: 0.75 }}>
      {children}
    </Typography>
  );
}

/** The answer from all that is known by now; worked out anew when runs or the headroom change. */
function useAnswer(now: Decision['asked'], isGoingOn: boolean) {
  const { volumes, runs, drives } = useLibrary();
  const headroomShare = useContextStore((state) => state.headroomShare);
  // With what it answers: an earlier one is not shown under a new question for a moment.
  const [answer, setAnswer] = useState<Answer & { fits: string | null; to: Decision['asked'] }>();
  const [problem, setProblem] = useState<string>();
  const volume = volumes.find(({ id }) => now && 'volumeId' in now.on && id === now.on.volumeId);
  // Volumes are asked for again all the time: the answer is worked out anew when the drive is another, or its runs are.
  const driveId = now && 'cardId' in now.on ? now.on.cardId : volume?.driveId;
  const card = drives.find(({ id }) => id === driveId);
  // What is typed on its card changes what it promises.
  const ofCard = now && 'cardId' in now.on ? card : undefined;
  // A run that was started is under way before the feed has told of it.
  const run = runs.find((entry) => entry.run.id === now?.runId)?.run;
  const isOpen = isGoingOn || run?.endedAt === null;
  useEffect(() => {
    if (!now || isOpen) return;
    const library = useLibrary.getState();
    const on = library.volumes.find(({ id }) => 'volumeId' in now.on && id === now.on.volumeId);
    const known = library.drives.find(({ id }) => 'cardId' in now.on && id === now.on.cardId);
    if (!on && !known) return;
    let left = false;
    const work = on ? judgedOn(on, now.workload, headroomShare) : judgedOnCard(known!, now.workload, headroomShare);
    const space = on ?? spaceOf(known!);
    work.then(
      (judged) => !left && setAnswer({ ...answerOf(judged), fits: fitsText(now.workload, judged, space), to: now }),
      (error: unknown) => !left && setProblem((error as Problem).detail),
    );
    return () => {
      left = true;
    };
  }, [now, driveId, ofCard, runs, headroomShare, isOpen]);
  return {
    answer: answer && answer.to === now && !isOpen ? answer : null,
    drive: card?.label || volume?.driveLabel || volume?.label || 'this drive',
    problem,
  };
}
