import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { Suspense, lazy, useEffect, useRef, useState } from 'react';
import { redirect, useLocation, useNavigate, useParams, useSearchParams, type LoaderFunctionArgs } from 'react-router';
import { constraintWords } from '#core/5-answers/sizing/explain.ts';
import { fillTimeline, materialsOn, type Material } from '#core/5-answers/sizing/material.ts';
import type { Project, Sizing } from '#core/5-answers/sizing/project.ts';
import { STORE_WORDS, type StoreId } from '#core/5-answers/sizing/stores.ts';
import { formatNumber, formatShare } from '#core/1-ground/units/format.ts';
import { useAddDrive } from '../../frame/add-drive.tsx';
import { PlaceLayout } from '../../frame/PlaceLayout.tsx';
import { useShortcuts } from '../../frame/shortcuts.ts';
import { Choice } from '../../kit/Choice.tsx';
import { EmptyPlace, ProblemText } from '../../kit/words.tsx';
import { useSizing } from '../../sizing/use-sizing.ts';
import type { SizingFound } from '../../sizing/sizing-worker.ts';
import { useWorkload } from '../../state/judged.ts';
import { useLastProject } from '../../state/last-project.ts';
import { ensureLists, loaderOf, projectAt, useLibrary } from '../../state/library.ts';
import { FIRST_PROJECT, saveProject } from '../../state/project-edits.ts';
import { saveWorkload } from '../../state/workload-edits.ts';
import { BuildColumn } from './BuildColumn.tsx';
import { HeldTable } from './HeldTable.tsx';
import { ProjectTitle } from './ProjectTitle.tsx';
import { useChosenBuilds, type ChosenBuilds, type Shown } from './use-chosen-builds.ts';
import { useEditedSizing } from './use-edited-sizing.ts';
import { CostPicture, FillPicture } from '../../pictures/pictures.tsx';

const PlanSheet = lazy(() => import('./PlanSheet.tsx'));

const loadProject = loaderOf('projects', 'projectId', 'project');

/** The project is always in the address: without one it is the one looked at last, as it was looked at, else the first. */
export async function loader({ params, request }: LoaderFunctionArgs): Promise<Response | null> {
  await ensureLists();
  if (params['projectId'] !== undefined) return loadProject({ params });
  const { projects } = useLibrary.getState();
  const { search } = new URL(request.url);
  const last = useLastProject.getState();
  const known = projects.find(({ id }) => id === last.projectId);
  if (known) return redirect(`/sizing/${encodeURIComponent(known.id)}${search || last.search}`);
  return projects[0] ? redirect(`/sizing/${encodeURIComponent(projects[0].id)}${search}`) : null;
}

/** Sizing: how much, how fast, in which layout, until when, for what money. */
export function Component() {
  const { projectId } = useParams();
  const projects = useLibrary((state) => state.projects);
  const addressed = projectAt(projects ?? [], projectId);
  if (projectId !== undefined && !addressed) {
    return (
      <PlaceLayout>
        <EmptyPlace title="This project is not here">It was deleted meanwhile, here or in another window.</EmptyPlace>
      </PlaceLayout>
    );
  }
  const project = addressed ?? FIRST_PROJECT;
  return <ProjectSizing key={project.id} project={project} />;
}

function ProjectSizing({ project }: { project: Project }) {
  const edited = useEditedSizing(project);
  const { sizing } = edited;
  const search = useSizing(sizing);
  const chosen = useChosenBuilds(search);
  const workload = useWorkload();
  const [params, setParams] = useSearchParams();
  const { projectId } = useParams();
  const navigate = useNavigate();
  const { search: address } = useLocation();
  useEffect(() => {
    // An open sheet is not come back to.
    const looked = new URLSearchParams(address);
    looked.delete('plan');
    const left = looked.toString();
    // What cannot be shown is not come back to.
    const isShown = search.problem === undefined && left !== '';
    if (projectId !== undefined) useLastProject.setState({ projectId, search: isShown ? `?${left}` : '' });
  }, [projectId, address, search.problem]);
  const keptId = useRef<string | null>(null);
  const isEditing = params.get('plan') === 'open';
  const edit = (open: boolean) =>
    setParams(
      (old) => {
        const next = new URLSearchParams(old);
        if (open) next.set('plan', 'open');
        else next.delete('plan');
        return next;
      },
      { replace: true },
    );
  const [problem, setProblem] = useState<string>();
  const { add, sheet: addSheet } = useAddDrive();
  useShortcuts((key) => {
    if (key === 'p') chosen.togglePinned();
  });
  /** What a move changed of the workload goes with the plan. */
  const keepWorkload = async () => {
    const { changedWorkload } = edited;
    if (changedWorkload) setProblem(await saveWorkload(changedWorkload));
  };
  const keepChanges = async () => {
    const { problem: fault } = await saveProject(edited.edited);
    setProblem(fault);
    if (fault !== undefined) return;
    await keepWorkload();
    edited.discard();
  };
  const title = <ProjectTitle project={project} onProblem={setProblem} />;
  const sheet = (
    <Suspense>
      {isEditing && (
        <PlanSheet
          project={edited.edited}
          kept={project}
          drives={edited.carded}
          onKept={(id) => {
            void keepWorkload();
            edited.discard();
            keptId.current = id;
          }}
          onClose={() => {
            // A project that was none before, or a copy of one, has an address of its own.
            const id = keptId.current;
            if (id !== null && id !== projectId) void navigate(`/sizing/${encodeURIComponent(id)}`);
            else edit(false);
          }}
        />
      )}
    </Suspense>
  );
  const fault = problem ?? edited.problem ?? search.problem;

  if (edited.isReady && !edited.hasDrives) {
    return (
      <PlaceLayout>
        <EmptyPlace
          title="No drive has a price yet"
          action={
            <Box sx={{ display: 'flex', gap: 1 }}>
              <Button variant="contained" onClick={add}>
                Add a drive
              </Button>
              <Button variant="outlined" onClick={() => edit(true)}>
                Change the plan
              </Button>
            </Box>
          }
        >
          Which drives, how many, in which layout, until when and for what money will be here. Add a drive as it stands
          on its box, with its price; or give one that was measured its price on its card in Drives.
        </EmptyPlace>
        {sheet}
        {addSheet}
      </PlaceLayout>
    );
  }
  const { found } = search;
  return (
    <>
      <PlaceLayout
        column={<BuildColumn project={project} edited={edited} search={search} chosen={chosen} />}
        actions={
          <Box sx={{ display: 'flex', flexDirection: 'column', gap: 1 }}>
            {edited.isChanged && (
              <Box sx={{ display: 'flex', gap: 1 }}>
                <Button variant="outlined" sx={{ flex: 1 }} onClick={() => void keepChanges()}>
                  Keep these
                </Button>
                <Button variant="text" sx={{ flex: 1 }} onClick={edited.discard}>
                  As planned
                </Button>
              </Box>
            )}
            <Button variant="contained" fullWidth onClick={() => edit(true)}>
              Change the plan
            </Button>
          </Box>
        }
      >
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 2, flex: 'none', minWidth: 0, mb: 0.5 }}>
          {title}
          <Choice
            label="What is shown"
            value={chosen.view}
            options={[
              ['days', 'Over the days'],
              ['cost', 'Cost and margin'],
            ]}
            onChange={(view) => chosen.show({ view: view as ChosenBuilds['view'] })}
          />
        </Box>
        {fault !== undefined && <ProblemText>{fault}</ProblemText>}
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 2, flex: 'none', minHeight: 32, minWidth: 0 }}>
          <Typography
            variant="body2"
            role="status"
            aria-busy={search.isSearching || !edited.isReady}
            noWrap
            color="textSecondary"
            sx={{ flex: 1, minWidth: 0 }}
          >
            {sizing === null && edited.isReady
              ? 'Nothing can be searched.'
              : statusText(found, search.isSearching, chosen, workload?.name)}
          </Typography>
          <StoreChoice found={found} chosen={chosen} />
        </Box>
        {found && sizing && chosen.view === 'days' && (
          <FillView sizing={sizing} chosen={chosen} onMaterial={edited.changeMaterial} />
        )}
        {found && sizing && chosen.view === 'cost' && <CostView sizing={sizing} found={found} chosen={chosen} />}
        {found && sizing && (
          <HeldTable
            held={chosen.held}
            selected={chosen.shown === 'together' ? undefined : chosen.selected?.code}
            sizing={sizing}
            onSelect={chosen.shown === 'together' ? null : chosen.choose}
          />
        )}
      </PlaceLayout>
      {sheet}
    </>
  );
}

function StoreChoice({ found, chosen }: { found: SizingFound | undefined; chosen: ChosenBuilds }) {
  if (!found || found.stores.length < 2) return null;
  const stores = found.stores.map(({ store }): [string, string] => [store, STORE_WORDS[store]]);
  return (
    <Choice
      label="Which storage"
      value={chosen.shown}
      options={[...stores, ...(chosen.view === 'cost' ? [['together', 'Together'] as const] : [])]}
      onChange={(shown) => chosen.show({ shown: shown as Shown })}
    />
  );
}

function statusText(
  found: SizingFound | undefined,
  isSearching: boolean,
  { shown, store }: ChosenBuilds,
  workloadName: string | undefined,
): string {
  if (!found || !store) return isSearching ? 'Searching the builds.' : 'Reading what is known of the drives.';
  const again = isSearching ? (found.share < 1 ? ` ${formatShare(found.share)} searched.` : ' Searching again.') : '';
  if (shown === 'together') {
    const { length } = found.sets;
    return length === 0
      ? `No builds of all stores together do what is asked.${again}`
      : `${length} efficient ways to build all stores together.${again}`;
  }
  const { builds, feasible } = store.result;
  const what =
    shown !== 'working'
      ? 'room and a day’s copies'
      : workloadName === undefined
        ? 'room alone'
        : `room and ${workloadName}`;
  return feasible === 0
    ? `None of ${formatNumber(builds, 'full')} builds does what is asked for ${what}.${again}`
    : `${formatNumber(feasible, 'full')} of ${formatNumber(builds, 'full')} builds do what is asked for ${what}.${again}`;
}

interface FillViewProps {
  sizing: Sizing;
  chosen: ChosenBuilds;
  onMaterial: (material: number, change: Partial<Material>) => void;
}

/** What lies on the chosen store over the days; what is moved there changes the plan's material. */
function FillView({ sizing, chosen, onMaterial }: FillViewProps) {
  const store: StoreId = chosen.shown === 'together' ? 'working' : chosen.shown;
  // Places in the plan's list of what lies on this store.
  const places = sizing.materials.flatMap((one, index) =>
    materialsOn(store, [one]).map((material) => ({ index, material })),
  );
  const materials = places.map(({ material }) => material);
  return (
    <FillPicture
      materials={materials}
      phases={sizing.phases}
      units={sizing.units}
      startsOn={sizing.startsOn}
      timeline={fillTimeline(materials, sizing.days, sizing.policy.growthShare)}
      lines={chosen.held.map(({ code, explained }) => ({
        key: code,
        label: explained.drivesText,
        more: explained.aroundText,
        usableBytes: explained.usableBytes,
        fullOnDay: explained.fullOnDay,
      }))}
      selected={chosen.selected?.code ?? null}
      onSelect={chosen.choose}
      onKeep={(place, keepDays) => {
        const { index } = places[place]!;
        const { elsewhere } = sizing.materials[index]!;
        if (store === 'working') onMaterial(index, { keepDays });
        else
          onMaterial(index, { elsewhere: elsewhere.map((one) => (one.store === store ? { store, keepDays } : one)) });
      }}
      onDays={(place, days) => onMaterial(places[place]!.index, { ...days, during: null })}
    />
  );
}

function CostView({ sizing, found, chosen }: { sizing: Sizing; found: SizingFound; chosen: ChosenBuilds }) {
  const { store, shown, selected } = chosen;
  if (!store) return null;
  if (shown === 'together') {
    const picked = chosen.chosen.map(({ build }) => build?.code ?? '');
    return (
      <CostPicture
        what="ways to build all stores"
        sample={[]}
        front={found.sets.map(({ codes, cost, margin }) => ({
          key: codes.join(' '),
          label: `${formatNumber(cost, 'full')} ${sizing.currency}, all stores`.trim(),
          cost,
          margin,
        }))}
        ruledOut={[]}
        currency={sizing.currency}
        selected={picked.join(' ')}
        onSelect={(key) => chosen.chooseSet(key.split(' '))}
      />
    );
  }
  return (
    <CostPicture
      what="builds"
      sample={store.sample.map(({ code, cost, margin }) => ({ key: code, cost, margin }))}
      front={store.front.map(({ code, explained }) => ({
        key: code,
        label: explained.name,
        cost: explained.cost,
        margin: explained.margin,
      }))}
      ruledOut={store.tempting.map(({ code, constraint, explained }) => ({
        key: code,
        label: `${explained.name}: it ${constraintWords(constraint, store, sizing.policy)}`,
        cost: explained.cost,
      }))}
      currency={sizing.currency}
      selected={selected?.code ?? null}
      onSelect={chosen.choose}
    />
  );
}
