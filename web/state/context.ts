import { create } from 'zustand';
import { persist } from 'zustand/middleware';
import type { Workload } from '#core/3-jobs/demand/workload.ts';
import { FIRST_QUESTION, type QuestionTexts } from '#core/5-answers/ask/question-texts.ts';

/** What a question is about: a volume, or a drive that is not attached, by its card. */
export type AskedOn = { volumeId: string } | { cardId: string };

/** What is chosen in the context strip: it holds in all places and survives a reload. */
export interface Context {
  /** Chosen drives; the first is the current one, on which Measure runs. */
  driveIds: string[];
  workloadId: string | null;
  headroomShare: number;
  /** Volume that Measure runs on; it may have no card yet. */
  targetVolumeId: string | null;
  /** Folder last chosen on each volume. */
  folders: Record<string, string>;
  /** What the next run does, and the options last used with each recipe. */
  recipeId: string;
  recipeOptions: Record<string, object>;
  /** Runs held for a comparison. */
  pinnedRunIds: string[];
  /** The report that things are put into. */
  reportId: string | null;
  /** x axis of traces. */
  traceAxis: 'bytes' | 'seconds';
  /** What was asked last, as typed. */
  question: QuestionTexts;
  /** The question that was asked last, whole, and the run that is to decide it where one was needed. */
  asked: { workload: Workload; on: AskedOn; runId: string | null } | null;
  /** Whether the whole of the chosen workload is asked about, and not the question's own words. */
  asksWorkload: boolean;
}

interface ContextActions {
  set: (change: Partial<Context>) => void;
  /** Makes a drive the current one; the others stay chosen beside it. */
  makeCurrent: (driveId: string) => void;
  toggleDrive: (driveId: string) => void;
  /** Holds a run for a comparison, or lets it go; of more than eight the first goes. */
  togglePinned: (runId: string) => void;
  setFolder: (volumeId: string, folder: string) => void;
}

const MOST_PINNED = 8;

export const useContextStore = create<Context & ContextActions>()(
  persist(
    (set) => ({
      driveIds: [],
      workloadId: null,
      headroomShare: 0.25,
      targetVolumeId: null,
      folders: {},
      recipeId: 'short-passes',
      recipeOptions: {},
      pinnedRunIds: [],
      reportId: null,
      traceAxis: 'bytes',
      question: FIRST_QUESTION,
      asksWorkload: false,
      asked: null,
      set: (change) => set(change),
      makeCurrent: (driveId) =>
        set(({ driveIds }) => ({ driveIds: [driveId, ...driveIds.filter((one) => one !== driveId)] })),
      toggleDrive: (driveId) =>
        set(({ driveIds }) => ({
          driveIds: driveIds.includes(driveId) ? driveIds.filter((one) => one !== driveId) : [...driveIds, driveId],
        })),
      togglePinned: (runId) =>
        set(({ pinnedRunIds }) => ({
          pinnedRunIds: pinnedRunIds.includes(runId)
            ? pinnedRunIds.filter((one) => one !== runId)
            : [...pinnedRunIds, runId].slice(-MOST_PINNED),
        })),
      setFolder: (volumeId, folder) => set(({ folders }) => ({ folders: { ...folders, [volumeId]: folder } })),
    }),
    {
      name: 'tavrox-context',
      version: 3,
      // What was asked before the card of a drive could be asked is put away.
      migrate: (kept) => ({ ...(kept as Context & ContextActions), asked: null }),
      // A question that was kept before it had a part takes that part as it is at first.
      merge: (kept, now) => {
        const before = (kept ?? {}) as Partial<Context>;
        return { ...now, ...before, question: { ...now.question, ...before.question } };
      },
    },
  ),
);
