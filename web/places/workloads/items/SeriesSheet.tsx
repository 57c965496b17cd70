import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMemo, useRef, useState } from 'react';
import { channelLine, USUAL_CHANNELS } from '#core/3-jobs/demand/series/channels.ts';
import { computeTimes, frameSizes, sumOf } from '#core/3-jobs/demand/series/frame-bytes.ts';
import { seriesFromFiles, withFiles, type SeriesFromFiles } from '#core/3-jobs/material/series-from-files.ts';
import { seriesOfRecording } from '#core/3-jobs/material/series-from-recording.ts';
import { seriesFields, seriesForm } from '#core/3-jobs/demand/series/series-form.ts';
import type { SeriesItem } from '#core/3-jobs/demand/series/series-item.ts';
import type { FieldTexts } from '#core/1-ground/fields/field.ts';
import { Problem } from '#core/1-ground/problem.ts';
import { bytesText, formatDuration } from '#core/1-ground/units/format.ts';
import { Doubts, ProblemText } from '../../../kit/words.tsx';
import { droppedFiles } from '../../../material/read-material.ts';
import { newItemId } from '../../../state/workload-edits.ts';
import { ink } from '../../../theme/tokens.ts';
import { FieldsSheet } from './FieldsSheet.tsx';
import type { ItemSheetProps } from './item-view.ts';
import { RecorderField } from './RecorderField.tsx';
import { Suggestions } from './Suggestions.tsx';

/** A cache series: a grid and its channels, or a folder of frames that lie there already. */
export default function SeriesSheet({ item, onClose, onSave }: ItemSheetProps<SeriesItem>) {
  const [id] = useState(() => item?.id ?? newItemId());
  const [base, setBase] = useState(item);
  const [texts, setTexts] = useState<FieldTexts>(() => (item ? seriesForm.texts(item) : seriesForm.start));
  const [problem, setProblem] = useState<string>();
  const [notes, setNotes] = useState<readonly string[]>([]);
  const { item: read, errors } = useMemo(() => seriesForm.read(texts, id, base), [texts, id, base]);
  const fromFiles = base?.frames.kind === 'files';

  const take = (files: { path: string; file: File }[]) => {
    try {
      const found = seriesFromFiles(
        files.map(({ path, file }) => ({ name: path, bytes: file.size, modifiedSeconds: file.lastModified / 1000 })),
        folderOf(files),
      );
      adopt(found);
    } catch (error) {
      setProblem(error instanceof Problem ? error.detail : String(error));
    }
  };
  const adopt = (found: SeriesFromFiles) => {
    const started = base ?? read ?? seriesForm.read(seriesForm.start, id, null).item!;
    const next = withFiles(started, found);
    setBase(next);
    setTexts(seriesForm.texts(next));
    setNotes(found.notes);
    setProblem(undefined);
  };
  return (
    <FieldsSheet
      title={item ? 'Edit cache series' : 'Add cache series'}
      isNew={item === null}
      fields={seriesFields(base)}
      texts={texts}
      errors={errors}
      onTexts={(part) => setTexts((old) => ({ ...old, ...part }))}
      comesTo={read && comesTo(read)}
      onSave={() => read && onSave(read)}
      onClose={onClose}
      after={(group) =>
        group === 'One frame' ? (
          <Box sx={{ mt: 0.75 }}>
            <Suggestions
              lead="Usual channels:"
              options={USUAL_CHANNELS}
              nameOf={({ name }) => name}
              onPick={(channel) =>
                setTexts((old) => ({
                  ...old,
                  channels: `${(old['channels'] ?? '').trimEnd()}\n${channelLine(channel)}`.trim(),
                }))
              }
            />
          </Box>
        ) : null
      }
    >
      <FolderOfFrames
        label={base?.frames.kind === 'files' ? base.frames.label : null}
        onFiles={take}
        onForget={() => {
          setBase(null);
          setNotes([]);
          setTexts((old) => ({ ...seriesForm.start, ...old }));
        }}
      />
      <RecorderField
        becomes="frames, where it writes them at a pace"
        use="Make it the frames"
        onRecording={(recording) => {
          const found = seriesOfRecording(recording);
          if (found) adopt(found);
          else {
            setProblem(
              `${recording.name} wrote without a pace: no frames can be told apart in it. It can become the phases of a load, or a curve of footage.`,
            );
          }
        }}
      />
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
      <Doubts>{fromFiles ? notes : []}</Doubts>
    </FieldsSheet>
  );
}

/** Name of the folder that dropped files lie in; empty for single files. */
const folderOf = (files: readonly { path: string }[]): string => files[0]?.path.split('/').filter(Boolean).at(-2) ?? '';

function comesTo(item: SeriesItem): string {
  const version = sumOf(frameSizes(item));
  return `${bytesText(version / item.frameCount)} a frame, ${bytesText(version * item.versions)} in all, ${formatDuration(sumOf(computeTimes(item)))} computing`;
}

interface FolderProps {
  /** What sizes were taken from; null where a grid tells them. */
  label: string | null;
  onFiles: (files: { path: string; file: File }[]) => void;
  onForget: () => void;
}

function FolderOfFrames({ label, onFiles, onForget }: FolderProps) {
  const picker = useRef<HTMLInputElement>(null);
  return (
    <Box
      data-drop=""
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        void droppedFiles(event.dataTransfer).then(onFiles);
      }}
      sx={{ mt: 1, p: 2, border: `1px dashed ${ink('rule')}`, borderRadius: 1, flex: 'none' }}
    >
      <Typography variant="body2">
        {label === null
          ? 'Describe it below, or drop a folder of numbered cache files: their sizes and times are read here and go nowhere.'
          : `Sizes are those of ${label}.`}
      </Typography>
      <Box sx={{ display: 'flex', gap: 1, mt: 1 }}>
        <Button variant="outlined" onClick={() => picker.current?.click()}>
          Choose a folder of frames
        </Button>
        {label !== null && (
          <Button variant="text" onClick={onForget}>
            Describe a grid instead
          </Button>
        )}
      </Box>
      <input
        ref={(element) => {
          picker.current = element;
          // React knows no attribute for choosing whole folders.
          element?.setAttribute('webkitdirectory', '');
        }}
        type="file"
        multiple
        hidden
        aria-label="Cache files"
        onChange={(event) => {
          const chosen = [...(event.target.files ?? [])].map((file) => ({
            path: file.webkitRelativePath || file.name,
            file,
          }));
          event.target.value = '';
          if (chosen.length > 0) onFiles(chosen);
        }}
      />
    </Box>
  );
}
