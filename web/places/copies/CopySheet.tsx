import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import type { Payload } from '#core/5-answers/copies/predict.ts';
import type { FieldTexts } from '#core/1-ground/fields/field.ts';
import { Problem } from '#core/1-ground/problem.ts';
import {
  copyKind,
  copyOptionsSchema,
  keepsCopy,
  MEASURED_ONLY,
  MOST_TARGETS,
  type CopyOptions,
} from '#core/3-jobs/recipes/copy.ts';
import { optionTexts, readOptions } from '#core/3-jobs/recipes/read-options.ts';
import { recipeKindById } from '#core/3-jobs/recipes/registry.ts';
import { api } from '../../api/client.ts';
import { mayChange } from '../../api/session.ts';
import { FieldLines } from '../../kit/field-lines.tsx';
import { Choice } from '../../kit/Choice.tsx';
import { SideSheet } from '../../kit/SideSheet.tsx';
import { Heading, ProblemText } from '../../kit/words.tsx';
import { refresh, useLibrary } from '../../state/library.ts';
import { EndField, endOn, type ChosenEnd } from './EndField.tsx';

interface CopySheetProps {
  /** Drives that the copy would go between, as chosen in the table. */
  fromDriveId: string | undefined;
  toDriveId: string | undefined;
  payload: Payload;
  onClose: () => void;
}

/** Options that only made files have. */
const MADE_ONLY = ['bytes', 'files', 'spread'];
const kind = recipeKindById(copyKind.id);

/** A copy that is really made: from where, to where, what, and how. */
export default function CopySheet({ fromDriveId, toDriveId, payload, onClose }: CopySheetProps) {
  const volumes = useLibrary((state) => state.volumes);
  const navigate = useNavigate();
  const volumeOf = (driveId: string | undefined) => volumes.find((one) => one.driveId === driveId);
  const [source, setSource] = useState<ChosenEnd>(() => endOn(volumeOf(fromDriveId) ?? volumes[0]));
  const [targets, setTargets] = useState<ChosenEnd[]>(() => [endOn(volumeOf(toDriveId) ?? volumes[0])]);
  const from = volumes.find(({ id }) => id === source.volumeId);
  const isReal = from?.kind === 'real';
  const [typed, setTyped] = useState<FieldTexts>(() =>
    optionTexts(kind, {
      ...copyOptionsSchema.getDefault(),
      payload: isReal ? 'folder' : 'made',
      bytes: payload.bytes,
      files: payload.files,
      parallelFiles: Math.min(16, payload.parallelFiles),
      ...(isReal ? {} : MEASURED_ONLY),
    }),
  );
  const texts: FieldTexts = useMemo(() => (isReal ? typed : { ...typed, payload: 'made' }), [isReal, typed]);
  const { options, errors } = useMemo(() => readOptions(kind, texts), [texts]);
  const [problem, setProblem] = useState<string>();
  const isMade = texts['payload'] === 'made';
  const stays = options !== null && keepsCopy(options as unknown as CopyOptions);
  const purpose = texts['payload'] === 'folder' && texts['keep'] === 'yes' ? 'keep' : 'measure';
  const choosePurpose = (chosen: string) =>
    setTyped((old) => ({
      ...old,
      ...(chosen === 'keep'
        ? { payload: 'folder', keep: 'yes', verify: 'read-back' }
        : { keep: 'no', verify: MEASURED_ONLY.verify }),
    }));
  // Nothing can be copied between a simulated volume and a real one.
  const alike = volumes.filter((one) => one.kind === (from?.kind ?? 'stand-in'));
  const changeSource = (end: ChosenEnd) => {
    setSource(end);
    const next = volumes.find(({ id }) => id === end.volumeId);
    if (next && next.kind !== from?.kind) setTargets([endOn(volumes.find((one) => one.kind === next.kind))]);
  };
  const start = async () => {
    if (options === null) return;
    try {
      const { id } = await api.startRun({
        volumeId: source.volumeId,
        folder: source.folder,
        recipeId: copyKind.id,
        options,
        targets,
      });
      await refresh('runs', 'drives', 'volumes');
      void navigate(`/measure/runs/${id}`);
    } catch (error) {
      setProblem(error instanceof Problem ? error.detail : String(error));
    }
  };
  return (
    <SideSheet
      title="Copy now"
      onClose={onClose}
      actions={
        <>
          <Button variant="contained" disabled={options === null || !mayChange()} onClick={() => void start()}>
            {stays ? 'Copy' : 'Measure a copy'}
          </Button>
          <Typography variant="caption" color="textSecondary">
            {options === null
              ? 'Something above cannot be used yet.'
              : stays
                ? 'The source is only read. At a target everything lies in a folder of its own; nothing is overwritten.'
                : 'Only measured: what is copied is removed again at the end, and nothing of it is kept.'}
          </Typography>
        </>
      }
    >
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
      {isReal && (
        <Choice
          label="What for"
          value={purpose}
          options={[
            ['keep', 'Keep the copy'],
            ['measure', 'Measure a copy'],
          ]}
          onChange={choosePurpose}
        />
      )}
      <Heading>Ends</Heading>
      <EndField label="From" volumes={volumes} end={source} onEnd={changeSource} />
      {targets.map((target, index) => (
        <EndField
          key={index}
          label={targets.length === 1 ? 'To' : `To, ${index + 1}`}
          volumes={alike}
          end={target}
          onEnd={(end) => setTargets((old) => old.map((one, at) => (at === index ? end : one)))}
          {...(targets.length > 1 ? { onRemove: () => setTargets((old) => old.filter((_, at) => at !== index)) } : {})}
        />
      ))}
      {targets.length < MOST_TARGETS && (
        <Button
          variant="text"
          sx={{ alignSelf: 'flex-start', mt: 0.5, ml: -0.75 }}
          onClick={() => setTargets((old) => [...old, endOn(alike[0])])}
        >
          One target more
        </Button>
      )}
      <FieldLines
        fields={kind.fields.filter(
          ({ option }) =>
            (isMade || !MADE_ONLY.includes(option)) && (isReal || (option !== 'payload' && option !== 'keep')),
        )}
        texts={texts}
        errors={errors}
        onTexts={(part) => setTyped((old) => ({ ...old, ...part }))}
      />
    </SideSheet>
  );
}
