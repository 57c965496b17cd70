import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import FormHelperText from '@mui/material/FormHelperText';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useEffect, useMemo, useRef, useState, type FormEvent } from 'react';
import { useSearchParams } from 'react-router';
import { withoutName } from '#core/1-ground/fields/field.ts';
import type { DriveCard, VolumeEntry } from '#core/6-exchange/api/wire.ts';
import type { QuestionTexts } from '#core/5-answers/ask/question-texts.ts';
import { sortedQuestion } from '#core/5-answers/ask/sorted-question.ts';
import { readQuestion } from '#core/5-answers/ask/question.ts';
import type { Workload } from '#core/3-jobs/demand/workload.ts';
import { useContextStore } from '../../../state/context.ts';
import { useWorkload } from '../../../state/judged.ts';
import { ink } from '../../../theme/tokens.ts';
import { AskAnswer } from './AskAnswer.tsx';
import { useDecision } from './use-decision.ts';

interface AskLineProps {
  target: VolumeEntry | undefined;
  /** A drive that is not attached, which is asked about in place of the volume. */
  card: DriveCard | undefined;
  folder: string | undefined;
  /** Leads to where the drive and the folder are chosen. */
  onWhere: () => void;
}

/** What the parts are called. */
const LABELS: Record<keyof QuestionTexts, string> = {
  action: 'What it is to do',
  what: 'What',
  length: 'Length of a take',
  takes: 'Takes',
  between: 'After each take the material',
  gap: 'Gap between takes',
  buffer: 'Buffer of the program',
  frame: 'Size of a frame',
  frames: 'Frames',
  compute: 'Computing a frame',
  load: 'What is loaded',
  limit: 'What it may take',
};

/** Names of the parts of a question in an address that can be sent. */
const IN_ADDRESS = Object.keys(LABELS) as (keyof QuestionTexts)[];

/** The question in one sentence, each part of it a field, and its answer. */
export default function AskLine({ target, card, folder, onWhere }: AskLineProps) {
  const { question, asksWorkload, set } = useContextStore();
  const workload = useWorkload();
  const asksAll = asksWorkload && workload !== undefined;
  const [params, setParams] = useSearchParams();
  /** What is asked about the words waits until somebody types. */
  const [isTouched, setTouched] = useState(false);
  const change = (part: Partial<QuestionTexts>) => {
    setTouched(true);
    set({ question: { ...question, ...part } });
  };
  // What is said in one go is understood at once, and moves into its own fields when its field is left.
  const sorted = useMemo(() => sortedQuestion(question), [question]);
  const sort = () => set({ question: sorted });
  const read = useMemo(() => readQuestion(sorted), [sorted]);
  const asked: Workload | null = asksAll ? workload : read.workload;
  const decision = useDecision(target, card, folder, onWhere);

  // An address that was sent says what is asked: once, and what is typed afterwards stays.
  const sentWith = useRef(params);
  useEffect(() => {
    const sentIn = sentWith.current;
    if (!sentIn.has('what')) return;
    const sent = Object.fromEntries(
      IN_ADDRESS.flatMap((name) => (sentIn.has(name) ? [[name, sentIn.get(name)!]] : [])),
    );
    const { question: before, set: choose } = useContextStore.getState();
    choose({ question: { ...before, ...sent }, asksWorkload: false });
  }, []);

  const ask = (event: FormEvent) => {
    event.preventDefault();
    setTouched(true);
    if (!asked || asked.items.length === 0) return;
    sort();
    if (!asksAll) setParams(Object.fromEntries(IN_ADDRESS.map((name) => [name, sorted[name]])), { replace: true });
    void decision.ask(asked);
  };
  const errors = asksAll
    ? []
    : Object.entries(read.errors).map(
        ([part, fault]) => `${LABELS[part as keyof QuestionTexts]}: ${withoutName(fault)}`,
      );
  const where = card
    ? card.label
    : target === undefined
      ? 'choose a drive'
      : target.kind === 'real'
        ? (folder ?? target.label)
        : target.label;
  const isFootage = question.action === 'record' || question.action === 'play';
  /** A field for one part of the question. */
  const part = (name: Exclude<keyof QuestionTexts, 'action' | 'between'>, width: number) => (
    <Part
      label={LABELS[name]}
      width={width}
      value={question[name]}
      error={isTouched && read.errors[name] !== undefined}
      onChange={(text) => change({ [name]: text })}
      onLeave={sort}
    />
  );
  return (
    <Box
      component="section"
      aria-label="Question and answer"
      className="not-printed"
      sx={{ flex: 'none', px: 3, py: 1, borderBottom: `1px solid ${ink('rule')}` }}
    >
      <Box
        component="form"
        aria-label="Question"
        onSubmit={ask}
        sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', columnGap: 0.75, rowGap: 0.75, fontSize: 15 }}
      >
        <span>Can</span>
        <Button
          variant="text"
          onClick={onWhere}
          aria-label={`Drive or folder: ${where}`}
          sx={{
            fontSize: 15,
            px: 0.5,
            minWidth: 0,
            maxWidth: 220,
            textDecoration: 'underline',
            textUnderlineOffset: 4,
          }}
        >
          <Box component="span" sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
            <bdi>{where}</bdi>
          </Box>
        </Button>
        <Part
          label={LABELS.action}
          width={asksAll ? 200 : 108}
          value={asksAll ? 'workload' : question.action}
          options={[
            ['record', 'record'],
            ['play', 'play'],
            ['simulate', 'simulate'],
            ['load', 'load'],
            ...(workload ? ([['workload', `carry ${workload.name}`]] as const) : []),
          ]}
          onChange={(value) => {
            if (value === 'workload') set({ asksWorkload: true });
            else set({ asksWorkload: false, question: { ...question, action: value as QuestionTexts['action'] } });
          }}
        />
        {!asksAll && question.action === 'simulate' && (
          <>
            {part('frames', 62)}
            <span>frames of</span>
            {/* A grid with what it keeps is longer than a size. */}
            {part('frame', Math.min(300, Math.max(92, 24 + 8 * question.frame.length)))}
            <span>each, computed in</span>
            {part('compute', 76)}
          </>
        )}
        {!asksAll && question.action === 'load' && (
          <>
            {part('load', 300)}
            <span>within</span>
            {part('limit', 76)}
          </>
        )}
        {!asksAll && isFootage && (
          <>
            {part('what', 326)}
            <span>for</span>
            {part('length', 76)}
            {question.action === 'record' && (
              <>
                <span>in</span>
                {part('takes', 52)}
                <span>{question.takes.trim() === '1' ? 'take' : 'takes'}</span>
                {question.takes.trim() !== '1' && (
                  <Part
                    label={LABELS.between}
                    width={168}
                    value={question.between}
                    options={[
                      ['stay', 'that stay on it'],
                      ['take-off', 'taken off in between'],
                    ]}
                    onChange={(between) => change({ between })}
                  />
                )}
              </>
            )}
          </>
        )}
        <Button type="submit" variant="contained" disabled={decision.isBusy} sx={{ ml: 0.5 }}>
          Ask
        </Button>
      </Box>
      {isTouched && errors.length > 0 && (
        <FormHelperText error sx={{ fontSize: 13.5 }}>
          {errors.join(' ')}
        </FormHelperText>
      )}
      {isTouched && !asksAll && read.either && (
        <Box
          role="group"
          aria-label="Which is meant"
          sx={{ display: 'flex', gap: 1, mt: 0.75, alignItems: 'baseline', flexWrap: 'wrap' }}
        >
          <Typography variant="body2" color="textSecondary">
            Which is meant?
          </Typography>
          <Button variant="outlined" size="small" onClick={() => change({ what: read.either!.plain })}>
            {read.either.plainText}
          </Button>
          <Button variant="outlined" size="small" onClick={() => change({ what: read.either!.coded })}>
            {read.either.codedText}
          </Button>
        </Box>
      )}
      <AskAnswer
        decision={decision}
        asked={asked}
        assumed={asksAll ? [] : read.assumed}
        isTouched={isTouched}
        volume={target}
        card={card}
      />
    </Box>
  );
}

interface PartProps {
  label: string;
  width: number;
  value: string;
  error?: boolean;
  options?: readonly (readonly [value: string, label: string])[];
  onChange: (value: string) => void;
  onLeave?: () => void;
}

/** One part of the sentence: a field of its own, as wide as what usually stands in it. */
function Part({ label, width, value, error = false, options, onChange, onLeave }: PartProps) {
  return (
    <TextField
      select={options !== undefined}
      value={value}
      error={error}
      onChange={(event) => onChange(event.target.value)}
      onBlur={onLeave}
      sx={{ width }}
      slotProps={{
        ...(options ? { select: { native: true } } : {}),
        htmlInput: { 'aria-label': label, spellCheck: false },
      }}
    >
      {options?.map(([id, text]) => (
        <option key={id} value={id}>
          {text}
        </option>
      ))}
    </TextField>
  );
}
