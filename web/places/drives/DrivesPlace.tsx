import Box from '@mui/material/Box';
import { Suspense, lazy, useMemo, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import type { Direction } from '#core/1-ground/curves/direction.ts';
import { drawnCurve } from '#core/4-runs/supply/promised.ts';
import { formatRate } from '#core/1-ground/units/format.ts';
import { useAddDrive } from '../../frame/add-drive.tsx';
import { NothingMeasured } from '../../frame/NothingMeasured.tsx';
import { useShortcuts } from '../../frame/shortcuts.ts';
import { PlaceLayout } from '../../frame/PlaceLayout.tsx';
import { Choice } from '../../kit/Choice.tsx';
import { Doubts, ProblemText } from '../../kit/words.tsx';
import type { OverlaidTrace } from '../../pictures/OverlayPicture.tsx';
import type { LevelsAxis, RunLevels } from '../../pictures/RunLevelsPicture.tsx';
import { useContextStore } from '../../state/context.ts';
import {
  MOST_DRIVES,
  useComparedDrives,
  useComparedIds,
  useDriveSupplies,
  type DriveSupply,
} from '../../state/drive-supplies.ts';
import { usePinnedRuns } from '../../state/pinned-runs.ts';
import { useWorkload } from '../../state/judged.ts';
import { loaderOf, useLibrary } from '../../state/library.ts';
import { CompareTable } from './CompareTable.tsx';
import { comparedRows } from './compared.ts';
import { DriveColumn } from './DriveColumn.tsx';
import { PlaceTitle } from '../../kit/Tip.tsx';
import { LadderPicture, OverlayPicture, RunLevelsPicture } from '../../pictures/pictures.tsx';

const BehindLinks = lazy(() => import('./BehindLinks.tsx'));
const CardSheet = lazy(() => import('./CardSheet.tsx'));

export const loader = loaderOf('drives', 'driveId', 'drive');

/** Drives: the card of each with everything its runs say, and several held against each other. */
export function Component() {
  const { driveId } = useParams();
  const navigate = useNavigate();
  const cards = useLibrary((state) => state.drives);
  const chosen = useContextStore((state) => state.driveIds);
  const id =
    cards.find((card) => card.id === driveId)?.id ?? cards.find((card) => card.id === chosen[0])?.id ?? cards[0]?.id;
  const ids = useMemo(() => (id === undefined ? [] : [id]), [id]);
  const { drives, problem } = useDriveSupplies(ids);
  const others = useComparedIds();
  const [shown, setShown] = useState<Shown>('one');
  const [isEditing, setEditing] = useState(false);
  const { add, sheet } = useAddDrive((card) => void navigate(`/drives/${card.id}`));
  const drive = drives[0];
  // The same that are drawn side by side, the one that the others are held against first.
  const comparedIds = id === undefined ? [] : [id, ...others.filter((one) => one !== id)].slice(0, MOST_DRIVES);

  useShortcuts((key) => {
    if (key === 'p' && id !== undefined) useContextStore.getState().toggleDrive(id);
  });

  if (cards.length === 0) {
    return (
      <NothingMeasured>
        The first run on a volume makes a card for the drive behind it. What its runs say will be here, beside what its
        box promised, and several drives on one scale.
      </NothingMeasured>
    );
  }
  if (!drive) return <PlaceLayout>{null}</PlaceLayout>;
  return (
    <PlaceLayout
      column={
        <DriveColumn
          drive={drive}
          comparedIds={comparedIds}
          onEdit={() => setEditing(true)}
          onAdd={add}
          onDrive={(next) => void navigate(`/drives/${next}`)}
        />
      }
    >
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 2, flex: 'none', minWidth: 0 }}>
        <PlaceTitle name={drive.card.label}>
          {titleOf(shown, drive.card.label, drive.supply?.isPromise ?? false)}
        </PlaceTitle>
        <Box sx={{ flex: 1 }} />
        <Choice
          label="What is shown"
          value={shown}
          options={[
            ['one', 'This drive'],
            ['several', 'Side by side'],
            ['links', 'Other links'],
          ]}
          onChange={(next) => setShown(next as Shown)}
        />
      </Box>
      {problem && <ProblemText>{problem.detail}</ProblemText>}
      {shown === 'one' && <OneDrive drive={drive} />}
      {shown === 'several' && <Several against={drive} />}
      <Suspense fallback={null}>{shown === 'links' && <BehindLinks key={drive.card.id} drive={drive} />}</Suspense>
      <Suspense fallback={null}>
        {isEditing && <CardSheet key={drive.card.id} card={drive.card} onClose={() => setEditing(false)} />}
      </Suspense>
      {sheet}
    </PlaceLayout>
  );
}

type Shown = 'one' | 'several' | 'links';

function titleOf(shown: Shown, label: string, isPromise: boolean): string {
  if (shown === 'one') return isPromise ? `What the box of ${label} promises` : `What the runs of ${label} say`;
  return shown === 'several' ? 'Side by side' : `${label} behind other links`;
}

const DAY_MILLISECONDS = 86_400_000;

/** Every run of a drive in both directions, with its conditions. */
function levelsOf({ profile }: DriveSupply): RunLevels[] {
  // What was typed is drawn as what its box promises, and is no run.
  const runs = (profile?.runs ?? []).filter(({ isPromise }) => !isPromise);
  const first = Math.min(...runs.map(({ startedAt }) => Date.parse(startedAt)));
  return runs.flatMap(({ runId, startedAt, fillShare, startCelsius, traces }) =>
    traces.map(({ direction, span }) => ({
      runId,
      direction,
      span,
      days: (Date.parse(startedAt) - first) / DAY_MILLISECONDS,
      fillShare,
      celsius: startCelsius,
      words: `${direction === 'write' ? 'Writing' : 'Reading'}, ${new Date(startedAt).toLocaleDateString('en-GB', { day: 'numeric', month: 'long' })}: opening ${formatRate(span.openingBytesPerSecond).number}, floor ${formatRate(span.floorBytesPerSecond).number}, worst second ${formatRate(span.worstSecondBytesPerSecond).number} MB/s, ${fillShare === null ? 'filling not known' : `${Math.round(100 * fillShare)} % full`}${startCelsius === null ? '' : `, at ${Math.round(startCelsius)} °C`}`,
    })),
  );
}

function OneDrive({ drive }: { drive: DriveSupply }) {
  const navigate = useNavigate();
  const [axis, setAxis] = useState<LevelsAxis | 'requests'>('days');
  const listed = useLibrary((state) => state.runs);
  // The newest ladder of it, of several.
  const ladder = listed?.find(({ run, figures }) => run.drive.id === drive.card.id && figures.ladder)?.figures.ladder;
  const runs = useMemo(() => levelsOf(drive), [drive]);
  const { ratedWriteBytesPerSecond, ratedReadBytesPerSecond } = drive.card.details;
  if (drive.supply?.isPromise) return <Promised drive={drive} />;
  return (
    <>
      <Box sx={{ flex: 'none', mt: 0.75, mb: 0.5 }}>
        <Choice
          label="Runs by"
          value={axis}
          options={[
            ['days', 'By date'],
            ['fill', 'By filling'],
            ['celsius', 'By temperature'],
            ...(ladder ? [['requests', 'By request'] as const] : []),
          ]}
          onChange={(next) => setAxis(next as LevelsAxis | 'requests')}
        />
      </Box>
      {axis === 'requests' && ladder ? (
        <Suspense fallback={null}>
          <LadderPicture ladder={ladder} />
        </Suspense>
      ) : (
        <RunLevelsPicture
          runs={runs}
          axis={axis === 'requests' ? 'days' : axis}
          rated={{ write: ratedWriteBytesPerSecond, read: ratedReadBytesPerSecond }}
          onOpen={(runId) => void navigate(`/measure/runs/${runId}`)}
        />
      )}
    </>
  );
}

function DirectionChoice({ direction, onChange }: { direction: Direction; onChange: (next: Direction) => void }) {
  return (
    <Choice
      label="Direction"
      value={direction}
      options={[
        ['write', 'Writing'],
        ['read', 'Reading'],
      ]}
      onChange={(next) => onChange(next as Direction)}
    />
  );
}

/** What a box promises along the drive, until a run of it takes over. */
function Promised({ drive: { card, supply } }: { drive: DriveSupply }) {
  const { traceAxis } = useContextStore();
  const promised = supply?.traces;
  const [direction, setDirection] = useState<Direction>(promised?.[0]?.direction ?? 'write');
  const traces = useMemo(
    () =>
      (promised ?? [])
        .filter((one) => one.direction === direction)
        .map((one): OverlaidTrace => ({ key: card.id, label: card.label, curve: drawnCurve(one, card.capacityBytes) })),
    [promised, direction, card],
  );
  return (
    <>
      <Box sx={{ flex: 'none', mt: 0.75, mb: 0.5 }}>
        <DirectionChoice direction={direction} onChange={setDirection} />
      </Box>
      <Suspense fallback={null}>
        <OverlayPicture
          traces={traces}
          direction={direction}
          axis={traceAxis}
          selected={card.id}
          onSelect={() => undefined}
        />
      </Suspense>
    </>
  );
}

function Several({ against: drive }: { against: DriveSupply }) {
  const navigate = useNavigate();
  const { drives, problem } = useComparedDrives();
  const pinned = usePinnedRuns();
  const [what, setWhat] = useState<'drives' | 'runs'>('drives');
  const [chosenRun, setChosenRun] = useState<string>();
  const ofRuns = what === 'runs' && pinned.length > 0;
  const against = ofRuns ? (pinned.find(({ card }) => card.id === chosenRun) ?? pinned[0]!) : drive;
  const { headroomShare, traceAxis, set } = useContextStore();
  const workload = useWorkload();
  const [direction, setDirection] = useState<Direction>('write');
  const all = useMemo(
    () =>
      ofRuns
        ? pinned
        : drives.some(({ card }) => card.id === against.card.id)
          ? drives
          : [against, ...drives].slice(0, MOST_DRIVES),
    [drives, against, ofRuns, pinned],
  );
  const rows = useMemo(
    () => comparedRows(all, against, direction, workload, headroomShare),
    [all, against, direction, workload, headroomShare],
  );
  const traces = useMemo(
    () =>
      all.flatMap(({ card, supply }): OverlaidTrace[] => {
        const own = (supply?.traces ?? []).filter((one) => one.direction === direction);
        const longest = own.reduce<(typeof own)[number] | null>(
          (most, one) => (most === null || one.provenBytes > most.provenBytes ? one : most),
          null,
        );
        return longest ? [{ key: card.id, label: card.label, curve: drawnCurve(longest, card.capacityBytes) }] : [];
      }),
    [all, direction],
  );
  const unequal = rows.filter((row) => row.unequal.length > 0);
  return (
    <>
      {problem && <ProblemText>{problem.detail}</ProblemText>}
      <Box sx={{ flex: 'none', mt: 0.75, mb: 0.5, display: 'flex', gap: 1.5, flexWrap: 'wrap' }}>
        {pinned.length > 0 && (
          <Choice
            label="What is compared"
            value={ofRuns ? 'runs' : 'drives'}
            options={[
              ['drives', 'Drives'],
              ['runs', pinned.length === 1 ? 'Pinned run' : `${pinned.length} pinned runs`],
            ]}
            onChange={(next) => setWhat(next as 'drives' | 'runs')}
          />
        )}
        <DirectionChoice direction={direction} onChange={setDirection} />
        <Choice
          label="Axis"
          value={traceAxis}
          options={[
            ['bytes', 'By data moved'],
            ['seconds', 'By time'],
          ]}
          onChange={(next) => set({ traceAxis: next as 'bytes' | 'seconds' })}
        />
      </Box>
      <OverlayPicture
        traces={traces}
        direction={direction}
        axis={traceAxis}
        selected={against.card.id}
        onSelect={(key) => (ofRuns ? setChosenRun(key) : void navigate(`/drives/${key}`))}
      />
      <Box
        sx={{ flex: 'none', maxHeight: '44%', overflowY: 'auto' }}
        tabIndex={0}
        role="region"
        aria-label="Figures side by side"
      >
        <CompareTable rows={rows} againstLabel={against.card.label} />
        <Doubts>
          {unequal.map(
            ({ drive, unequal: reasons }) =>
              `${drive.card.label} against ${against.card.label} is unequal: ${reasons.join('; ')}.`,
          )}
        </Doubts>
      </Box>
    </>
  );
}
