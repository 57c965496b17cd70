import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { Suspense, useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { backlogCurve } from '#core/5-answers/verdict/backlog-curve.ts';
import { PART_MARK } from '#core/3-jobs/demand/item-kind.ts';
import { isFootage, itemBehind, type Item } from '#core/3-jobs/demand/items.ts';
import { TOGETHER_ID } from '#core/5-answers/verdict/together.ts';
import { useShortcuts } from '../../frame/shortcuts.ts';
import { PlaceLayout } from '../../frame/PlaceLayout.tsx';
import { Choice } from '../../kit/Choice.tsx';
import { EmptyPlace, ProblemText } from '../../kit/words.tsx';
import type { HoldRow } from '../../pictures/HoldChart.tsx';
import { RateRuler } from '../../pictures/ruler/RateRuler.tsx';
import { useContextStore } from '../../state/context.ts';
import type { JudgedItem } from '#core/5-answers/verdict/judge-workload.ts';
import { itemViewOf } from '../workloads/items/registry.tsx';
import { FitColumn } from './FitColumn.tsx';
import { ProveAction } from './ProveAction.tsx';
import { lanesOf, pinsOf, useFit, useLinkedContext, type FitDrive } from './use-fit.ts';
import { PlaceTitle } from '../../kit/Tip.tsx';
import { BacklogPicture, HoldChart } from '../../pictures/pictures.tsx';

type Lower = 'items' | 'drives' | 'backlog';

/** Fit: which items of the workload each drive carries, for how long, and what would prove the rest. */
export function Component() {
  useLinkedContext();
  const { headroomShare, set } = useContextStore();
  const { drives, workload, problem } = useFit();
  const [selectedItem, setSelectedItem] = useState<string | null>(null);
  const [selectedDrive, setSelectedDrive] = useState<string | null>(null);
  useShortcuts((key) => {
    if (key === 'p' && selectedDrive !== null) useContextStore.getState().toggleDrive(selectedDrive);
  });
  const [lower, setLower] = useState<Lower>('items');
  const [before, setBefore] = useState<'items' | 'drives'>('items');

  if (drives.length === 0) return <NothingYet />;
  if (workload === undefined || workload.items.length === 0) return <NoWorkload named={workload?.name} />;
  const drive = drives.find((one) => one.card.id === selectedDrive) ?? drives[0];
  const items = drive?.items ?? [];
  const judged =
    items.find((one) => one.demand.itemId === selectedItem) ??
    items
      .filter(({ demand }) => demand.itemId !== TOGETHER_ID)
      // An item before its further parts, and the largest of those.
      .sort(
        (a, b) =>
          Number(a.demand.itemId.includes(PART_MARK)) - Number(b.demand.itemId.includes(PART_MARK)) ||
          b.demand.bytesPerSecond - a.demand.bytesPerSecond,
      )[0];
  const itemId = judged?.demand.itemId ?? null;
  const item = itemBehind(workload.items, itemId);
  const footage = workload.items.filter(isFootage);
  const behind = itemId === TOGETHER_ID ? footage.filter((one) => one.together) : footage.filter((one) => one === item);
  const isRate = judged?.short === null;
  const rows = lower === 'drives' ? rowsByDrive(drives, itemId) : rowsByItem(items);
  const show = (next: Lower) => {
    if (next !== 'backlog') setBefore(next);
    setLower(next);
  };

  return (
    <PlaceLayout
      column={
        judged && drive ? (
          <FitColumn judged={judged} item={item} drive={drive} workload={workload} />
        ) : (
          <Typography variant="body2">Reading the runs of the chosen drives.</Typography>
        )
      }
      {...(judged?.verdict.wouldProve && drive
        ? {
            actions: (
              <ProveAction
                key={`${drive.card.id} ${itemId}`}
                proving={judged.verdict.wouldProve}
                demand={judged.demand}
                items={behind}
                driveId={drive.card.id}
              />
            ),
          }
        : {})}
    >
      <PlaceTitle name={workload.name}>{`What each drive carries of ${workload.name}`}</PlaceTitle>
      {problem && <ProblemText>{problem.detail}</ProblemText>}
      <RateRuler
        lanes={lanesOf(drives)}
        pins={pinsOf(drives)}
        selected={itemId}
        onSelect={(id, driveId) => {
          setSelectedItem(id);
          if (driveId !== undefined) setSelectedDrive(driveId);
        }}
        headroomShare={headroomShare}
        onDrive={setSelectedDrive}
        currentDrive={drive?.card.id ?? null}
        onHeadroom={(share) => set({ headroomShare: share })}
      />
      {drive && judged && (
        <>
          <Box sx={{ display: 'flex', alignItems: 'center', gap: 2, mt: 0.25, mb: 0.5, flex: 'none' }}>
            <Typography variant="h2" noWrap sx={{ flex: 1, minWidth: 0 }}>
              {lower === 'drives'
                ? `${judged.demand.name}, drive by drive`
                : lower === 'items'
                  ? `${drive.card.label}, item by item`
                  : isRate
                    ? `What waits: ${judged.demand.name} on ${drive.card.label}`
                    : `${judged.demand.name}, drive by drive`}
            </Typography>
            <Choice
              label="What is shown below"
              value={lower}
              options={[
                ['items', 'By item'],
                ['drives', 'By drive'],
                ['backlog', isRate ? 'Backlog' : 'In time'],
              ]}
              onChange={(next) => show(next as Lower)}
            />
          </Box>
          {lower === 'backlog' ? (
            <InTime
              judged={judged}
              item={item}
              drive={drive}
              drives={drives}
              onDrive={setSelectedDrive}
              onBack={() => show(before)}
            />
          ) : (
            <HoldChart
              rows={rows}
              selected={lower === 'drives' ? drive.card.id : itemId}
              onSelect={(key) => {
                const chosen = lower === 'drives' ? drive.card.id : itemId;
                if (key === chosen) return show('backlog');
                if (lower === 'drives') setSelectedDrive(key);
                else setSelectedItem(key);
              }}
            />
          )}
        </>
      )}
    </PlaceLayout>
  );
}

const rowOf = (key: string, label: string, { demand, verdict, short }: JudgedItem, isFromBox = false): HoldRow => ({
  key,
  label,
  isFromBox,
  takeSeconds: demand.takeSeconds,
  takes: demand.direction === 'write' ? demand.takes : 1,
  verdict,
  short,
});

function rowsByItem(items: readonly JudgedItem[]): HoldRow[] {
  return items.map((judged) => rowOf(judged.demand.itemId, judged.demand.name, judged));
}

function rowsByDrive(drives: readonly FitDrive[], itemId: string | null): HoldRow[] {
  return drives.flatMap(({ card, supply, items }) => {
    const judged = items.find(({ demand }) => demand.itemId === itemId);
    return judged ? [rowOf(card.id, card.label, judged, supply?.isPromise)] : [];
  });
}

/** What goes on while it runs: what waits of a stream, or the picture that a kind of item has of its own. */
function InTime({
  judged,
  item,
  drive,
  drives,
  onDrive,
  onBack,
}: {
  judged: JudgedItem;
  item: Item | undefined;
  drive: FitDrive;
  drives: readonly FitDrive[];
  onDrive: (driveId: string) => void;
  onBack: () => void;
}) {
  const { picture } = item && judged.short !== null ? itemViewOf(item.kind) : { picture: null };
  if (!item || !picture) return <Backlog judged={judged} drive={drive} onBack={onBack} />;
  return <Suspense fallback={null}>{picture({ item, drives, selectedDrive: drive.card.id, onDrive })}</Suspense>;
}

function Backlog({
  judged: { demand, verdict },
  drive,
  onBack,
}: {
  judged: JudgedItem;
  drive: FitDrive;
  onBack: () => void;
}) {
  // What was done frame by frame has no trace of its own: the longest of the drive shows the rest.
  const evidence = useMemo(() => {
    const traces = drive.supply?.traces.filter((one) => one.direction === demand.direction) ?? [];
    const longest = [...traces].sort((a, b) => b.provenBytes - a.provenBytes)[0];
    return traces.find((one) => one.runId === verdict.runId) ?? longest;
  }, [drive.supply, demand.direction, verdict.runId]);
  const curve = useMemo(() => (evidence ? backlogCurve(demand, evidence) : null), [demand, evidence]);
  // A later take begins elsewhere on the curve, and a full volume is no backlog.
  const breaksHere = verdict.breaksInTake === null && (verdict.reason === 'too-slow' || verdict.reason === 'done');
  if (!curve) {
    return (
      <EmptyPlace
        title="No trace to run this against"
        action={
          <Button variant="outlined" onClick={onBack}>
            Back to the rows
          </Button>
        }
      >
        What waits in the buffer over the take will be drawn here, once a run of this drive goes that way.
      </EmptyPlace>
    );
  }
  return (
    <BacklogPicture
      curve={curve}
      direction={demand.direction}
      takeSeconds={demand.takeSeconds}
      bufferBytes={demand.bufferBytes}
      breaksAtSeconds={breaksHere ? verdict.breaksAtSeconds : null}
    />
  );
}

function NothingYet() {
  const navigate = useNavigate();
  return (
    <PlaceLayout>
      <EmptyPlace
        title="Nothing to compare yet"
        action={
          <Button variant="outlined" onClick={() => void navigate('/measure')}>
            Measure a drive
          </Button>
        }
      >
        The rate ruler will be here: every drive you measured as a lane, every item of your workload as a pin across it,
        with the verdict where they meet.
      </EmptyPlace>
    </PlaceLayout>
  );
}

function NoWorkload({ named }: { named: string | undefined }) {
  const navigate = useNavigate();
  return (
    <PlaceLayout>
      <EmptyPlace
        title={named === undefined ? 'No workload is chosen' : `${named} asks for nothing yet`}
        action={
          <Button variant="outlined" onClick={() => void navigate('/workloads')}>
            {named === undefined ? 'Make a workload' : 'Add an item'}
          </Button>
        }
      >
        Its items are laid on the ruler beside your drives. Choose one in the strip above, or make one.
      </EmptyPlace>
    </PlaceLayout>
  );
}
