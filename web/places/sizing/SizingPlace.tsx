import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Slider from '@mui/material/Slider';
import Typography from '@mui/material/Typography';
import { Suspense, lazy, useMemo, useState } from 'react';
import { CONSTRAINT_WORDS, buildsCsv, type ExplainedBuild } from '#core/sizing/explain.ts';
import { fillTimeline } from '#core/sizing/material.ts';
import {
  SIZING_VERSION,
  USUAL_POLICY,
  type Project,
  type Sizing,
  type SizingDrive,
  type SizingPlan,
} from '#core/sizing/project.ts';
import { CONSTRAINTS, searchBench, type JudgedBuild } from '#core/sizing/search.ts';
import { bytesText, formatNumber, formatShare, orDash, rateText } from '#core/units/format.ts';
import { api } from '../../api/client.ts';
import { PlaceLayout } from '../../frame/PlaceLayout.tsx';
import { Choice } from '../../kit/form.tsx';
import { saveJson, saveText } from '../../kit/save-json.ts';
import { FigureTable } from '../../kit/table.tsx';
import { EmptyPlace, Fact, Heading, ProblemText } from '../../kit/words.tsx';
import { CostPicture } from '../../pictures/CostPicture.tsx';
import { FillPicture, type FillLine } from '../../pictures/FillPicture.tsx';
import { useSizing, type SizingSearch } from '../../sizing/use-sizing.ts';
import { useDriveSupplies, type DriveSupply } from '../../state/drive-supplies.ts';
import { useWorkload } from '../../state/judged.ts';
import { useLibrary } from '../../state/library.ts';
import { ink } from '../../theme/tokens.ts';

const PlanSheet = lazy(() => import('./PlanSheet.tsx'));

/** A project to begin with where there is none. */
const FIRST_PLAN: SizingPlan = {
  name: 'New project',
  days: 30,
  currency: 'EUR',
  materials: [{ name: 'Cameras', bytesPerDay: 1e12, fromDay: 1, toDay: 30, keepDays: null, copies: 1 }],
  enclosures: [{ label: 'box', slots: 8, price: 0 }],
  connections: [{ label: 'no link that binds', price: 0, hops: [] }],
  policy: USUAL_POLICY,
};
const FIRST_PROJECT: Project = { id: 'project', example: false, plan: FIRST_PLAN };

/** Drives that builds can be made of: those with a price whose card stands for one device. */
function sizingDrives(drives: readonly DriveSupply[]): SizingDrive[] {
  return drives.flatMap(({ card, profile }) => {
    const { price, enduranceBytes, loudnessDecibels, ratedReadBytesPerSecond, ratedWriteBytesPerSecond } = card.details;
    if (price === null || card.medium === 'network' || card.medium === 'memory' || card.capacityBytes <= 0) return [];
    return [
      {
        id: card.id,
        label: card.label,
        capacityBytes: card.capacityBytes,
        price,
        writeBytesPerSecond: ratedWriteBytesPerSecond,
        readBytesPerSecond: ratedReadBytesPerSecond,
        enduranceBytes,
        loudnessDecibels,
        profile: profile ?? null,
      },
    ];
  });
}

const keptOf = (kept: Readonly<Record<number, number | null>>, index: number, planned: number | null): number | null =>
  kept[index] === undefined ? planned : kept[index];

type What = 'days' | 'cost';

/** A build that is shown, with what is said of it. */
interface ShownBuild {
  key: string;
  build: JudgedBuild;
  explained: ExplainedBuild;
}

/** Sizing: how much, how fast, in which layout, until when, for what money. */
export function Component() {
  const { projects, drives: cards } = useLibrary();
  const project = projects?.[0] ?? FIRST_PROJECT;
  const workload = useWorkload();
  const ids = useMemo(() => (cards ?? []).map(({ id }) => id), [cards]);
  const { drives, problem } = useDriveSupplies(ids);
  const [changed, setChanged] = useState<Partial<SizingPlan['policy']>>({});
  const [kept, setKept] = useState<Record<number, number | null>>({});
  const [what, setWhat] = useState<What>('days');
  const [isEditing, setEditing] = useState(false);
  const [chosen, setChosen] = useState<string>();
  const isReady = drives.length === ids.length && drives.every(({ supply }) => supply !== undefined);
  const sizing = useMemo((): Sizing | null => {
    const usable = sizingDrives(drives);
    if (!isReady || usable.length === 0) return null;
    const { plan } = project;
    return {
      tavrox: SIZING_VERSION,
      ...plan,
      materials: plan.materials.map((material, index) => ({
        ...material,
        keepDays: keptOf(kept, index, material.keepDays),
      })),
      policy: { ...plan.policy, ...changed },
      drives: usable,
      workload: workload ?? null,
    };
  }, [drives, isReady, project, changed, kept, workload]);
  const isChanged = Object.keys(changed).length + Object.keys(kept).length > 0;
  const keep = (material: number, keepDays: number | null) => setKept((old) => ({ ...old, [material]: keepDays }));
  const keepChanges = async () => {
    if (!sizing) return;
    const { materials, policy } = sizing;
    await api.saveProject({ ...project, plan: { ...project.plan, materials, policy } });
    await useLibrary.getState().refresh();
    setChanged({});
    setKept({});
  };
  const search = useSizing(sizing);

  if (cards !== undefined && (cards.length === 0 || (isReady && sizing === null))) {
    return (
      <PlaceLayout>
        <EmptyPlace title="No drive has a price yet">
          Which drives, how many, in which layout, until when and for what money will be here. Give a drive its price on
          its card in Drives; what was measured of it is taken from there.
        </EmptyPlace>
      </PlaceLayout>
    );
  }
  const { found } = search;
  const all: ShownBuild[] = [
    ...(found?.front.map((one, index) => ({ key: `front-${index}`, ...one })) ?? []),
    ...(found?.tempting.map(({ constraint, ...one }) => ({ key: `not-${constraint}`, ...one })) ?? []),
  ];
  const selected = all.find(({ key }) => key === chosen) ?? all.find(({ key }) => key === 'front-0') ?? all[0];
  const held = heldBuilds(all, selected);
  return (
    <>
      <PlaceLayout
        column={
          <>
            {selected && <BuildWords explained={selected.explained} />}
            {found && <FailingList search={search} selected={selected?.key} onSelect={setChosen} />}
            <Heading>What if</Heading>
            <PolicySlider
              label="Filled at most"
              value={changed.fillLimit ?? project.plan.policy.fillLimit}
              most={1}
              onValue={(fillLimit) => setChanged((old) => ({ ...old, fillLimit: Math.max(0.05, fillLimit) }))}
            />
            <PolicySlider
              label="Headroom"
              value={changed.headroomShare ?? project.plan.policy.headroomShare}
              most={1}
              onValue={(headroomShare) => setChanged((old) => ({ ...old, headroomShare }))}
            />
            <PolicySlider
              label="More than foreseen"
              value={changed.growthShare ?? project.plan.policy.growthShare}
              most={1}
              onValue={(growthShare) => setChanged((old) => ({ ...old, growthShare }))}
            />
            {isChanged && (
              <Box sx={{ mt: 1, display: 'flex', gap: 1 }}>
                <Button variant="outlined" onClick={() => void keepChanges()}>
                  Keep these
                </Button>
                <Button
                  variant="text"
                  onClick={() => {
                    setChanged({});
                    setKept({});
                  }}
                >
                  As planned
                </Button>
              </Box>
            )}
            {sizing && found && (
              <Box sx={{ mt: 1.5, display: 'flex', gap: 1, flexWrap: 'wrap' }}>
                <Button variant="text" onClick={() => saveJson(project.plan.name, 'sizing', sizing)}>
                  Export
                </Button>
                <Button
                  variant="text"
                  onClick={() =>
                    saveText(
                      project.plan.name,
                      'builds.csv',
                      buildsCsv(searchBench(sizing), found.result.front),
                      'text/csv',
                    )
                  }
                >
                  Builds as CSV
                </Button>
              </Box>
            )}
          </>
        }
        actions={
          <Button variant="contained" fullWidth onClick={() => setEditing(true)}>
            Change the plan
          </Button>
        }
      >
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 2, flex: 'none', minWidth: 0, mb: 0.5 }}>
          <Typography variant="h1" noWrap sx={{ flex: 1, minWidth: 0 }}>
            {project.plan.name}
            {project.example && <span style={{ color: ink('second'), fontSize: 13, marginLeft: 10 }}>example</span>}
          </Typography>
          <Choice
            label="What is shown"
            value={what}
            options={[
              ['days', 'Over the days'],
              ['cost', 'Cost and margin'],
            ]}
            onChange={(next) => setWhat(next as What)}
          />
        </Box>
        {(problem ?? search.problem) !== undefined && <ProblemText>{problem?.detail ?? search.problem}</ProblemText>}
        <Typography variant="body2" role="status" sx={{ color: ink('second'), flex: 'none' }}>
          {statusText(search, workload?.name)}
        </Typography>
        {found && sizing && what === 'days' && (
          <FillPicture
            materials={sizing.materials}
            onKeep={keep}
            timeline={fillTimeline(sizing.materials, sizing.days, sizing.policy.growthShare)}
            lines={held.map(({ key, explained }): FillLine => ({
              key,
              label: explained.name,
              usableBytes: explained.usableBytes,
              fullOnDay: explained.fullOnDay,
            }))}
            selected={selected?.key ?? null}
          />
        )}
        {found && sizing && what === 'cost' && (
          <CostPicture
            sample={found.result.sample}
            front={all
              .filter(({ key }) => key.startsWith('front'))
              .map(({ key, build, explained }) => ({
                key,
                label: explained.name,
                cost: build.cost,
                margin: build.margin,
              }))}
            currency={sizing.currency}
            selected={selected?.key ?? null}
            onSelect={setChosen}
          />
        )}
        {found && <HeldTable held={held} currency={sizing?.currency ?? ''} />}
      </PlaceLayout>
      <Suspense>{isEditing && <PlanSheet project={project} onClose={() => setEditing(false)} />}</Suspense>
    </>
  );
}

function statusText({ found, share }: SizingSearch, workloadName: string | undefined): string {
  if (!found)
    return share === null
      ? 'Reading what is known of the drives.'
      : `Searching, ${formatShare(share)} of the drives done.`;
  const { builds, feasible } = found.result;
  const what = workloadName === undefined ? 'room alone' : `room and ${workloadName}`;
  const again = share === null ? '' : ' Searching again.';
  return feasible === 0
    ? `None of ${formatNumber(builds, 'full')} builds does what is asked for ${what}.${again}`
    : `${formatNumber(feasible, 'full')} of ${formatNumber(builds, 'full')} builds do what is asked for ${what}.${again}`;
}

/** Three held side by side: the chosen one, the cheapest, what tempts though it is too slow, and what is nearly large enough. */
function heldBuilds(all: readonly ShownBuild[], selected: ShownBuild | undefined): ShownBuild[] {
  const of = (key: string) => all.find((one) => one.key === key);
  const held = [selected, of('front-0'), of('not-writing') ?? of('not-reading'), of('not-capacity'), of('front-1')];
  return [...new Map(held.flatMap((one) => (one ? [[one.key, one] as const] : []))).values()].slice(0, 3);
}

function BuildWords({ explained }: { explained: ExplainedBuild }) {
  return (
    <Box data-build="">
      <Typography sx={{ fontWeight: 650, overflowWrap: 'anywhere' }}>{explained.name}</Typography>
      {explained.sentences.map((sentence) => (
        <Typography key={sentence} variant="body2" sx={{ mt: 0.75 }}>
          {sentence}
        </Typography>
      ))}
    </Box>
  );
}

function FailingList({
  search,
  selected,
  onSelect,
}: {
  search: SizingSearch;
  selected: string | undefined;
  onSelect: (key: string) => void;
}) {
  const { result, tempting } = search.found!;
  const failing = CONSTRAINTS.filter((one) => result.ruledOut[one] > 0);
  if (failing.length === 0) return null;
  return (
    <>
      <Heading>Why others fail</Heading>
      {failing.map((constraint) => {
        const one = tempting.find((other) => other.constraint === constraint);
        const key = `not-${constraint}`;
        return (
          <Fact key={constraint} name={formatNumber(result.ruledOut[constraint], 'full')}>
            {CONSTRAINT_WORDS[constraint]}
            {one && (
              <Button
                variant="text"
                data-tempting={constraint}
                aria-pressed={selected === key}
                onClick={() => onSelect(key)}
                sx={{
                  fontSize: 12.5,
                  px: 0.5,
                  py: 0,
                  minHeight: 0,
                  minWidth: 0,
                  whiteSpace: 'normal',
                  textAlign: 'right',
                }}
              >
                {constraint === 'capacity' ? 'closest' : 'cheapest'}: {formatNumber(one.build.cost, 'full')}
              </Button>
            )}
          </Fact>
        );
      })}
    </>
  );
}

interface PolicySliderProps {
  label: string;
  value: number;
  most: number;
  onValue: (value: number) => void;
}

/** A share that searches again while it is moved. */
function PolicySlider({ label, value, most, onValue }: PolicySliderProps) {
  return (
    <Box sx={{ mt: 0.5 }}>
      <Box sx={{ display: 'flex', justifyContent: 'space-between', fontSize: 13.5 }}>
        <span style={{ color: ink('second') }}>{label}</span>
        <span>{formatShare(value)}</span>
      </Box>
      <Slider
        aria-label={label}
        value={value}
        min={0}
        max={most}
        step={0.05}
        onChange={(_event, next) => onValue(next)}
        sx={{
          color: ink('text'),
          py: 1,
          '& .MuiSlider-rail': { height: 1, bgcolor: ink('second'), opacity: 1 },
          '& .MuiSlider-track': { height: 3, border: 0 },
          '& .MuiSlider-thumb': { width: 8, height: 18, borderRadius: '2px', boxShadow: 'none' },
        }}
      />
    </Box>
  );
}

function HeldTable({ held, currency }: { held: readonly ShownBuild[]; currency: string }) {
  return (
    <FigureTable
      heads={[
        'Build',
        currency === '' ? 'Cost' : currency,
        'A TB',
        'Usable',
        'Full on day',
        'Writes on at',
        { head: 'One gone', wideOnly: true },
        { head: 'Years', wideOnly: true },
        'To spare',
      ]}
      rows={held.map(({ key, explained }) => ({
        key,
        data: { 'data-held': key },
        cells: [
          <span
            key="name"
            title={explained.name}
            style={{ color: explained.constraint === null ? undefined : ink('breaks') }}
          >
            {explained.name}
          </span>,
          <b key="cost">{formatNumber(explained.cost, 'full')}</b>,
          formatNumber(explained.cost / (explained.usableBytes / 1e12)),
          bytesText(explained.usableBytes),
          orDash(explained.fullOnDay, String),
          orDash(explained.writeBytesPerSecond, rateText),
          explained.writeBytesPerSecond === null
            ? '–'
            : rateText(explained.writeBytesPerSecond * explained.degradedShare),
          explained.enduranceYears === null || !Number.isFinite(explained.enduranceYears)
            ? '–'
            : formatNumber(explained.enduranceYears),
          explained.constraint === null && Number.isFinite(explained.margin) ? formatShare(explained.margin) : '–',
        ],
      }))}
    />
  );
}
