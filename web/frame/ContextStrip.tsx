import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import LinearProgress from '@mui/material/LinearProgress';
import MenuItem from '@mui/material/MenuItem';
import type { ReactNode } from 'react';
import { useLocation, useMatch, useNavigate } from 'react-router';
import type { ActiveRun } from '#core/6-exchange/api/wire.ts';
import { recipeKindById } from '#core/3-jobs/recipes/registry.ts';
import { formatClock, formatShare } from '#core/1-ground/units/format.ts';
import { api } from '../api/client.ts';
import { mayChange } from '../api/session.ts';
import { MenuButton } from '../kit/MenuButton.tsx';
import { useContextStore } from '../state/context.ts';
import { projectAt, useLibrary } from '../state/library.ts';
import { stopListening, useListening } from '../state/listening.ts';
import { useLive } from '../state/live.ts';
import { editsOf, useSizingEdits } from '../state/sizing-edits.ts';
import { ink } from '../theme/tokens.ts';
import { Tip } from '../kit/Tip.tsx';
import { useAddDrive } from './add-drive.tsx';

/** A second thing that can be done with a line of a menu. */
const MENU_ACTION = {
  fontSize: 12.5,
  color: ink('second'),
  fontWeight: 400,
  textDecoration: 'underline',
  textUnderlineOffset: 3,
} as const;

const ONE_LINE = { overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' } as const;

const LOOKING_ON = 'Your token lets you look: nothing is measured from here, and what you try out is not kept.';

const HEADROOMS = [0, 0.1, 0.25, 0.5, 1];
const FILL_LIMITS = [0.7, 0.8, 0.9, 1];

/** The same slots in all places: drives, workload, the policy that matters here, and what is running. */
export function ContextStrip() {
  const { pathname } = useLocation();
  const isAt = (...paths: string[]) => paths.some((path) => pathname.startsWith(path));
  return (
    <Box
      component="header"
      sx={{
        height: 52,
        flex: 'none',
        display: 'flex',
        alignItems: 'center',
        px: 2.5,
        gap: 2.5,
        borderBottom: `1px solid ${ink('rule')}`,
        minWidth: 0,
      }}
    >
      <DrivesSlot />
      <Divider />
      <WorkloadSlot />
      <RunningSlot />
      <ListeningSlot />
      <Box sx={{ flex: 1 }} />
      {!mayChange() && (
        <Tip text={LOOKING_ON}>
          <Box tabIndex={0} sx={{ ...ONE_LINE, color: ink('second'), fontSize: 13.5, flex: 'none' }}>
            Looking on
          </Box>
        </Tip>
      )}
      {isAt('/fit', '/measure') && <HeadroomSlot />}
      {isAt('/sizing') && <FillLimitSlot />}
    </Box>
  );
}

function Divider() {
  return <Box sx={{ width: '1px', height: 22, bgcolor: ink('rule'), flex: 'none' }} />;
}

interface SlotProps {
  name: string;
  /** What it means, in a sentence. */
  help: string;
  /** Whether it keeps its width when others have to give way. */
  isFirm?: boolean;
  value: ReactNode;
  more?: string;
  children: (close: () => void) => ReactNode;
}

/** A slot of the strip: its name, its value, and a menu to change it. */
function Slot({ name, help, value, more, isFirm = false, children }: SlotProps) {
  return (
    <MenuButton help={help} isFirm={isFirm} items={children}>
      <span style={{ color: ink('second'), fontSize: 13, flex: 'none' }}>{name}</span>
      <Box
        component="span"
        sx={{
          ...ONE_LINE,
          fontWeight: 650,
          flex: '0 1 auto',
          minWidth: 44,
          maxWidth: 'max-content',
        }}
      >
        {value}
      </Box>
      {more !== undefined && (
        // What stands beside the value gives way first.
        <Box component="span" sx={{ ...ONE_LINE, color: ink('second'), fontSize: 13, flex: '0 9 auto', minWidth: 0 }}>
          {more}
        </Box>
      )}
    </MenuButton>
  );
}

function DrivesSlot() {
  const drives = useLibrary((state) => state.drives);
  const { driveIds, makeCurrent, toggleDrive, set } = useContextStore();
  const chosen = driveIds.map((id) => drives.find((drive) => drive.id === id)).filter((drive) => drive !== undefined);
  const [current, ...others] = chosen;
  const { add, sheet } = useAddDrive();
  return (
    <>
      <Slot
        name={chosen.length > 1 ? 'Drives' : 'Drive'}
        help="The drive that is shown, and those held beside it."
        value={current?.label ?? 'none yet'}
        {...(others.length > 0
          ? {
              more: `and ${others
                .map((drive) => drive.label)
                .slice(0, 2)
                .join(', ')}${others.length > 2 ? ` and ${others.length - 2} more` : ''}`,
            }
          : {})}
      >
        {(close) => [
          ...(drives.length === 0
            ? [
                <MenuItem key="none" disabled>
                  A drive gets its card with the first run on it.
                </MenuItem>,
              ]
            : drives.map((drive) => {
                const place = driveIds.indexOf(drive.id);
                return (
                  <MenuItem
                    key={drive.id}
                    selected={place === 0}
                    onClick={() => {
                      makeCurrent(drive.id);
                      set({ targetVolumeId: null });
                      close();
                    }}
                    sx={{ gap: 2, justifyContent: 'space-between' }}
                  >
                    <span>{drive.label}</span>
                    <ButtonBase
                      component="span"
                      onClick={(event) => {
                        event.stopPropagation();
                        toggleDrive(drive.id);
                      }}
                      sx={MENU_ACTION}
                    >
                      {place === 0 ? 'current' : place > 0 ? 'compared; remove' : 'compare'}
                    </ButtonBase>
                  </MenuItem>
                );
              })),
          <MenuItem
            key="add"
            onClick={() => {
              close();
              add();
            }}
          >
            Add a drive
          </MenuItem>,
        ]}
      </Slot>
      {sheet}
    </>
  );
}

function WorkloadSlot() {
  const workloads = useLibrary((state) => state.workloads);
  const { workloadId, set } = useContextStore();
  const current = workloads.find((workload) => workload.id === workloadId);
  return (
    <Slot
      name="Workload"
      help="The job whose data rates are drawn and judged, in all places."
      value={current?.name ?? 'none'}
      {...(current ? { more: current.items.length === 1 ? '1 item' : `${current.items.length} items` } : {})}
    >
      {(close) => [
        ...workloads.map((workload) => (
          <MenuItem
            key={workload.id}
            selected={workload.id === workloadId}
            onClick={() => {
              set({ workloadId: workload.id });
              close();
            }}
          >
            {workload.name}
            {workload.example && <span style={{ color: ink('second'), marginLeft: 10, fontSize: 12.5 }}>example</span>}
          </MenuItem>
        )),
        <MenuItem
          key="none"
          onClick={() => {
            set({ workloadId: null });
            close();
          }}
        >
          No workload
        </MenuItem>,
      ]}
    </Slot>
  );
}

function HeadroomSlot() {
  const { headroomShare, set } = useContextStore();
  return (
    <ShareSlot
      name="Headroom"
      help="What a drive must carry beyond the demand for Holds; with less to spare it is Tight."
      value={headroomShare}
      choices={HEADROOMS}
      onChoose={(share) => set({ headroomShare: share })}
    />
  );
}

/** How full the storage of the project in Sizing may get. */
function FillLimitSlot() {
  const projects = useLibrary((state) => state.projects);
  const id = useMatch('/sizing/:projectId')?.params.projectId;
  const edits = useSizingEdits();
  const project = projectAt(projects ?? [], id);
  if (!project) return null;
  return (
    <ShareSlot
      name="Filled at most"
      help="Drives and filesystems slow down when they are full: how much of a storage may be used."
      value={editsOf(edits, project.id).policy.fillLimit ?? project.plan.policy.fillLimit}
      choices={FILL_LIMITS}
      onChoose={(fillLimit) => edits.changePolicy(project.id, { fillLimit })}
    />
  );
}

interface ShareSlotProps {
  name: string;
  help: string;
  value: number;
  choices: readonly number[];
  onChoose: (share: number) => void;
}

/** A policy that is a share. */
function ShareSlot({ name, help, value, choices, onChoose }: ShareSlotProps) {
  return (
    <Slot isFirm name={name} help={help} value={formatShare(value)}>
      {(close) =>
        choices.map((share) => (
          <MenuItem
            key={share}
            selected={share === value}
            onClick={() => {
              onChoose(share);
              close();
            }}
          >
            {share === 0 ? 'none' : formatShare(share)}
          </MenuItem>
        ))
      }
    </Slot>
  );
}

function RunningSlot() {
  const { active, connected } = useLive();
  const navigate = useNavigate();
  const [first, ...rest] = active;
  if (!connected) {
    return (
      <>
        <Divider />
        <Box role="status" sx={{ color: ink('breaks'), fontSize: 13.5, whiteSpace: 'nowrap' }}>
          The server does not answer
        </Box>
      </>
    );
  }
  if (!first) return null;
  return (
    <>
      <Divider />
      <Slot
        name="Running"
        help="What is being measured, and what waits for its turn."
        value={<ProgressBar run={first} />}
        more={`${progressText(first)}${rest.length > 0 ? `, ${rest.length} more` : ''}`}
      >
        {(close) =>
          active.map((run) => (
            <MenuItem
              key={run.runId}
              onClick={() => {
                void navigate(`/measure/runs/${run.runId}`);
                close();
              }}
              sx={{ gap: 2, justifyContent: 'space-between' }}
            >
              <span>
                {recipeKindById(run.recipeId).label} on {run.driveLabel}
                {run.host !== null && `, at ${run.host}`}
                <span style={{ color: ink('second'), marginLeft: 10 }}>
                  {run.state === 'queued' ? 'waits until the device is free' : progressText(run)}
                </span>
              </span>
              {mayChange() && (
                <ButtonBase
                  component="span"
                  onClick={(event) => {
                    event.stopPropagation();
                    // A run that ended meanwhile needs no stopping.
                    void api.stopRun(run.runId).catch(() => undefined);
                  }}
                  sx={MENU_ACTION}
                >
                  {run.state === 'queued' ? 'do not start' : 'stop'}
                </ButtonBase>
              )}
            </MenuItem>
          ))
        }
      </Slot>
    </>
  );
}

/** A microphone that is open is told of in every place. */
function ListeningSlot() {
  const isOn = useListening(({ state }) => state === 'on');
  if (!isOn) return null;
  return (
    <>
      <Divider />
      <Tip text="The microphone is open. Levels are kept with the runs that go on meanwhile, the sound itself never.">
        <ButtonBase onClick={stopListening} sx={{ ...ONE_LINE, fontSize: 13.5, flex: 'none', gap: 1 }}>
          Listening <span style={MENU_ACTION}>stop</span>
        </ButtonBase>
      </Tip>
    </>
  );
}

function progressText({ state, progress }: ActiveRun): string {
  if (state === 'queued') return 'waiting';
  if (!progress) return 'starting';
  if (progress.paused) return 'held';
  const left =
    progress.remainingSeconds === null
      ? formatClock(progress.elapsedSeconds)
      : `${formatClock(progress.remainingSeconds)} left`;
  return left;
}

function ProgressBar({ run }: { run: ActiveRun }) {
  const share = run.progress?.share ?? null;
  return (
    <LinearProgress
      aria-label={`Run on ${run.driveLabel}`}
      {...(share === null ? {} : { variant: 'determinate', value: Math.round(share * 100) })}
      sx={{ display: 'inline-block', width: 96, verticalAlign: 'middle' }}
    />
  );
}
