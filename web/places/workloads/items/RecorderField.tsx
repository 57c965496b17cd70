import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useEffect, useRef, useState } from 'react';
import type { RecordingState, RunningProgram } from '#core/6-exchange/api/wire.ts';
import { Problem } from '#core/1-ground/problem.ts';
import {
  RECORDING_COLUMNS,
  emptyRows,
  parseRecording,
  parseRecordingCsv,
  recordingTotals,
  type Recording,
} from '#core/3-jobs/recording/recording.ts';
import { appendColumns } from '#core/4-runs/run/run-document.ts';
import { readJson } from '#core/1-ground/schema/json-text.ts';
import { bytesText, formatDuration } from '#core/1-ground/units/format.ts';
import { api } from '../../../api/client.ts';
import { ChoiceItem, ChoiceList, ChoiceText } from '../../../kit/choices.tsx';
import { TextLine } from '../../../kit/form.tsx';
import { notTaken, readTextFile } from '../../../kit/read-document.ts';
import { saveJson } from '../../../kit/save-json.ts';
import { Heading, ProblemText } from '../../../kit/words.tsx';
import { RecordingPicture } from '../../../pictures/pictures.tsx';

interface RecorderFieldProps {
  /** What a recording is made into. */
  becomes: string;
  /** What the button says that makes it so. */
  use: string;
  /** @param fromDevice whether what came from a device counts, or what the program asked for */
  onRecording: (recording: Pick<Recording, 'name' | 'rows'>, fromDevice: boolean) => void;
}

const LARGEST_FILE_BYTES = 100e6;
const POLL_MILLISECONDS = 400;

/** A running program, looked at while it works; or a recording from a file. */
export function RecorderField({ becomes, use, onRecording }: RecorderFieldProps) {
  const [programs, setPrograms] = useState<RunningProgram[] | null>(null);
  const [recording, setRecording] = useState<RecordingState | null>(null);
  const [problem, setProblem] = useState<string>();
  const file = useRef<HTMLInputElement>(null);
  const told = (error: unknown) => setProblem(error instanceof Problem ? error.detail : String(error));

  const list = () => {
    setProblem(undefined);
    api.programs().then(setPrograms, told);
  };
  const begin = (pid: number) => {
    setProblem(undefined);
    setPrograms(null);
    api.startRecording(pid).then(setRecording, told);
  };
  const take = (of: Pick<Recording, 'name' | 'rows'>) => {
    const { readBytes } = recordingTotals(of.rows);
    onRecording(of, readBytes > 0);
  };
  const end = (id: string) => {
    api.stopRecording(id).then((next) => {
      setRecording(next);
      take(next);
    }, told);
  };
  useFollowed(recording, setRecording, told);
  const read = async (chosen: File) => {
    try {
      const text = await readTextFile(chosen, LARGEST_FILE_BYTES);
      const isJson = text.trimStart().startsWith('{');
      const found = isJson
        ? parseRecording(readJson(text, 'file', 'it'))
        : { name: chosen.name, rows: parseRecordingCsv(text, chosen.name) };
      setProblem(undefined);
      setRecording({ tavrox: 'recording/1', id: '', startedAt: '', processes: 1, isGoing: false, ...found });
      take(found);
    } catch (error) {
      setProblem(notTaken(chosen, error));
    }
  };

  return (
    <Box data-recorder="" sx={{ flex: 'none' }}>
      <Heading>Record a program</Heading>
      {recording === null && programs === null && (
        <Typography variant="body2" sx={{ mb: 1 }}>
          What a running program reads, writes and computes becomes {becomes}. To record one from its start:{' '}
          <code style={{ fontSize: 12.5 }}>tavrox record --out game.json -- command</code>
        </Typography>
      )}
      <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
        {!recording?.isGoing && (
          <Button variant="outlined" onClick={list}>
            Choose a program
          </Button>
        )}
        {recording?.isGoing && (
          <Button variant="outlined" onClick={() => end(recording.id)}>
            End the recording
          </Button>
        )}
        <Button variant="text" onClick={() => file.current?.click()}>
          From a file
        </Button>
        {recording && !recording.isGoing && recording.id !== '' && (
          <Button variant="text" onClick={() => saveJson(recording.name, 'recording', withoutState(recording))}>
            Export it
          </Button>
        )}
      </Box>
      <input
        ref={file}
        type="file"
        accept=".json,.csv"
        hidden
        aria-label="Recording file"
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          event.target.value = '';
          if (chosen) void read(chosen);
        }}
      />
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
      {programs && <Programs programs={programs} onChoose={begin} />}
      {recording && <Seen recording={recording} use={use} onUse={take} />}
    </Box>
  );
}

const withoutState = ({ isGoing, ...recording }: RecordingState): Recording => {
  void isGoing;
  return recording;
};

/** Asks for what came since, as long as it goes on. */
function useFollowed(
  recording: RecordingState | null,
  onMore: (next: RecordingState) => void,
  onProblem: (error: unknown) => void,
): void {
  useEffect(() => {
    if (!recording?.isGoing) return;
    const timer = setTimeout(() => {
      api.recording(recording.id, recording.rows.seconds.length).then((more) => {
        const rows = emptyRows();
        appendColumns(rows, recording.rows);
        appendColumns(rows, more.rows);
        onMore({ ...more, rows });
      }, onProblem);
    }, POLL_MILLISECONDS);
    return () => clearTimeout(timer);
  });
}

function Programs({ programs, onChoose }: { programs: readonly RunningProgram[]; onChoose: (pid: number) => void }) {
  const [search, setSearch] = useState('');
  const words = search.trim().toLowerCase();
  const shown = programs.filter(({ command, name, pid }) => `${pid} ${name} ${command}`.toLowerCase().includes(words));
  if (programs.length === 0) {
    return (
      <Typography variant="body2">
        This system does not count what programs read. Record on Linux, or take a CSV.
      </Typography>
    );
  }
  return (
    <>
      <TextLine
        label="Program"
        help="Part of its name or its number; those that moved most come first."
        value={search}
        onChange={setSearch}
      />
      <ChoiceList label="Running programs" isBoxed>
        {shown.slice(0, 60).map(({ pid, name, command, readBytes, writtenBytes }) => (
          <ChoiceItem key={pid} chosen={false} onChoose={() => onChoose(pid)} more={command}>
            <ChoiceText
              name={
                <>
                  <b>{name}</b> {pid}
                </>
              }
              more={`read ${bytesText(readBytes)}, wrote ${bytesText(writtenBytes)}: ${command}`}
            />
          </ChoiceItem>
        ))}
      </ChoiceList>
    </>
  );
}

interface SeenProps {
  recording: RecordingState;
  use: string;
  onUse: (recording: Recording) => void;
}

function Seen({ recording, use, onUse }: SeenProps) {
  const { rows, name, isGoing } = recording;
  if (RECORDING_COLUMNS.some((column) => rows[column].length === 0)) return null;
  const { seconds, readBytes, askedReadBytes, writtenBytes, processorSeconds } = recordingTotals(rows);
  return (
    <Box sx={{ mt: 1 }} data-recording={isGoing ? 'going' : 'ended'}>
      <Typography variant="body2">
        {name}, {formatDuration(seconds)}: {bytesText(readBytes)} from the device of {bytesText(askedReadBytes)} asked
        for, {bytesText(writtenBytes)} written, {formatDuration(processorSeconds)} computing
        {readBytes < askedReadBytes / 2 ? '. Most came from memory: a cold start shows what a drive has to do' : ''}.
      </Typography>
      <RecordingPicture rows={rows} />
      {!isGoing && (
        <Button variant="text" sx={{ ml: -0.75 }} onClick={() => onUse(recording)}>
          {use}
        </Button>
      )}
    </Box>
  );
}
