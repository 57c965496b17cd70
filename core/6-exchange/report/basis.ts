import { itemBehind, type Item } from '#core/3-jobs/demand/items.ts';
import type { Workload } from '#core/3-jobs/demand/workload.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { supplyOf, type Profile, type Supply } from '#core/4-runs/supply/profile.ts';
import { summaryOf, type RunSummary } from '#core/4-runs/supply/run-summary.ts';
import type { Sizing } from '#core/5-answers/sizing/project.ts';
import { judgedItems, type JudgedItem } from '#core/5-answers/verdict/judge-workload.ts';
import type { Asked, Report, ReportPart } from '#core/6-exchange/report/report.ts';

/** A run with what it says, worked out once for all parts and all times that the report is laid out. */
export interface ReportedRun {
  run: RunDocument;
  summary: RunSummary;
}

/** A question with all verdicts on it. */
export interface JudgedQuestion extends Asked {
  workload: Workload;
  profile: Profile;
  supply: Supply;
  judged: JudgedItem[];
}

/** What the parts of a report are drawn from: its documents, and what follows from them. */
export interface ReportBasis {
  report: Report;
  run: (id: string) => ReportedRun;
  profile: (driveId: string) => Profile;
  supply: (driveId: string) => Supply;
  workload: (id: string) => Workload;
  item: (workloadId: string, itemId: string) => Item;
  sizing: (projectId: string) => Sizing;
  question: (askedId: string) => JudgedQuestion;
  /** Parts that are shown, in their order. */
  shown: readonly ReportPart[];
}

const summaries = new WeakMap<RunDocument, RunSummary>();
const supplies = new WeakMap<Profile, Supply>();

function summaryOnce(run: RunDocument): RunSummary {
  const summary = summaries.get(run) ?? summaryOf(run);
  summaries.set(run, summary);
  return summary;
}

function supplyOnce(profile: Profile): Supply {
  const supply = supplies.get(profile) ?? supplyOf(profile);
  supplies.set(profile, supply);
  return supply;
}

/** @param report whole: what its parts need is among its documents */
export function reportBasis(report: Report): ReportBasis {
  const { runs, profiles, workloads, sizings } = report.documents;
  const profile = (driveId: string) => profiles.find((one) => one.drive.id === driveId)!;
  const workload = (id: string) => workloads.find((one) => one.id === id)!;
  const questions = new Map<string, JudgedQuestion>();
  return {
    report,
    run(id) {
      const run = runs.find((one) => one.id === id)!;
      return { run, summary: summaryOnce(run) };
    },
    profile,
    supply: (driveId) => supplyOnce(profile(driveId)),
    workload,
    item: (workloadId, itemId) => itemBehind(workload(workloadId).items, itemId)!,
    sizing: (projectId) => sizings.find((one) => one.projectId === projectId)!.sizing,
    question(askedId) {
      const known = questions.get(askedId);
      if (known) return known;
      const asked = report.asked.find((one) => one.id === askedId)!;
      const [own, list] = [profile(asked.driveId), workload(asked.workloadId)];
      const supply = supplyOnce(own);
      const { headroomShare, roomBytes } = asked;
      const judged = judgedItems(list, supply, { headroomShare }, roomBytes);
      const question = { ...asked, workload: list, profile: own, supply, judged };
      questions.set(askedId, question);
      return question;
    },
    shown: report.parts.filter(({ isLeftOut }) => !isLeftOut),
  };
}

/** Its connection in a few words; empty where nothing is known of it. */
export const connectionText = ({ connection }: Pick<RunDocument, 'connection'>): string =>
  connection.hops.map(({ label }) => label).join(', ');

const METHODS: Record<RunDocument['conditions']['ioMode'], string> = {
  direct: 'past the system’s cache',
  buffered: 'through the system’s cache',
  memory: 'in memory, where nothing reached a drive',
  simulated: 'on a simulated drive',
  unknown: 'in a way that is not known',
};

/** How requests reached the drive, as the end of a sentence. */
export const methodText = ({ conditions }: Pick<RunDocument, 'conditions'>): string => METHODS[conditions.ioMode];
