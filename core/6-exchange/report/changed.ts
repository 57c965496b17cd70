import { canonical } from '#core/1-ground/schema/canonical.ts';
import { supplyOf, type Profile } from '#core/4-runs/supply/profile.ts';
import type { Workload } from '#core/3-jobs/demand/workload.ts';
import type { Project } from '#core/5-answers/sizing/project.ts';
import { planOfSizing } from '#core/5-answers/sizing/project.ts';
import { answerOf } from '#core/5-answers/verdict/answer.ts';
import { judgeItem, judgedItems } from '#core/5-answers/verdict/judge-workload.ts';
import { verdictName, type Verdict } from '#core/5-answers/verdict/verdict.ts';
import { itemBehind, type Item } from '#core/3-jobs/demand/items.ts';
import { longDay } from '#core/1-ground/units/format.ts';
import { reportBasis, type ReportBasis } from '#core/6-exchange/report/basis.ts';
import type { Report, ReportPart } from '#core/6-exchange/report/report.ts';

/** What is kept now of what a report was made from. */
export interface KeptNow {
  /** Ids of runs that are kept, and whether they are left out of what their drive testifies. */
  runs: ReadonlyMap<string, { isLeftOut: boolean }>;
  /** Of each drive that is known here. */
  profiles: ReadonlyMap<string, Profile>;
  workloads: ReadonlyMap<string, Workload>;
  projects: ReadonlyMap<string, Project>;
}

/**
 * What is not any more as a report tells it, a sentence for each part that is concerned: runs that were deleted, newer
 * ones that contradict, workloads and plans that were changed. The report itself stays as it was written.
 */
export function changesSince(report: Report, now: KeptNow): Map<string, string[]> {
  const basis = reportBasis(report);
  const found = new Map<string, string[]>();
  for (const part of report.parts) {
    const changes = changesOf(part, basis, now);
    if (changes.length > 0) found.set(part.id, changes);
  }
  return found;
}

function changesOf(part: ReportPart, basis: ReportBasis, now: KeptNow): string[] {
  switch (part.kind) {
    case 'run':
    case 'copy':
      return runChanges(part.runId, now);
    case 'answer':
    case 'verdicts':
      return questionChanges(part.askedId, basis, now);
    case 'series':
    case 'load':
      return itemChanges(part, basis, now);
    case 'comparison':
      return part.driveIds.flatMap((driveId) => newerRuns(basis.profile(driveId), now.profiles.get(driveId)));
    case 'build':
      return buildChanges(part.projectId, basis, now);
    case 'not-proven':
    case 'conditions':
      return [];
  }
}

function runChanges(runId: string, { runs }: KeptNow): string[] {
  const kept = runs.get(runId);
  if (!kept) return ['This run is not among those that are kept here. The report still holds it.'];
  return kept.isLeftOut ? ['This run was left out of what its drive testifies since.'] : [];
}

/** Runs of a drive that the report did not know, in a sentence. */
function newerRuns(then: Profile, now: Profile | undefined): string[] {
  if (!now) return [];
  const known = new Set(then.runs.map(({ runId }) => runId));
  const newer = now.runs.filter(({ runId }) => !known.has(runId));
  const [first] = newer;
  if (!first) return [];
  return [
    newer.length === 1
      ? `${then.drive.label} was measured again on ${longDay(first.startedAt)}.`
      : `${then.drive.label} was measured ${newer.length} times more, last on ${longDay(first.startedAt)}.`,
  ];
}

function questionChanges(askedId: string, basis: ReportBasis, now: KeptNow): string[] {
  const { workload, profile, judged, headroomShare, roomBytes, driveId, workloadId } = basis.question(askedId);
  const [workloadNow, profileNow] = [now.workloads.get(workloadId), now.profiles.get(driveId)];
  const isOther = workloadNow !== undefined && canonical(workloadNow.items) !== canonical(workload.items);
  const newer = newerRuns(profile, profileNow);
  const changes = [...(isOther ? [`The workload ${workload.name} was changed since.`] : []), ...newer];
  if (changes.length === 0 || judged.length === 0) return changes;
  const again = judgedItems(workloadNow ?? workload, supplyOf(profileNow ?? profile), { headroomShare }, roomBytes);
  return [...changes, ...contradiction(answerOf(judged), again.length === 0 ? null : answerOf(again))];
}

type Said = Pick<Verdict, 'verdict' | 'isPromise'>;

const contradiction = (then: Said, today: Said | null): string[] =>
  today === null || today.verdict === then.verdict
    ? []
    : [`By what is kept now the answer is ${verdictName(today)}, and not ${verdictName(then)} as here.`];

function itemChanges(
  { workloadId, itemId, headroomShare, drives }: Extract<ReportPart, { kind: 'series' | 'load' }>,
  basis: ReportBasis,
  now: KeptNow,
): string[] {
  const workload = basis.workload(workloadId);
  const workloadNow = now.workloads.get(workloadId) ?? workload;
  const [item, itemNow] = [basis.item(workloadId, itemId), itemBehind(workloadNow.items, itemId)];
  if (!itemNow) return [`${item.name} is not in the workload ${workload.name} any more.`];
  const isOther = canonical(item) !== canonical(itemNow);
  return [
    ...(isOther ? [`${item.name} was changed since.`] : []),
    ...drives.flatMap(({ driveId, roomBytes }) => {
      const [then, today] = [basis.profile(driveId), now.profiles.get(driveId) ?? basis.profile(driveId)];
      const newer = newerRuns(then, today);
      if (newer.length === 0 && !isOther) return [];
      const word = (one: Item, profile: Profile) =>
        judgeItem(one, supplyOf(profile), { headroomShare }, roomBytes)[0]!.verdict;
      const changed = contradiction(word(item, then), word(itemNow, today));
      return [...newer, ...changed.map((sentence) => `${then.drive.label}: ${sentence}`)];
    }),
  ];
}

function buildChanges(projectId: string, basis: ReportBasis, { projects }: KeptNow): string[] {
  const sizing = basis.sizing(projectId);
  const project = projects.get(projectId);
  if (!project) return [`The project ${sizing.name} is not among those that are kept here.`];
  const { choice, ...then } = planOfSizing(sizing);
  const { choice: choiceNow, ...today } = project.plan;
  void [choice, choiceNow];
  return canonical(then) === canonical(today) ? [] : [`The plan of ${sizing.name} is another now.`];
}
