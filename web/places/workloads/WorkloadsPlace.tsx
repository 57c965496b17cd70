import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { Suspense, lazy, useEffect, useMemo, useRef, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { demandOf } from '#core/demand/footage-demand.ts';
import { parseWorkload, type FootageItem, type Workload } from '#core/demand/workload.ts';
import { Problem } from '#core/problem.ts';
import { PlaceLayout } from '../../frame/PlaceLayout.tsx';
import { saveJson } from '../../kit/save-json.ts';
import { EmptyPlace, ProblemText } from '../../kit/words.tsx';
import { DemandLanes } from '../../pictures/DemandLanes.tsx';
import { useContextStore } from '../../state/context.ts';
import { useWorkload } from '../../state/judged.ts';
import { useLibrary } from '../../state/library.ts';
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
import { WorkloadColumn } from './WorkloadColumn.tsx';

const ItemSheet = lazy(() => import('./ItemSheet.tsx'));
const NameSheet = lazy(() => import('./NameSheet.tsx'));

/** Workloads: what the job asks for, item by item, drawn as it is edited. */
export function Component() {
  useLinkedWorkload();
  const workloads = useLibrary((state) => state.workloads);
  const workload = useWorkload();
  const [selected, setSelected] = useState<string | null>(null);
  const [sheet, setSheet] = useState<{ item: FootageItem | null } | 'name' | null>(null);
  const [problem, setProblem] = useState<string>();
  const attempt = (outcome: Promise<string | undefined>) => void outcome.then(setProblem);
  const demands = useMemo(() => workload?.items.map(demandOf) ?? [], [workload]);

  if (workloads !== undefined && !workload) {
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
          A workload lists what a job records and plays: formats, streams, takes and buffers. Its demand is drawn here,
          and held against your drives in Fit.
        </EmptyPlace>
      </PlaceLayout>
    );
  }
  if (!workload) return <PlaceLayout>{null}</PlaceLayout>;
  const item = workload.items.find((one) => one.id === selected) ?? workload.items[0];
  const change = (items: FootageItem[]) => attempt(saveWorkload({ ...workload, items }));

  return (
    <PlaceLayout
      column={
        <WorkloadColumn
          workload={workload}
          item={item}
          onEdit={() => item && setSheet({ item })}
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
        <Button variant="contained" fullWidth onClick={() => setSheet({ item: null })}>
          Add footage
        </Button>
      }
    >
      <Header workload={workload} onRename={() => setSheet('name')} attempt={attempt} onProblem={setProblem} />
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
      {demands.length === 0 ? (
        <EmptyPlace
          isPart
          title="This workload asks for nothing yet"
          action={
            <Button variant="outlined" onClick={() => setSheet({ item: null })}>
              Add its first footage
            </Button>
          }
        >
          Name a format and how many streams of it are recorded or played, or drop a clip, an image sequence or a
          timeline. What that comes to is drawn here, in MB/s, Gb/s and TB an hour.
        </EmptyPlace>
      ) : (
        <DemandLanes
          demands={demands}
          together={new Set(workload.items.filter((one) => one.together).map((one) => one.id))}
          selected={item?.id ?? null}
          onSelect={(id) => {
            if (id === item?.id) setSheet({ item });
            else setSelected(id);
          }}
        />
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
        {sheet !== null && sheet !== 'name' && (
          <ItemSheet
            item={sheet.item}
            onClose={() => setSheet(null)}
            onSave={(next) => {
              setSheet(null);
              setSelected(next.id);
              attempt(saveWorkload(withItem(workload, next)));
            }}
          />
        )}
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
    if (workloads === undefined) return;
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
      if (chosen.size > LARGEST_IMPORT_BYTES) throw new Problem('bad-input', 'That file is larger than 20 MB.');
      attempt(adoptWorkload(parseWorkload(JSON.parse(await chosen.text()))));
    } catch (error) {
      const detail = error instanceof Problem ? error.detail : `it is not JSON: ${(error as Error).message}.`;
      onProblem(`${chosen.name} was not taken: ${detail}`);
    }
  };
  const actions: [string, () => void][] = [
    ['Rename', onRename],
    ['Copy', () => attempt(copyWorkload(workload))],
    ['New', () => attempt(createWorkload())],
    ['Export', () => saveJson(workload.name, 'workload', workload)],
  ];
  return (
    <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1, flex: 'none', minWidth: 0 }}>
      <Typography variant="h1" noWrap title={workload.name} sx={{ minWidth: 0 }}>
        {workload.name}
      </Typography>
      {workload.example && <span style={{ color: ink('second'), fontSize: 13, whiteSpace: 'nowrap' }}>an example</span>}
      <Box sx={{ flex: 1 }} />
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
      <input
        ref={file}
        type="file"
        accept=".json,application/json"
        aria-label="Workload file"
        hidden
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          event.target.value = '';
          if (chosen) void read(chosen);
        }}
      />
    </Box>
  );
}

const LARGEST_IMPORT_BYTES = 20e6;
const HEADER_BUTTON = { fontSize: 13.5, minWidth: 0, px: 0.75, color: ink('second'), flex: 'none' } as const;
