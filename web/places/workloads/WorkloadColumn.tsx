import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { demandOf } from '#core/demand/footage-demand.ts';
import type { FootageItem, Workload } from '#core/demand/workload.ts';
import { explainRate } from '#core/media/explain.ts';
import { bytesText, figureText, formatBitRate, formatDuration, rateText } from '#core/units/format.ts';
import { Fact, Heading } from '../../kit/words.tsx';
import { ChoiceList } from '../../kit/ChoiceList.tsx';
import { RadioLine } from '../../kit/RadioLine.tsx';
import { useContextStore } from '../../state/context.ts';
import { useLibrary } from '../../state/library.ts';
import { moveWorkload } from '../../state/workload-edits.ts';
import { ink } from '../../theme/tokens.ts';

interface WorkloadColumnProps {
  workload: Workload;
  item: FootageItem | undefined;
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
  onEdit,
  onCopy,
  onMove,
  onDelete,
}: Omit<WorkloadColumnProps, 'item' | 'onProblem'> & { item: FootageItem }) {
  const demand = demandOf(item);
  const at = workload.items.indexOf(item);
  const takeBytes = demand.bytesPerSecond * demand.takeSeconds;
  return (
    <Box data-item-facts="">
      <Typography variant="h2" sx={{ overflowWrap: 'anywhere' }}>
        {item.name}
      </Typography>
      <Typography variant="body2" sx={{ color: ink('second') }}>
        {item.action === 'record' ? 'Records' : 'Plays'} {demand.formatText}
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
      <Heading>How the number comes about</Heading>
      {explanationOf(item).map((line) => (
        <Typography key={line} variant="body2" sx={{ fontSize: 13, lineHeight: 1.4, mb: 0.5 }}>
          {line}
        </Typography>
      ))}
      <Heading>What it asks for</Heading>
      <Fact name="on average">
        {rateText(demand.bytesPerSecond)}, {figureText(formatBitRate(demand.bytesPerSecond))}
      </Fact>
      {demand.peakBytesPerSecond > demand.bytesPerSecond * 1.001 && (
        <Fact name="in its worst second">{rateText(demand.peakBytesPerSecond)}</Fact>
      )}
      <Fact
        name={demand.takes > 1 ? `a take, ${formatDuration(demand.takeSeconds)}` : formatDuration(demand.takeSeconds)}
      >
        {bytesText(takeBytes)}
      </Fact>
      {demand.takes > 1 && <Fact name={`all ${demand.takes} takes`}>{bytesText(takeBytes * demand.takes)}</Fact>}
      <Fact name="buffer of the program">
        {bytesText(demand.bufferBytes)}, {formatDuration(demand.bufferBytes / demand.bytesPerSecond)}
      </Fact>
    </Box>
  );
}

function explanationOf({ essence, streams }: FootageItem): string[] {
  switch (essence.kind) {
    case 'picture':
      return explainRate(essence, streams);
    case 'sound': {
      const { tracks, samplesPerSecond, bytesPerSample } = essence.sound;
      const times = streams > 1 ? ` × ${streams} streams` : '';
      return [
        `${tracks} tracks × ${samplesPerSecond.toLocaleString('en-US')} samples a second × ${bytesPerSample} B${times}`,
      ];
    }
    case 'own':
      return [
        `${rateText(essence.bytesPerSecond)} a stream, as you gave it${streams > 1 ? `, × ${streams} streams` : ''}`,
      ];
    case 'measured':
      return [
        `Taken from ${essence.label}: ${rateText(essence.bytesPerSecond)} on average, ${rateText(essence.peakBytesPerSecond)} in its worst second${streams > 1 ? `, × ${streams} streams` : ''}`,
        `Its busiest stretch is ${bytesText(essence.burstBytes)} above its average`,
      ];
    case 'curve':
      return [`Follows ${essence.label}, second by second${streams > 1 ? `, × ${streams}` : ''}`];
  }
}

function WorkloadList({
  workload,
  onProblem,
}: {
  workload: Workload;
  onProblem: (problem: string | undefined) => void;
}) {
  const workloads = useLibrary((state) => state.workloads) ?? [];
  const set = useContextStore((state) => state.set);
  const at = workloads.findIndex((one) => one.id === workload.id);
  return (
    <>
      <ChoiceList role="radiogroup" label="Workloads" sx={{ mx: -1.5 }}>
        {workloads.map((one) => (
          <RadioLine
            key={one.id}
            chosen={one.id === workload.id}
            onChoose={() => set({ workloadId: one.id })}
            sx={{
              py: 0.6,
              fontSize: 14,
              borderLeft: `3px solid ${one.id === workload.id ? ink('text') : 'transparent'}`,
              bgcolor: one.id === workload.id ? ink('rail') : 'transparent',
              '&:hover': { bgcolor: ink('rail') },
            }}
          >
            <Box
              component="span"
              sx={{ display: 'block', fontWeight: one.id === workload.id ? 650 : 400, overflowWrap: 'anywhere' }}
            >
              {one.name}
            </Box>
            <Box component="span" sx={{ display: 'block', fontSize: 12.5, color: ink('second') }}>
              {one.items.length === 1 ? '1 item' : `${one.items.length} items`}
              {one.example ? ', an example' : ''}
            </Box>
          </RadioLine>
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
