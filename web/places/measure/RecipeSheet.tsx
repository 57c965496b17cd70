import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMemo, useState } from 'react';
import type { FieldTexts } from '#core/1-ground/fields/field.ts';
import { optionTexts, readOptions } from '#core/3-jobs/recipes/read-options.ts';
import { RECIPE_KINDS, recipeKindById, type AnyRecipeKind } from '#core/3-jobs/recipes/registry.ts';
import { streamsOfWorkload } from '#core/3-jobs/demand/footage/footage-streams.ts';
import { longFillKind } from '#core/3-jobs/recipes/long-fill.ts';
import { pacedFramesKind } from '#core/3-jobs/recipes/paced-frames.ts';
import type { Workload } from '#core/3-jobs/demand/workload.ts';
import { writtenBytes, type Item } from '#core/3-jobs/demand/items.ts';
import { replayKind } from '#core/3-jobs/recipes/replay.ts';
import { bytesText } from '#core/1-ground/units/format.ts';
import { ChoiceItem, ChoiceList, ChoiceText } from '../../kit/choices.tsx';
import { FieldLines } from '../../kit/field-lines.tsx';
import { SideSheet } from '../../kit/SideSheet.tsx';
import { useContextStore } from '../../state/context.ts';
import { useWorkload } from '../../state/judged.ts';
import { ink } from '../../theme/tokens.ts';
import { costText } from './cost-text.ts';
import { optionsOf } from './recipe-options.ts';
import { useKnowledge } from './use-knowledge.ts';

/** What to run and how: the recipes with what each is for, and the options of the one chosen. */
export default function RecipeSheet({ onClose }: { onClose: () => void }) {
  const { recipeId, recipeOptions, set } = useContextStore();
  const [chosenId, setChosenId] = useState(recipeId);
  const kind = recipeKindById(chosenId);
  const [drafts, setDrafts] = useState<Record<string, FieldTexts>>({});
  const texts = drafts[chosenId] ?? optionTexts(kind, optionsOf(kind, recipeOptions));
  const { options, errors } = useMemo(() => readOptions(kind, texts), [kind, texts]);
  const knowledge = useKnowledge();
  const workload = useWorkload();
  const change = (part: FieldTexts) => setDrafts((old) => ({ ...old, [chosenId]: { ...texts, ...part } }));

  return (
    <SideSheet
      title="What to run"
      onClose={onClose}
      actions={
        <>
          <Button
            variant="contained"
            disabled={options === null}
            onClick={() => {
              if (options === null) return;
              set({ recipeId: kind.id, recipeOptions: { ...recipeOptions, [kind.id]: options } });
              onClose();
            }}
          >
            Use this
          </Button>
          <Typography variant="body2" color="textSecondary">
            {options === null ? 'Something above cannot be used yet.' : costText(kind, options, knowledge)}
          </Typography>
        </>
      }
    >
      <ChoiceList label="Recipe">
        {RECIPE_KINDS.filter(({ hasTargets, isAsked }) => !hasTargets && !isAsked).map((one) => (
          <RecipeLine key={one.id} kind={one} chosen={one.id === chosenId} onChoose={() => setChosenId(one.id)} />
        ))}
      </ChoiceList>
      <FieldLines
        fields={kind.fields}
        texts={texts}
        errors={errors}
        onTexts={change}
        after={(group) => workload && <FromWorkload kind={kind} group={group} workload={workload} onChange={change} />}
      />
    </SideSheet>
  );
}

function RecipeLine({ kind, chosen, onChoose }: { kind: AnyRecipeKind; chosen: boolean; onChoose: () => void }) {
  return (
    <ChoiceItem chosen={chosen} onChoose={onChoose}>
      <ChoiceText name={kind.label} more={kind.purpose} />
    </ChoiceItem>
  );
}

/** What the chosen workload itself asks for, one click away. */
function FromWorkload({
  kind,
  group,
  workload,
  onChange,
}: {
  kind: AnyRecipeKind;
  group: string;
  workload: Workload;
  onChange: (part: FieldTexts) => void;
}) {
  if (kind.id === 'long-fill' && group === longFillKind.fields[0]!.group) {
    const recorded = workload.items.map(writtenBytes);
    const take = recorded.reduce((sum, { once }) => sum + once, 0);
    const job = recorded.reduce((sum, { all }) => sum + all, 0);
    if (take === 0) return null;
    return (
      <Presets
        lead={`As much as ${workload.name} writes:`}
        presets={[
          [`one take, ${bytesText(take)}`, () => onChange({ amountBytes: `${Math.ceil(take)} B` })],
          [`all of it, ${bytesText(job)}`, () => onChange({ amountBytes: `${Math.ceil(job)} B` })],
        ]}
      />
    );
  }
  if (kind.id === 'paced-frames' && group === pacedFramesKind.fields[0]!.group) {
    const streams = streamsOfWorkload(workload);
    const texts = (only: typeof streams) => optionTexts(kind, { streams: only })['streams']!;
    return (
      <Presets
        lead={`From ${workload.name}:`}
        presets={streams.map((stream) => [stream.name, () => onChange({ streams: texts([stream]) })] as const)}
      />
    );
  }
  if (kind.id === replayKind.id) {
    const loads = workload.items.filter((item): item is Extract<Item, { kind: 'load' }> => item.kind === 'load');
    if (loads.length === 0) return null;
    return (
      <Presets
        lead={`From ${workload.name}:`}
        presets={loads.map(
          ({ name, phases }) => [name, () => onChange({ phases: optionTexts(kind, { phases })['phases']! })] as const,
        )}
      />
    );
  }
  return null;
}

function Presets({ lead, presets }: { lead: string; presets: readonly (readonly [string, () => void])[] }) {
  return (
    <Box sx={{ mt: 0.75, fontSize: 13.5, display: 'flex', flexWrap: 'wrap', columnGap: 1, alignItems: 'baseline' }}>
      <span style={{ color: ink('second') }}>{lead}</span>
      {presets.map(([label, use]) => (
        <Button key={label} variant="text" onClick={use} sx={{ fontSize: 13.5, px: 0.5, minWidth: 0 }}>
          {label}
        </Button>
      ))}
    </Box>
  );
}
