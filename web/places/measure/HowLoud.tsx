import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { Problem } from '#core/1-ground/problem.ts';
import { decibelText } from '#core/1-ground/units/format.ts';
import { parseDecibels } from '#core/1-ground/units/quantity.ts';
import type { DriveCard } from '#core/6-exchange/api/wire.ts';
import { heardIn, heardWords, type Heard, type Loudness } from '#core/4-runs/run/loudness.ts';
import { movedSecondsOf, type RunDocument } from '#core/4-runs/run/run-document.ts';
import { api } from '../../api/client.ts';
import { mayChange } from '../../api/session.ts';
import { TextLine } from '../../kit/form.tsx';
import { useAttempt } from '../../kit/use-attempt.ts';
import { Heading, ProblemText } from '../../kit/words.tsx';
import { calibrate, keptLoudness, startListening, stopListening, useListening } from '../../state/listening.ts';
import { refresh, useLibrary } from '../../state/library.ts';
import { useHeard } from './use-heard.ts';

const SMALL = { fontSize: 13.5, px: 0.5, mr: 1, minWidth: 0, fontWeight: 400 } as const;

/** What a microphone heard of a run, and listening. */
export default function HowLoud({ run }: { run: RunDocument }) {
  const { state, level, isRoomKnown, microphone, offsetDecibels, problem } = useListening();
  const loudness = useHeard(run);
  const heard = loudness && heardIn(loudness, movedSecondsOf(run));
  if (loudness === null && !mayChange()) return null;
  return (
    <>
      <Heading>How loud it is</Heading>
      {loudness && (
        <Typography variant="body2" data-heard="">
          {heard ? heardWords(heard, loudness.offsetDecibels) : 'Nothing was heard yet while data was moved.'}
        </Typography>
      )}
      {loudness && run.endedAt !== null && mayChange() && <KeptLevels run={run} loudness={loudness} heard={heard} />}
      {state === 'on' ? (
        <>
          <Typography variant="body2" role="status" sx={{ mt: 0.5 }}>
            Listening{microphone === '' ? '' : ` by ${microphone}`}:{' '}
            <b>
              {level === null
                ? '…'
                : offsetDecibels === null
                  ? `${decibelText(level)} of full scale`
                  : `${decibelText(level + offsetDecibels)}(A)`}
            </b>
            {isRoomKnown && '. The room is known: a run may begin.'}
          </Typography>
          <KnownLevel
            label="A meter beside it shows"
            help="dB(A), as it is now. Without it, levels are told against before the run."
            onKnown={calibrate}
          />
          <Button variant="text" sx={{ ...SMALL, ml: -0.5 }} onClick={stopListening}>
            Stop listening
          </Button>
        </>
      ) : (
        mayChange() && (
          <>
            <Button
              variant="text"
              sx={{ ...SMALL, ml: -0.5 }}
              disabled={state === 'asking'}
              onClick={() => void startListening()}
            >
              Listen
            </Button>
            {loudness === null && (
              <Typography variant="caption" component="p" color="textSecondary">
                By the microphone of the machine that shows this page; the browser asks first. Levels are kept with the
                runs that go on meanwhile, the sound itself never. Begin some seconds before a run, so that the room is
                known.
              </Typography>
            )}
          </>
        )
      )}
      {problem !== null && <ProblemText>{problem}</ProblemText>}
    </>
  );
}

interface KeptLevelsProps {
  run: RunDocument;
  loudness: Loudness;
  heard: Heard | null;
}

/** A level that becomes known afterwards, and forgetting what was heard. */
function KeptLevels({ run, loudness, heard }: KeptLevelsProps) {
  const card = useLibrary(({ drives }) => drives.find(({ id }) => id === run.drive.id));
  const { problem, attempt } = useAttempt();
  const change = (next: Loudness | null) =>
    attempt(async () => {
      await api.annotateRun(run.id, { loudness: next });
      Object.assign(run, { loudness: next });
      keptLoudness(run.id, next);
    });
  const before = heard?.before ?? null;
  const added = heard?.added ?? null;
  const own =
    added === null || loudness.offsetDecibels === null ? null : Math.round((added + loudness.offsetDecibels) * 10) / 10;
  // At which distance is for the person to add.
  const putOn = ({ id, label, details }: DriveCard, loudnessDecibels: number) =>
    attempt(async () => {
      await api.changeDrive(id, { label, details: { ...details, loudnessDecibels, loudnessMetres: null } });
      await refresh('drives');
    });
  return (
    <>
      {loudness.offsetDecibels === null && before !== null && (
        <KnownLevel
          label="It was before the run"
          help="dB(A), by a sound level meter. All levels follow from it."
          onKnown={(known) => void change({ ...loudness, offsetDecibels: known - before })}
        />
      )}
      {own !== null && card && card.details.loudnessDecibels !== own && (
        <Button variant="text" sx={{ ...SMALL, ml: -0.5 }} onClick={() => void putOn(card, own)}>
          Put {decibelText(own)}(A) on the drive’s card
        </Button>
      )}
      <Button variant="text" sx={{ ...SMALL, ml: -0.5 }} onClick={() => void change(null)}>
        Forget what was heard
      </Button>
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
    </>
  );
}

interface KnownLevelProps {
  label: string;
  help: string;
  onKnown: (decibels: number) => void;
}

/** A field for a level that somebody knows. */
function KnownLevel({ label, help, onKnown }: KnownLevelProps) {
  const [text, setText] = useState('');
  const [error, setError] = useState<string>();
  const take = () => {
    try {
      onKnown(parseDecibels(text, label));
      setError(undefined);
      setText('');
    } catch (fault) {
      setError((fault as Problem).detail);
    }
  };
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        take();
      }}
    >
      <TextLine label={label} value={text} help={help} error={error} placeholder="34.5" onChange={setText} />
      <Button type="submit" variant="text" disabled={text.trim() === ''} sx={{ ...SMALL, ml: -0.5 }}>
        Take it
      </Button>
    </form>
  );
}
