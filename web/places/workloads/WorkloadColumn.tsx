import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import type { Item } from '#core/3-jobs/demand/items.ts';
import type { Workload } from '#core/3-jobs/demand/workload.ts';
import type { Put } from '#core/6-exchange/report/put.ts';
import { questionText } from '#core/6-exchange/report/question.ts';
import { PutIntoReport } from '../../frame/PutIntoReport.tsx';
import { Heading } from '../../kit/words.tsx';
import { ChoiceItem, ChoiceList, ChoiceText } from '../../kit/choices.tsx';
import { useContextStore } from '../../state/context.ts';
import { useLibrary } from '../../state/library.ts';
import type { DriveSupply } from '../../state/drive-supplies.ts';
import { moveWorkload } from '../../state/workload-edits.ts';
import { itemViewOf } from './items/registry.tsx';

interface WorkloadColumnProps {
  workload: Workload;
  item: Item | undefined;
  /** Drives that the item is laid beside. */
  drives: readonly DriveSupply[];
  selectedDrive: string | null;
  onDrive: (driveId: string) => void;
  onEdit: () => void;
  onCopy: () => void;
  onMove: (by: number) => void;
  onDelete: () => void;
  onProblem: (problem: string | undefined) => void;
}

/** The chosen item: how its number comes about and what can be done with it; then the workloads. */
export function WorkloadColumn({ workload, item, onProblem, ...actions }: WorkloadColumnProps) {
  return (
    <>
      {item && <ItemFacts item={item} workload={workload} {...actions} />}
      {workload.note !== '' && (
        <>
          <Heading>Note</Heading>
          <Typography variant="body2">{workload.note}</Typography>
        </>
      )}
      <Heading>Workloads</Heading>
      <WorkloadList workload={workload} onProblem={onProblem} />
    </>
  );
}

const ITEM_BUTTON = { fontSize: 13.5, minWidth: 0, px: 0.75 } as const;

function ItemFacts({
  item,
  workload,
  drives,
  selectedDrive,
  onDrive,
  onEdit,
  onCopy,
  onMove,
  onDelete,
}: Omit<WorkloadColumnProps, 'item' | 'onProblem'> & { item: Item }) {
  const at = workload.items.indexOf(item);
  return (
    <Box data-item-facts="">
      <Typography variant="h2" sx={{ overflowWrap: 'anywhere' }}>
        {item.name}
      </Typography>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', mx: -0.75, mt: 0.5 }}>
        <Button variant="text" onClick={onEdit} sx={ITEM_BUTTON}>
          Edit
        </Button>
        <Button variant="text" onClick={onCopy} sx={ITEM_BUTTON}>
          Copy item
        </Button>
        <Button variant="text" disabled={at === 0} onClick={() => onMove(-1)} sx={ITEM_BUTTON}>
          Up
        </Button>
        <Button variant="text" disabled={at === workload.items.length - 1} onClick={() => onMove(1)} sx={ITEM_BUTTON}>
          Down
        </Button>
        <Button variant="text" onClick={onDelete} sx={ITEM_BUTTON}>
          Take out
        </Button>
      </Box>
      {itemViewOf(item.kind).facts({ item, drives, selectedDrive, onDrive })}
      <PutIntoReport subject={`${workload.id} ${item.id}`} put={putOf(workload, item, drives)} />
    </Box>
  );
}

/** A series or a load as it goes on the drives beside it; of footage the question whether the first carries all of it. */
function putOf(workload: Workload, item: Item, drives: readonly DriveSupply[]): (() => Put) | null {
  const [first] = drives;
  if (!first) return null;
  const { headroomShare } = useContextStore.getState();
  if (item.kind === 'footage') {
    const { card, roomBytes } = first;
    const question = questionText(workload, card.label);
    return () => ({ kind: 'question', question, workloadId: workload.id, driveId: card.id, headroomShare, roomBytes });
  }
  const on = drives.slice(0, 8).map(({ card, roomBytes }) => ({ driveId: card.id, roomBytes }));
  return () => ({ kind: 'item', workloadId: workload.id, itemId: item.id, headroomShare, drives: on });
}

function WorkloadList({
  workload,
  onProblem,
}: {
  workload: Workload;
  onProblem: (problem: string | undefined) => void;
}) {
  const workloads = useLibrary((state) => state.workloads);
  const set = useContextStore((state) => state.set);
  const at = workloads.findIndex((one) => one.id === workload.id);
  return (
    <>
      <ChoiceList label="Workloads">
        {workloads.map((one) => (
          <ChoiceItem key={one.id} chosen={one.id === workload.id} onChoose={() => set({ workloadId: one.id })}>
            <ChoiceText
              name={one.name}
              more={`${one.items.length === 1 ? '1 item' : `${one.items.length} items`}${one.example ? ', an example' : ''}`}
            />
          </ChoiceItem>
        ))}
      </ChoiceList>
      {workloads.length > 1 && (
        <Box sx={{ mx: -0.75 }}>
          <Button
            variant="text"
            disabled={at === 0}
            onClick={() => void moveWorkload(workload, -1).then(onProblem)}
            sx={ITEM_BUTTON}
          >
            Move up
          </Button>
          <Button
            variant="text"
            disabled={at === workloads.length - 1}
            onClick={() => void moveWorkload(workload, 1).then(onProblem)}
            sx={ITEM_BUTTON}
          >
            Move down
          </Button>
        </Box>
      )}
    </>
  );
}
