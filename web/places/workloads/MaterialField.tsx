import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useEffect, useRef, useState, type DragEvent } from 'react';
import type { Essence } from '#core/3-jobs/demand/essences/registry.ts';
import { materialOfEdit, mediaOf, parseClipRate, usualFormatOf, type Edit } from '#core/3-jobs/material/edit.ts';
import { materialWords } from '#core/3-jobs/material/formats/registry.ts';
import type { Material } from '#core/3-jobs/material/material.ts';
import { Problem } from '#core/1-ground/problem.ts';
import { bytesText, formatClock, formatDuration, formatNumber, rateText } from '#core/1-ground/units/format.ts';
import { frameRateText, parseFrameRate } from '#core/1-ground/units/frame-rate.ts';
import { TextLine } from '../../kit/form.tsx';
import { Doubts, Fact, Heading, ProblemText } from '../../kit/words.tsx';
import { droppedFiles, readMaterial, type Reading } from '../../material/read-material.ts';
import type { MaterialRequest } from '../../material/material-worker.ts';
import { ink } from '../../theme/tokens.ts';
import { FrameSizePicture } from '../../pictures/pictures.tsx';

interface MaterialFieldProps {
  /** What was read before, when an item is edited. */
  essence: Essence | null;
  /** Null while there is none: what was read before does not stand for what could not be read. */
  onEssence: (essence: Essence | null) => void;
}

/** Real material: dropped or chosen, read in this browser, and made into a format. */
export function MaterialField({ essence, onEssence }: MaterialFieldProps) {
  const [files, setFiles] = useState<MaterialRequest['files'] | null>(null);
  const [frameRate, setFrameRate] = useState('25');
  const [material, setMaterial] = useState<Material | null>(null);
  const [edit, setEdit] = useState<Edit | null>(null);
  const [problem, setProblem] = useState<string>();
  const [going, setGoing] = useState<Reading | null>(null);
  const [over, setOver] = useState(false);
  const picker = useRef<HTMLInputElement>(null);

  const take = (next: Material | null) => {
    setMaterial(next);
    onEssence(next?.essence ?? null);
  };
  const read = (chosen: MaterialRequest['files'], framesText: string) => {
    setProblem(undefined);
    setFiles(chosen);
    setEdit(null);
    take(null);
    try {
      const reading = readMaterial({ files: chosen, frameRate: parseFrameRate(framesText, 'frame rate') });
      setGoing(reading);
      reading.answer
        .then((answer) => {
          if (answer.kind === 'timeline') {
            setEdit(answer.edit);
            take(materialOfEdit(answer.edit, { common: usualFormatOf(answer.edit.timeline), own: {} }));
          } else take(answer.material);
        })
        .catch((error: unknown) => setProblem((error as Error).message))
        .finally(() => setGoing(null));
    } catch (error) {
      setProblem((error as Problem).detail);
    }
  };
  // A worker that still reads when the sheet closes has nobody to tell.
  useEffect(() => () => going?.stop(), [going]);

  const onDrop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    void droppedFiles(event.dataTransfer).then((dropped) => read(dropped, frameRate));
  };
  return (
    <>
      <Box
        data-drop=""
        onDragOver={(event) => {
          event.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={onDrop}
        sx={{
          mt: 1.5,
          p: 2,
          border: `1px dashed ${ink(over ? 'text' : 'rule')}`,
          borderRadius: 1,
          bgcolor: over ? ink('page') : 'transparent',
          flex: 'none',
        }}
      >
        <Typography variant="body2">Drop {materialWords()}. It is read here and goes nowhere.</Typography>
        <Button variant="outlined" sx={{ mt: 1 }} onClick={() => picker.current?.click()}>
          Choose files
        </Button>
        <input
          ref={picker}
          type="file"
          multiple
          hidden
          aria-label="Material files"
          onChange={(event) => {
            const chosen = [...(event.target.files ?? [])].map((file) => ({ path: file.name, file }));
            event.target.value = '';
            if (chosen.length > 0) read(chosen, frameRate);
          }}
        />
      </Box>
      {going && (
        <Box role="status" sx={{ display: 'flex', alignItems: 'center', gap: 1, mt: 1 }}>
          <Typography variant="body2">
            Reading {files?.length === 1 ? files[0]!.file.name : `${files?.length ?? 0} files`}
          </Typography>
          <Button
            variant="text"
            onClick={() => {
              going.stop();
              setGoing(null);
            }}
          >
            Stop
          </Button>
        </Box>
      )}
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
      {files !== null && files.length > 1 && !edit && (
        <TextLine
          label="Frames per second"
          help="Numbered files do not tell."
          value={frameRate}
          onChange={(next) => {
            setFrameRate(next);
            read(files, next);
          }}
        />
      )}
      {edit && <EditMedia edit={edit} onMaterial={take} />}
      {material ? (
        <MaterialFacts material={material} />
      ) : (
        essence && 'label' in essence && <Typography sx={{ mt: 1 }}>Read from {essence.label}</Typography>
      )}
    </>
  );
}

const MOST_MEDIA = 40;

/** What the media of an edit are: those given with it are known, the rest is typed. */
function EditMedia({ edit, onMaterial }: { edit: Edit; onMaterial: (material: Material | null) => void }) {
  const { timeline, given } = edit;
  const [common, setCommon] = useState(() => usualFormatOf(timeline));
  const [own, setOwn] = useState<Record<string, string>>({});
  const media = mediaOf(timeline).filter(({ kind }) => kind === 'video');
  const errorOf = (text: string): string | undefined => {
    try {
      parseClipRate(text, 'rate');
      return undefined;
    } catch (error) {
      return (error as Problem).detail;
    }
  };
  const apply = (nextCommon: string, nextOwn: Record<string, string>) => {
    setCommon(nextCommon);
    setOwn(nextOwn);
    try {
      onMaterial(materialOfEdit(edit, { common: nextCommon, own: nextOwn }));
    } catch {
      // The field at fault says what is wrong.
      onMaterial(null);
    }
  };
  return (
    <>
      <Heading>
        {timeline.name}: {timeline.clips.length} clips from {media.length} media,{' '}
        {formatDuration(timeline.durationSeconds)}
      </Heading>
      <TextLine
        label="Clips that are not named below"
        help="A format, or a rate such as 88 MB/s."
        value={common}
        error={errorOf(common)}
        onChange={(text) => apply(text, own)}
      />
      {media.slice(0, MOST_MEDIA).map(({ media: name, clips: count }) => (
        <TextLine
          key={name}
          label={`${name}, ${count === 1 ? 'one clip' : `${count} clips`}`}
          help={given[name] ? `${rateText(given[name].bytesPerSecond)}, as it was given.` : 'As all others.'}
          value={own[name] ?? ''}
          placeholder={given[name] ? 'as given' : 'as all others'}
          error={own[name]?.trim() ? errorOf(own[name]) : undefined}
          onChange={(text) => apply(common, { ...own, [name]: text })}
        />
      ))}
    </>
  );
}

function MaterialFacts({ material: { rates, frames, notes, peaks } }: { material: Material }) {
  return (
    <Box data-material="">
      {rates && (
        <>
          <Heading>What was read</Heading>
          {rates.isSoundOnly ? (
            <Fact name="sound only">{formatDuration(rates.durationSeconds)}</Fact>
          ) : (
            <>
              <Fact name="frames">
                {formatNumber(rates.frames, 'full')} at {frameRateText(rates.frameRate)},{' '}
                {formatDuration(rates.durationSeconds)}
              </Fact>
              <Fact name="a frame">
                {bytesText(rates.smallestFrameBytes)} – {bytesText(rates.largestFrameBytes)}
              </Fact>
            </>
          )}
          <Fact name="on average">{rateText(rates.bytesPerSecond)}</Fact>
          <Fact name="worst second">
            {rateText(rates.peakBytesPerSecond)}, from {formatClock(rates.peakAtSeconds)}
          </Fact>
          <Fact name="busiest stretch above average">{bytesText(rates.burstBytes)}</Fact>
          {frames.length > 0 && <FrameSizePicture columns={frames} frames={rates.frames} />}
        </>
      )}
      {peaks.length > 0 && (
        <>
          <Heading>Where it asks for most</Heading>
          {peaks.map(({ fromSeconds, toSeconds, bytesPerSecond, layers }) => (
            <Fact key={fromSeconds} name={`${formatClock(fromSeconds)} – ${formatClock(toSeconds)}`}>
              <b>{rateText(bytesPerSecond)}</b>
              <br />
              {layers.map((layer) => layer.name).join(', ')}
            </Fact>
          ))}
        </>
      )}
      <Doubts>{notes}</Doubts>
    </Box>
  );
}
