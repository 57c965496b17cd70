import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { Suspense, lazy, useEffect, useMemo, useRef, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { demandsOf, isFootage, itemBehind, type Item } from '#core/3-jobs/demand/items.ts';
import { parseWorkload, type Workload } from '#core/3-jobs/demand/workload.ts';
import { PlaceLayout } from '../../frame/PlaceLayout.tsx';
import { FileInput } from '../../kit/FileInput.tsx';
import { notTaken, readDocument } from '../../kit/read-document.ts';
import { saveJson } from '../../kit/save-json.ts';
import { EmptyPlace, ProblemText } from '../../kit/words.tsx';
import { useContextStore } from '../../state/context.ts';
import { useWorkload } from '../../state/judged.ts';
import { loaderOf, useLibrary } from '../../state/library.ts';
import {
  adoptWorkload,
  copyWorkload,
  createWorkload,
  moved,
  newItemId,
  removeWorkload,
  saveWorkload,
  withItem,
} from '../../state/workload-edits.ts';
import { ink } from '../../theme/tokens.ts';
import { useComparedDrives } from '../../state/drive-supplies.ts';
import { Choice } from '../../kit/Choice.tsx';
import { ADDABLE, itemViewOf } from './items/registry.tsx';
import { WorkloadColumn } from './WorkloadColumn.tsx';
import { PlaceTitle } from '../../kit/Tip.tsx';
import { DemandLanes } from '../../pictures/pictures.tsx';

const NameSheet = lazy(() => import('./NameSheet.tsx'));

export const loader = loaderOf('workloads', 'workloadId', 'workload');

/** Workloads: what the job asks for, item by item, drawn as it is edited. */
export function Component() {
  useLinkedWorkload();
  const workloads = useLibrary((state) => state.workloads);
  const workload = useWorkload();
  const [selected, setSelected] = useState<string | null>(null);
  const [sheet, setSheet] = useState<{ kind: Item['kind']; item: Item | null } | 'name' | null>(null);
  const [shown, setShown] = useState<'item' | 'all'>('item');
  const [selectedDrive, setSelectedDrive] = useState<string | null>(null);
  const [problem, setProblem] = useState<string>();
  const attempt = (outcome: Promise<string | undefined>) => void outcome.then(setProblem);
  const compared = useComparedDrives();
  const demands = useMemo(() => workload?.items.flatMap(demandsOf) ?? [], [workload]);

  if (!workload) {
    return (
      <PlaceLayout>
        <EmptyPlace
          title={workloads.length === 0 ? 'No workload yet' : 'No workload is chosen'}
          action={
            <Button variant="contained" onClick={() => attempt(createWorkload())}>
              New workload
            </Button>
          }
        >
          A workload lists what a job asks of its drives: footage that is recorded and played, caches that a simulation
          writes, games and tools that load. Its demand is drawn here, and held against your drives in Fit.
        </EmptyPlace>
      </PlaceLayout>
    );
  }
  const item = workload.items.find((one) => one.id === selected) ?? workload.items[0];
  const view = item && itemViewOf(item.kind);
  const change = (items: Item[]) => attempt(saveWorkload({ ...workload, items }));

  return (
    <PlaceLayout
      column={
        <WorkloadColumn
          workload={workload}
          item={item}
          drives={compared.drives}
          selectedDrive={selectedDrive}
          onDrive={setSelectedDrive}
          onEdit={() => item && setSheet({ kind: item.kind, item })}
          onCopy={() => {
            if (!item) return;
            const copy = { ...item, id: newItemId(), name: `${item.name.slice(0, 110)}, copy` };
            const at = workload.items.indexOf(item);
            change([...workload.items.slice(0, at + 1), copy, ...workload.items.slice(at + 1)]);
            setSelected(copy.id);
          }}
          onMove={(by) => item && change(moved(workload.items, workload.items.indexOf(item), by))}
          onDelete={() => item && change(workload.items.filter((one) => one !== item))}
          onProblem={setProblem}
        />
      }
      actions={
        <>
          <Typography variant="caption" component="h3" color="textSecondary">
            Add to this workload
          </Typography>
          <Box sx={{ display: 'flex', gap: 1, mt: 0.75, alignItems: 'center' }}>
            {ADDABLE.map(({ kind, addText }, index) => (
              <Button
                key={kind}
                variant={index === 0 ? 'contained' : 'outlined'}
                aria-label={`Add ${addText.toLowerCase()}`}
                sx={{ px: 1.5, whiteSpace: 'nowrap', flex: index === 0 ? 1 : 'none' }}
                onClick={() => setSheet({ kind, item: null })}
              >
                {addText}
              </Button>
            ))}
          </Box>
        </>
      }
    >
      <Header workload={workload} onRename={() => setSheet('name')} attempt={attempt} onProblem={setProblem} />
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
      {demands.length === 0 ? (
        <EmptyPlace
          isPart
          title="This workload asks for nothing yet"
          action={
            <Button variant="outlined" onClick={() => setSheet({ kind: 'footage', item: null })}>
              Add its first footage
            </Button>
          }
        >
          Footage: name a format and how many streams of it are recorded or played, or drop a clip, an image sequence or
          a timeline. A cache series: what a simulation writes. A load: what a game or a tool reads. What each comes to
          is drawn here, and held against your drives.
        </EmptyPlace>
      ) : (
        <>
          {item && view?.picture && workload.items.length > 1 && (
            <Box sx={{ flex: 'none', mt: 0.5, mb: 0.75 }}>
              <Choice
                label="What is shown"
                value={shown}
                options={[
                  ['item', item.name.length > 40 ? `${item.name.slice(0, 40)}…` : item.name],
                  ['all', `All ${workload.items.length} items`],
                ]}
                onChange={(next) => setShown(next as 'item' | 'all')}
              />
            </Box>
          )}
          {compared.problem && <ProblemText>{compared.problem.detail}</ProblemText>}
          {item && view?.picture && (shown === 'item' || workload.items.length === 1) ? (
            <Suspense fallback={null}>
              {view.picture({ item, drives: compared.drives, selectedDrive, onDrive: setSelectedDrive })}
            </Suspense>
          ) : (
            <DemandLanes
              demands={demands}
              together={new Set(workload.items.filter((one) => isFootage(one) && one.together).map((one) => one.id))}
              selected={item?.id ?? null}
              onSelect={(id) => {
                const chosen = itemBehind(workload.items, id);
                if (chosen === undefined) return;
                if (chosen === item) setSheet({ kind: chosen.kind, item: chosen });
                else setSelected(chosen.id);
              }}
            />
          )}
        </>
      )}
      <Suspense fallback={null}>
        {sheet === 'name' && (
          <NameSheet
            workload={workload}
            onClose={() => setSheet(null)}
            onSave={(next) => {
              setSheet(null);
              attempt(saveWorkload(next));
            }}
          />
        )}
        {sheet !== null &&
          sheet !== 'name' &&
          itemViewOf(sheet.kind).sheet({
            item: sheet.item,
            onClose: () => setSheet(null),
            onSave: (next) => {
              setSheet(null);
              setSelected(next.id);
              attempt(saveWorkload(withItem(workload, next)));
            },
          })}
      </Suspense>
    </PlaceLayout>
  );
}

/** The workload that an address names is the chosen one, and the address follows the choice. */
function useLinkedWorkload(): void {
  const { workloadId: linked } = useParams();
  const navigate = useNavigate();
  const { workloadId, set } = useContextStore();
  const workloads = useLibrary((state) => state.workloads);
  const [opened] = useState(linked);
  useEffect(() => {
    if (opened !== undefined) set({ workloadId: opened });
  }, [opened, set]);
  useEffect(() => {
    const known = workloads.some((one) => one.id === workloadId);
    if (!known && workloads[0]) set({ workloadId: workloads[0].id });
    else if (known && linked !== workloadId) void navigate(`/workloads/${workloadId}`, { replace: true });
  }, [workloads, workloadId, linked, set, navigate]);
}

interface HeaderProps {
  workload: Workload;
  onRename: () => void;
  attempt: (outcome: Promise<string | undefined>) => void;
  onProblem: (problem: string | undefined) => void;
}

/** Its name, and what can be done with all of it. */
function Header({ workload, onRename, attempt, onProblem }: HeaderProps) {
  const [asked, setAsked] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const read = async (chosen: File) => {
    try {
      attempt(adoptWorkload(parseWorkload(await readDocument(chosen))));
    } catch (error) {
      onProblem(notTaken(chosen, error));
    }
  };
  const actions: [string, () => void][] = [
    ['Rename', onRename],
    ['Copy', () => attempt(copyWorkload(workload))],
    ['New', () => attempt(createWorkload())],
    ['Export', () => saveJson(workload.name, 'workload', workload)],
  ];
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'baseline', columnGap: 1, flex: 'none', minWidth: 0 }}>
      <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1, flex: '1 1 220px', minWidth: 0 }}>
        <PlaceTitle name={workload.name} />
        {workload.example && (
          <span style={{ color: ink('second'), fontSize: 13, whiteSpace: 'nowrap' }}>an example</span>
        )}
      </Box>
      {actions.map(([name, act]) => (
        <Button key={name} variant="text" onClick={act} sx={HEADER_BUTTON}>
          {name}
        </Button>
      ))}
      <Button variant="text" onClick={() => file.current?.click()} sx={HEADER_BUTTON}>
        Import
      </Button>
      <Button
        variant="text"
        onBlur={() => setAsked(false)}
        onClick={() => {
          if (asked) attempt(removeWorkload(workload));
          setAsked(!asked);
        }}
        sx={{ ...HEADER_BUTTON, ...(asked ? { color: ink('breaks') } : {}) }}
      >
        {asked ? 'Delete for good' : 'Delete'}
      </Button>
      <FileInput label="Workload file" input={file} onFile={(chosen) => void read(chosen)} />
    </Box>
  );
}

const HEADER_BUTTON = { fontSize: 13.5, minWidth: 0, px: 0.75, color: ink('second'), flex: 'none' } as const;
