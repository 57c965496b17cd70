import { create } from 'zustand';
import type { ActiveRun } from '#core/6-exchange/api/wire.ts';
import type { Problem } from '#core/1-ground/problem.ts';
import { energyMean, LEAST_BEFORE_SECONDS, thinned, type Loudness } from '#core/4-runs/run/loudness.ts';
import { api } from '../api/client.ts';
import type { Microphone, openMicrophone } from '../sound/microphone.ts';
import { useLive } from './live.ts';

/** What the microphone hears: levels of the last minutes, by the page's own clock. */
interface Listening {
  state: 'off' | 'asking' | 'on';
  microphone: string;
  /** The mean of the last two seconds, decibels against full scale; null before it is known. */
  level: number | null;
  /** Whether the room was heard for so long that a run which begins now can be told from it. */
  isRoomKnown: boolean;
  /** Makes sound pressure levels of them; null until a known level is typed. */
  offsetDecibels: number | null;
  problem: string | null;
  /** What was heard last of a run, as far as it is; null where it was forgotten. */
  heard: { runId: string; loudness: Loudness | null } | null;
}

export const useListening = create<Listening>()(() => ({
  state: 'off',
  microphone: '',
  level: null,
  isRoomKnown: false,
  offsetDecibels: null,
  problem: null,
  heard: null,
}));

/** How long before a run still goes with it, and how long after its end, seconds. */
const BEFORE_SECONDS = 60;
const AFTER_SECONDS = 2;
/** Levels that the one on show is the mean of, about two seconds; what is heard of a run is drawn as often. */
const SHOWN_LEVELS = 4;
/** Levels until what was heard of a run is kept with it on its way, about a minute: a page may be closed. */
const KEPT_LEVELS = 120;

interface Row {
  /** When it ended, seconds by the page's clock. */
  at: number;
  level: number;
}

interface Followed {
  /** When it began, seconds by the page's clock; known by what it told soonest. */
  beganAt: number;
  isAlone: boolean;
  /** It has ended; what was heard of it is held until that is kept. */
  isOver: boolean;
}

let rows: Row[] = [];
let microphone: Microphone | null = null;
let unfollow: (() => void) | null = null;
const followed = new Map<string, Followed>();

const now = (): number => performance.now() / 1000;

/** The part that speaks to the browser is loaded when it is first asked for. */
const openLoaded: typeof openMicrophone = async (tell, lost) =>
  (await import('../sound/microphone.ts')).openMicrophone(tell, lost);

/**
 * Opens the microphone, and keeps what is heard with each run that goes on meanwhile.
 * @param open given by tests
 */
export async function startListening(open = openLoaded): Promise<void> {
  useListening.setState({ state: 'asking', problem: null, level: null, isRoomKnown: false });
  /** From the audio's clock to the page's: what arrives soonest was least delayed. */
  let shift = Infinity;
  try {
    microphone = await open(({ atSeconds, decibels }) => {
      shift = Math.min(shift, now() - atSeconds);
      rows.push({ at: atSeconds + shift, level: decibels });
      if (followed.size === 0) rows = rows.filter(({ at }) => at > now() - BEFORE_SECONDS);
      else if (rows.length % KEPT_LEVELS === 0) for (const [runId, run] of followed) void keep(runId, run);
      else if (rows.length % SHOWN_LEVELS === 0) for (const [runId, run] of followed) show(runId, run);
      useListening.setState({
        level: energyMean(rows.slice(-SHOWN_LEVELS).map(({ level }) => level)),
        // One level more: what begins before the run's first moment and ends after it counts for neither.
        isRoomKnown:
          microphone !== null &&
          followed.size === 0 &&
          (rows.length - 1) * microphone.stepSeconds >= LEAST_BEFORE_SECONDS,
      });
    }, stopListening);
  } catch (error) {
    useListening.setState({ state: 'off', problem: (error as Problem).detail });
    return;
  }
  follow(useLive.getState().active);
  unfollow = useLive.subscribe(({ active }) => follow(active));
  useListening.setState({ state: 'on', microphone: microphone.name });
}

/** Closes it; what was heard of a run so far is kept with it. */
export function stopListening(): void {
  for (const [runId, run] of followed) void keep(runId, run);
  unfollow?.();
  microphone?.close();
  [microphone, unfollow, rows] = [null, null, []];
  followed.clear();
  useListening.setState({ state: 'off', level: null, isRoomKnown: false });
}

/** The level now is known: what a meter beside the microphone shows, dB(A). */
export function calibrate(knownDecibels: number): void {
  const { level } = useListening.getState();
  if (level !== null) useListening.setState({ offsetDecibels: knownDecibels - level });
}

function follow(active: readonly ActiveRun[]): void {
  // Those of other machines are not in this room.
  const here = active.filter(({ host, state }) => host === null && state === 'running');
  for (const { runId, progress } of here) {
    const known = followed.get(runId);
    const beganAt = progress ? now() - progress.elapsedSeconds : Infinity;
    const isAlone = here.length === 1 && (known?.isAlone ?? true);
    followed.set(runId, { beganAt: Math.min(beganAt, known?.beganAt ?? Infinity), isAlone, isOver: false });
  }
  for (const [runId, run] of followed) {
    if (run.isOver || here.some((one) => one.runId === runId)) continue;
    run.isOver = true;
    void keep(runId, run, AFTER_SECONDS).finally(() => followed.delete(runId));
  }
}

/** What was heard of a run so far, and shown with it; null where nothing can be said. */
function show(runId: string, { beganAt, isAlone }: Followed): Loudness | null {
  // Of two at once nobody knows which was heard.
  if (!isAlone || microphone === null || !Number.isFinite(beganAt)) return null;
  const lately = rows.filter(({ at }) => at > beganAt - BEFORE_SECONDS);
  const loudness = loudnessOf(lately, beganAt, microphone.stepSeconds);
  if (loudness !== null) keptLoudness(runId, loudness);
  return loudness;
}

/** Keeps with a run what was heard of it. @param waitSeconds for what its end sounds like */
async function keep(runId: string, run: Followed, waitSeconds = 0): Promise<void> {
  if (waitSeconds > 0) await new Promise((resolve) => setTimeout(resolve, waitSeconds * 1000));
  const loudness = show(runId, run);
  if (loudness === null) return;
  try {
    await api.annotateRun(runId, { loudness });
  } catch (error) {
    useListening.setState({ problem: (error as Problem).detail });
  }
}

/** Shows with a run what is kept of it now. */
export const keptLoudness = (runId: string, loudness: Loudness | null): void =>
  useListening.setState({ heard: { runId, loudness } });

/** Rows on an even grid of steps since a run began. */
function loudnessOf(heard: readonly Row[], beganAt: number, stepSeconds: number): Loudness | null {
  const [first] = heard;
  if (!first) return null;
  const levels: (number | null)[] = [];
  for (const { at, level } of heard) {
    const place = Math.max(levels.length, Math.round((at - first.at) / stepSeconds));
    while (levels.length < place) levels.push(null);
    levels.push(Math.round(level * 100) / 100);
  }
  const { offsetDecibels } = useListening.getState();
  return thinned({ fromSeconds: first.at - stepSeconds - beganAt, stepSeconds, levels, offsetDecibels });
}
