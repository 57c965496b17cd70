import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { Demand } from '#core/3-jobs/demand/demand.ts';
import type { FootageItem } from '#core/3-jobs/demand/footage/footage-item.ts';
import { Problem } from '#core/1-ground/problem.ts';
import { AS_PROGRAMS_READ } from '#core/3-jobs/recipes/block-ladder.ts';
import { checkOptions, recipeKindById } from '#core/3-jobs/recipes/registry.ts';
import { streamOfItem } from '#core/3-jobs/demand/footage/footage-streams.ts';
import { roomBytes } from '#core/4-runs/supply/room.ts';
import { provingWords } from '#core/5-answers/verdict/proving-words.ts';
import type { ProvingRun } from '#core/5-answers/verdict/verdict.ts';
import { api } from '../../api/client.ts';
import { mayChange } from '../../api/session.ts';
import { ProblemText } from '../../kit/words.tsx';
import { useContextStore } from '../../state/context.ts';
import { refresh, useLibrary } from '../../state/library.ts';

interface ProveActionProps {
  proving: ProvingRun;
  demand: Demand;
  /** Items that it would play; more than one for what goes on together. */
  items: readonly FootageItem[];
  driveId: string;
}

/** The run that would settle it, one click away. */
export function ProveAction({ proving, demand, items, driveId }: ProveActionProps) {
  const navigate = useNavigate();
  const { recipeOptions, folders, set, makeCurrent } = useContextStore();
  const volume = useLibrary((state) => state.volumes).find((one) => one.driveId === driveId);
  const [problem, setProblem] = useState<string>();
  const kind = recipeKindById(proving.recipe);
  const options = checkOptions(kind, optionsFor(proving, demand, items));
  const writes = proving.recipe !== 'existing-material';
  const fits = volume !== undefined && (!writes || proving.bytes <= roomBytes(volume));
  const folder = volume?.kind === 'stand-in' ? '' : volume && folders[volume.id];

  const choose = () => {
    set({
      recipeId: proving.recipe,
      recipeOptions: { ...recipeOptions, [proving.recipe]: options },
      targetVolumeId: volume!.id,
    });
    makeCurrent(driveId);
  };
  const start = async () => {
    choose();
    try {
      const { id } = await api.startRun({ volumeId: volume!.id, folder: folder!, recipeId: proving.recipe, options });
      await refresh('runs', 'drives', 'volumes');
      void navigate(`/measure/runs/${id}`);
    } catch (error) {
      setProblem(error instanceof Problem ? error.detail : String(error));
    }
  };
  return (
    <>
      <Typography variant="caption" component="h3" color="textSecondary">
        Would prove the rest
      </Typography>
      <Typography variant="body2" sx={{ mb: 1 }}>
        {provingWords(proving)}
        {volume === undefined ? ' The drive is not attached now.' : fits ? '' : ' That does not fit in its free space.'}
      </Typography>
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
      {fits && (
        <Button
          variant="contained"
          fullWidth
          disabled={!mayChange()}
          onClick={() => {
            if (folder !== undefined) return void start();
            choose();
            void navigate('/measure');
          }}
        >
          {folder === undefined ? 'Choose a folder for that run' : 'Start that run'}
        </Button>
      )}
    </>
  );
}

function optionsFor(proving: ProvingRun, demand: Demand, items: readonly FootageItem[]): object {
  switch (proving.recipe) {
    case 'existing-material':
      return { amountBytes: Math.ceil(proving.bytes) };
    case 'paced-frames':
      return {
        streams: items.map(streamOfItem),
        seconds: Math.min(86_400, Math.max(1, demand.takeSeconds)),
        bufferSeconds: Math.min(600, demand.bufferBytes / demand.bytesPerSecond),
      };
    case 'block-ladder':
      return proving.ladder
        ? { blocks: proving.ladder.blocks, depths: proving.ladder.depths, ...AS_PROGRAMS_READ }
        : {};
    case 'long-fill':
      return {
        amountBytes: Math.ceil(proving.bytes),
        untilFloor: false,
        readBack: proving.readsBack,
        restSeconds: proving.restSeconds === null ? null : [proving.restSeconds],
      };
  }
}
