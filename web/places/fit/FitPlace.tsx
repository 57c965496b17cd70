import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useEffect, useMemo, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { DIRECTIONS, type Direction } from '#core/run/run-document.ts';
import type { Evidence, RateSpan } from '#core/supply/evidence.ts';
import { checkOptions, recipeKindById } from '#core/recipes/registry.ts';
import { NO_SUPPLY, supplyOf } from '#core/supply/profile.ts';
import { usableBytes } from '#core/supply/room.ts';
import { bytesText, figureText, formatBitRate, formatDuration, rateText } from '#core/units/format.ts';
import type { ProvingRun } from '#core/verdict/verdict.ts';
import { PlaceLayout } from '../../frame/PlaceLayout.tsx';
import { DoubtText, EmptyPlace, Fact, Heading, ProblemText } from '../../kit/words.tsx';
import { RateRuler } from '../../pictures/RateRuler.tsx';
import type { RulerLane, RulerPin } from '../../pictures/ruler-layout.ts';
import { InlineVerdict, VERDICT_INK, VERDICT_NAME } from '../../pictures/verdict-marks.tsx';
import { useContextStore } from '../../state/context.ts';
import { judgeWorkload, useProfiles, useWorkload, type JudgedItem } from '../../state/judged.ts';
import { useLibrary } from '../../state/library.ts';
import { ink } from '../../theme/tokens.ts';
import { ItemSentences } from './ItemSentences.tsx';

/** Fit: which items of the workload each drive carries, and what would prove the rest. */
export function Component() {
  useLinkedContext();
  const { driveIds, headroomShare, set } = useContextStore();
  const { drives, volumes } = useLibrary();
  const workload = useWorkload();
  const { profiles, problem } = useProfiles(driveIds);
  const evidence = useMemo(
    () =>
      Object.fromEntries(Object.entries(profiles).map(([id, [latest]]) => [id, latest ? supplyOf(latest) : NO_SUPPLY])),
    [profiles],
  );
  const [selectedItem, setSelectedItem] = useState<string | null>(null);
  const [selectedDrive, setSelectedDrive] = useState<string | null>(null);

  const chosen = useMemo(
    () => driveIds.map((id) => drives?.find((drive) => drive.id === id)).filter((drive) => drive !== undefined),
    [driveIds, drives],
  );
  const judged = useMemo(() => {
    const room = (driveId: string): number | null => {
      const volume = volumes?.find((one) => one.driveId === driveId);
      return volume ? usableBytes(volume.freeBytes) : null;
    };
    const entries = chosen.flatMap((drive) => {
      // Until a drive's runs have been read nothing is said about it.
      const known = evidence[drive.id];
      return known && workload
        ? [[drive.id, judgeWorkload(workload, known, headroomShare, room(drive.id))] as const]
        : [];
    });
    return new Map(entries);
  }, [chosen, workload, evidence, headroomShare, volumes]);

  if (drives !== undefined && chosen.length === 0) return <NothingYet />;
  if (workload === undefined) {
    return (
      <PlaceLayout>
        <EmptyPlace title="No workload is chosen">
          Choose one in the strip above: its items are laid on the ruler beside your drives.
        </EmptyPlace>
      </PlaceLayout>
    );
  }
  const driveId = chosen.some((one) => one.id === selectedDrive) ? selectedDrive! : chosen[0]?.id;
  const items = (driveId !== undefined && judged.get(driveId)) || [];
  const item =
    items.find((one) => one.demand.itemId === selectedItem) ??
    [...items].sort((a, b) => b.demand.bytesPerSecond - a.demand.bytesPerSecond)[0];
  const drive = chosen.find((one) => one.id === driveId);
  const lanes = chosen.map((one): RulerLane => ({
    driveId: one.id,
    label: one.label,
    spans: spansOf(evidence[one.id]?.traces),
  }));

  return (
    <PlaceLayout
      column={
        item && drive ? (
          <ItemColumn item={item} driveLabel={drive.label} evidence={evidence[drive.id]?.traces ?? []} />
        ) : (
          <Typography variant="body2">Reading the runs of the chosen drives.</Typography>
        )
      }
      {...(item?.verdict.wouldProve && driveId !== undefined
        ? { actions: <ProveAction proving={item.verdict.wouldProve} driveId={driveId} /> }
        : {})}
    >
      <Typography variant="h1" sx={{ mb: 0.5 }}>
        What each drive carries of {workload.name}
      </Typography>
      {problem && <ProblemText>{problem.detail}</ProblemText>}
      <RateRuler
        lanes={lanes}
        pins={pinsOf(judged)}
        selected={item?.demand.itemId ?? null}
        onSelect={(id, drive) => {
          setSelectedItem(id);
          if (drive !== undefined) setSelectedDrive(drive);
        }}
        headroomShare={headroomShare}
        onDrive={setSelectedDrive}
        currentDrive={driveId ?? null}
        onHeadroom={(share) => set({ headroomShare: share })}
      />
      {drive && (
        <>
          <Typography variant="h2" sx={{ mt: 0.5, mb: 0.75 }}>
            {drive.label}, item by item
          </Typography>
          <ItemSentences items={items} selected={item?.demand.itemId ?? null} onSelect={setSelectedItem} />
        </>
      )}
    </PlaceLayout>
  );
}

/** What is chosen, from the address and into it, so that a link shows the same to somebody else. */
function useLinkedContext(): void {
  const [search] = useSearchParams();
  const { driveIds, workloadId, headroomShare, set } = useContextStore();
  // The address counts once, when the place opens; from then on the choice leads and the address follows.
  const [linked] = useState(search);
  useEffect(() => {
    const drives = linked.get('drives')?.split(',').filter(Boolean);
    const workload = linked.get('workload');
    const headroom = Number(linked.get('headroom'));
    set({
      ...(drives ? { driveIds: drives } : {}),
      ...(workload !== null ? { workloadId: workload } : {}),
      ...(linked.has('headroom') && headroom >= 0 && headroom <= 200 ? { headroomShare: headroom / 100 } : {}),
    });
  }, [linked, set]);
  useEffect(() => {
    if (driveIds.length === 0 || workloadId === null) return;
    const next = new URLSearchParams({
      drives: driveIds.join(','),
      workload: workloadId,
      headroom: String(Math.round(headroomShare * 100)),
    });
    // Past the router, which would take this for a step of its own and call off one that is under way.
    if (window.location.pathname === '/fit')
      window.history.replaceState(window.history.state, '', `/fit?${next.toString()}`);
  }, [driveIds, workloadId, headroomShare]);
}

/** Widest span of a drive's runs in each direction. */
function spansOf(evidence: readonly Evidence[] | undefined): RulerLane['spans'] {
  if (evidence === undefined) return null;
  const span = (direction: Direction): RateSpan | null => {
    const spans = evidence.filter((one) => one.direction === direction).map((one) => one.span);
    if (spans.length === 0) return null;
    return {
      worstSecondBytesPerSecond: Math.min(...spans.map((one) => one.worstSecondBytesPerSecond)),
      // A floor that one run saw is not undone by short runs that ended before it.
      floorBytesPerSecond: Math.min(...spans.map((one) => one.floorBytesPerSecond)),
      openingBytesPerSecond: Math.max(...spans.map((one) => one.openingBytesPerSecond)),
    };
  };
  return Object.fromEntries(DIRECTIONS.map((direction) => [direction, span(direction)])) as Record<
    Direction,
    RateSpan | null
  >;
}

function pinsOf(judged: ReadonlyMap<string, readonly JudgedItem[]>): RulerPin[] {
  const [first] = judged.values();
  return (first ?? []).map(({ demand }, index) => ({
    itemId: demand.itemId,
    name: demand.name,
    direction: demand.direction,
    bytesPerSecond: demand.bytesPerSecond,
    verdicts: Object.fromEntries([...judged].map(([driveId, items]) => [driveId, items[index]!.verdict.verdict])),
  }));
}

function ItemColumn({
  item: { demand, verdict, sentence },
  driveLabel,
  evidence,
}: {
  item: JudgedItem;
  driveLabel: string;
  evidence: readonly Evidence[];
}) {
  const own = evidence.find((one) => one.runId === verdict.runId && one.direction === demand.direction);
  return (
    <>
      <Box
        sx={{
          display: 'flex',
          gap: 1,
          alignItems: 'center',
          mb: 0.5,
          color: ink(VERDICT_INK[verdict.verdict]),
          fontWeight: 700,
        }}
      >
        <InlineVerdict verdict={verdict.verdict} />
        {VERDICT_NAME[verdict.verdict]}
      </Box>
      <Typography data-sentence>
        <b>{demand.name}</b> on <b>{driveLabel}</b>. {sentence}
      </Typography>
      <Heading>{demand.formatText}</Heading>
      <Fact name="needs">{rateText(demand.bytesPerSecond)}</Fact>
      <Fact name="that is">{figureText(formatBitRate(demand.bytesPerSecond))}</Fact>
      <Fact name="a take">
        {formatDuration(demand.takeSeconds)}, {bytesText(demand.bytesPerSecond * demand.takeSeconds)}
      </Fact>
      <Fact name="takes">{demand.takes}</Fact>
      <Fact name="buffer">{bytesText(demand.bufferBytes)}</Fact>
      {verdict.guaranteedBytesPerSecond !== null && (
        <>
          <Heading>What its runs say</Heading>
          <Fact name={verdict.verdict === 'not-proven' ? 'carries at least, as far as proven' : 'guaranteed rate'}>
            {rateText(verdict.guaranteedBytesPerSecond)}
          </Fact>
          <Fact name="least buffer">{bytesText(verdict.leastBufferBytes ?? 0)}</Fact>
          <Fact name={verdict.verdict === 'breaks' ? 'until' : 'proven'}>
            {formatDuration(verdict.provenSeconds ?? 0)}, {bytesText(verdict.provenBytes ?? 0)}
          </Fact>
        </>
      )}
      {own && own.doubts.length > 0 && (
        <>
          <Heading>Doubts about that run</Heading>
          <Box component="ul" sx={{ m: 0, p: 0 }}>
            {own.doubts.map((doubt) => (
              <DoubtText key={doubt.code}>
                {doubt.evidence} {doubt.advice}
              </DoubtText>
            ))}
          </Box>
        </>
      )}
    </>
  );
}

/** The run that would settle it, one step away. */
function ProveAction({ proving, driveId }: { proving: ProvingRun; driveId: string }) {
  const navigate = useNavigate();
  const { recipeOptions, set, makeCurrent } = useContextStore();
  const volume = useLibrary((state) => state.volumes)?.find((one) => one.driveId === driveId);
  const { recipe: recipeId } = proving;
  const reads = recipeId === 'existing-material';
  const kind = recipeKindById(recipeId);
  const options = checkOptions(
    kind,
    reads
      ? { amountBytes: proving.bytes }
      : { amountBytes: proving.bytes, untilFloor: false, readBack: proving.readsBack },
  );
  const fits = volume !== undefined && (reads || proving.bytes <= usableBytes(volume.freeBytes));
  const time = proving.seconds === null ? '' : `, about ${formatDuration(proving.seconds)}`;
  const what = reads
    ? `${kind.label}: reading ${bytesText(proving.bytes)} that was not just written${time}.`
    : `${kind.label} of ${bytesText(proving.bytes)}${proving.readsBack ? ', read back' : ''}${time}. It writes as much to the drive.`;
  const why =
    volume === undefined ? ' The drive is not attached now.' : fits ? '' : ' That does not fit in its free space.';
  return (
    <>
      <Typography variant="caption" component="h3" sx={{ color: ink('second') }}>
        Would prove the rest
      </Typography>
      <Typography variant="body2" sx={{ mb: 1 }}>
        {what}
        {why}
      </Typography>
      {fits && (
        <Button
          variant="contained"
          fullWidth
          onClick={() => {
            set({
              recipeId,
              recipeOptions: { ...recipeOptions, [recipeId]: options },
              targetVolumeId: volume.id,
            });
            makeCurrent(driveId);
            void navigate('/measure');
          }}
        >
          Set up that run
        </Button>
      )}
    </>
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
