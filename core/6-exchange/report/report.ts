import { array, boolean, number, object, string, type InferType, type ObjectSchema } from 'yup';
import { badInput } from '#core/1-ground/problem.ts';
import { requireVersion } from '#core/1-ground/schema/document-kind.ts';
import { oneOfKinds } from '#core/1-ground/schema/one-of-kinds.ts';
import { kindSchema } from '#core/3-jobs/demand/item-kind.ts';
import { parseDocument } from '#core/1-ground/schema/parse-document.ts';
import { itemBehind } from '#core/3-jobs/demand/items.ts';
import { parseWorkload, workloadSchema } from '#core/3-jobs/demand/workload.ts';
import { parseRunDocument, runDocumentSchema } from '#core/4-runs/run/run-document.ts';
import { parseProfile, profileSchema } from '#core/4-runs/supply/profile.ts';
import { parseBuildCode } from '#core/5-answers/sizing/builds.ts';
import { parseSizing, sizingSchema } from '#core/5-answers/sizing/project.ts';
import { STORES } from '#core/5-answers/sizing/stores.ts';

/**
 * A report: what was found out, in the order in which it is told, with the documents that it is drawn from. Everything
 * on its pages is computed from these documents, so that whoever has the file can judge anew. The JSON Schema is
 * docs/formats/report.schema.json.
 */
export const REPORT_VERSION = 'report/1';

export const PAPERS = ['a4', 'letter'] as const;
export type Paper = (typeof PAPERS)[number];

const id = () => string().required().max(80);
const share = () => number().min(0).required();
/** Free bytes less the reserve; null where the drive was not attached. */
const roomBytes = () => number().min(0).nullable().defined();

/** A question that was asked: a workload held against what was known of a drive. */
const askedSchema = object({
  id: id(),
  question: string().required().max(300),
  workloadId: id(),
  driveId: id(),
  headroomShare: share(),
  roomBytes: roomBytes(),
});
export type Asked = InferType<typeof askedSchema>;

const part = <Kind extends string>(kind: Kind) =>
  object({
    kind: kindSchema(kind),
    id: id(),
    /** What whoever writes the report adds under the part. */
    remark: string().defined().max(4000),
    isLeftOut: boolean().required(),
  });
const ofAsked = { askedId: id() };
const ofItem = {
  workloadId: id(),
  itemId: id(),
  headroomShare: share(),
  /** Drives that it is worked through on. */
  drives: array(object({ driveId: id(), roomBytes: roomBytes() }).required())
    .min(1)
    .max(8)
    .required(),
};

/** Every kind of part. */
const PART_SCHEMAS = {
  /** The question with its answer in one sentence. */
  answer: part('answer').shape(ofAsked),
  /** One run: what was measured, how, its picture and what it says. */
  run: part('run').shape({ runId: id() }),
  /** What the answer leaves open, and the runs that would prove it. */
  'not-proven': part('not-proven').shape(ofAsked),
  /** The verdict on each item. */
  verdicts: part('verdicts').shape(ofAsked),
  /** Conditions and doubts of all runs in the report. */
  conditions: part('conditions'),
  /** Drives beside each other. */
  comparison: part('comparison').shape({ driveIds: array(id()).min(2).max(8).required() }),
  /** A copy that was carried out. */
  copy: part('copy').shape({ runId: id() }),
  /** A cache series on some drives. */
  series: part('series').shape(ofItem),
  /** A load on some drives. */
  load: part('load').shape(ofItem),
  /** A build of a project, with what has to be bought. */
  build: part('build').shape({
    projectId: id(),
    store: string().oneOf(STORES).required(),
    /** As in addresses: 0.7.single-parity.1.2.0. */
    code: string().required().max(120),
  }),
} as const satisfies Record<string, ObjectSchema<{ kind: string; id: string }>>;

export type PartKind = keyof typeof PART_SCHEMAS;
export type PartOf<Kind extends PartKind> = InferType<(typeof PART_SCHEMAS)[Kind]>;
export type ReportPart = { [Kind in PartKind]: PartOf<Kind> }[PartKind];

const partSchema = oneOfKinds<ReportPart>(Object.entries(PART_SCHEMAS));

export const reportDateSchema = () =>
  string()
    .matches(/^\d{4}-\d\d-\d\d$/, 'date: is no date such as 2026-03-12')
    .required();

/** What a report is without the documents that it is drawn from: what a person writes and arranges. */
export const reportOutlineSchema = object({
  id: id(),
  title: string().defined().max(200),
  /** Who wrote it, or for which firm. */
  byWhom: string().defined().max(200),
  forWhom: string().defined().max(200),
  /** Its day, as 2026-03-12. */
  date: reportDateSchema(),
  paper: string().oneOf(PAPERS).required(),
  /** Paths, names of machines, serial numbers and notes are left out of what is made of it. */
  isPrivate: boolean().required(),
  example: boolean().required(),
  asked: array(askedSchema.required()).max(20).required(),
  parts: array(partSchema).max(60).required(),
});
export type ReportOutline = InferType<typeof reportOutlineSchema>;

/** The documents that a report is drawn from, as they were when they were put into it. */
export const reportDocumentsSchema = object({
  runs: array(runDocumentSchema.required()).max(60).required(),
  /** One for each drive. */
  profiles: array(profileSchema.required()).max(60).required(),
  workloads: array(workloadSchema.required()).max(60).required(),
  sizings: array(object({ projectId: id(), sizing: sizingSchema.required() }).required())
    .max(20)
    .required(),
});
export type ReportDocuments = InferType<typeof reportDocumentsSchema>;

export const reportSchema = reportOutlineSchema.shape({
  tavrox: string()
    .oneOf([REPORT_VERSION] as const)
    .required(),
  documents: reportDocumentsSchema.required(),
});
export type Report = InferType<typeof reportSchema>;

/** A report of its two halves, and these of a report. */
export const reportFrom = (outline: ReportOutline, documents: ReportDocuments): Report => ({
  tavrox: REPORT_VERSION,
  ...outline,
  documents,
});

export function halvesOf({ tavrox, documents, ...outline }: Report): {
  outline: ReportOutline;
  documents: ReportDocuments;
} {
  void tavrox;
  return { outline, documents };
}

export const noDocuments = (): ReportDocuments => ({ runs: [], profiles: [], workloads: [], sizings: [] });

/**
 * A report from outside; what earlier versions of the documents in it lacked is filled in.
 * @throws Problem `bad-input` that names the first fault, a document that a part needs and that is not there among them
 */
export function parseReport(input: unknown, where = 'report'): Report {
  requireVersion(input, REPORT_VERSION, where);
  const { documents, ...outline } = parseDocument(reportSchema, input, where);
  const report: Report = {
    ...outline,
    documents: {
      runs: documents.runs.map((one, index) => parseRunDocument(one, `${where}: run ${index + 1}`)),
      profiles: documents.profiles.map(parseProfile),
      workloads: documents.workloads.map(parseWorkload),
      sizings: documents.sizings.map(({ projectId, sizing }) => ({ projectId, sizing: parseSizing(sizing) })),
    },
  };
  report.parts.forEach((one, index) => {
    const missing = missingFor(one, report);
    if (missing !== null) {
      throw badInput(where, `${where}: part ${index + 1} needs ${missing}, which is not among its documents.`);
    }
  });
  return report;
}

/** What a part needs and the report lacks, in words; null where it is whole. */
export function missingFor(part: ReportPart, { asked, documents }: Pick<Report, 'asked' | 'documents'>): string | null {
  const { runs, profiles, workloads, sizings } = documents;
  const run = (runId: string) => (runs.some((one) => one.id === runId) ? null : `the run ${runId}`);
  const drive = (driveId: string) =>
    profiles.some((one) => one.drive.id === driveId) ? null : `the profile of drive ${driveId}`;
  const workload = (workloadId: string) =>
    workloads.some((one) => one.id === workloadId) ? null : `the workload ${workloadId}`;
  switch (part.kind) {
    case 'answer':
    case 'not-proven':
    case 'verdicts': {
      const question = asked.find((one) => one.id === part.askedId);
      return question ? (workload(question.workloadId) ?? drive(question.driveId)) : `the question ${part.askedId}`;
    }
    case 'run':
      return run(part.runId);
    case 'copy':
      return run(part.runId) ?? (runs.find((one) => one.id === part.runId)?.copy ? null : `a copy in ${part.runId}`);
    case 'comparison':
      return part.driveIds.map(drive).find((one) => one !== null) ?? null;
    case 'series':
    case 'load': {
      const list = workloads.find((one) => one.id === part.workloadId);
      if (!list) return workload(part.workloadId);
      const item = itemBehind(list.items, part.itemId);
      if (item?.kind !== part.kind) return `the item ${part.itemId} of ${list.name}`;
      return part.drives.map(({ driveId }) => drive(driveId)).find((one) => one !== null) ?? null;
    }
    case 'build': {
      const project = sizings.find((one) => one.projectId === part.projectId);
      if (!project) return `the project ${part.projectId}`;
      parseBuildCode(part.code, project.sizing);
      return null;
    }
    case 'conditions':
      return null;
  }
}

/** Ids of the documents that parts need. */
export interface NeededDocuments {
  runs: Set<string>;
  drives: Set<string>;
  workloads: Set<string>;
  projects: Set<string>;
}

/** What the parts of a report need, and nothing else. */
export function neededBy({ parts, asked }: Pick<Report, 'parts' | 'asked'>): NeededDocuments {
  const needed: NeededDocuments = { runs: new Set(), drives: new Set(), workloads: new Set(), projects: new Set() };
  for (const part of parts) {
    if ('runId' in part) needed.runs.add(part.runId);
    if ('projectId' in part) needed.projects.add(part.projectId);
    if ('workloadId' in part) needed.workloads.add(part.workloadId);
    if ('driveIds' in part) part.driveIds.forEach((one) => needed.drives.add(one));
    if ('drives' in part) part.drives.forEach(({ driveId }) => needed.drives.add(driveId));
    const question = 'askedId' in part ? asked.find((one) => one.id === part.askedId) : undefined;
    if (question) {
      needed.drives.add(question.driveId);
      needed.workloads.add(question.workloadId);
    }
  }
  return needed;
}

/** A report without the questions and documents that none of its parts needs. */
export function withoutUnneeded(report: Report): Report {
  const needed = neededBy(report);
  const { runs, profiles, workloads, sizings } = report.documents;
  const questions = new Set(report.parts.flatMap((part) => ('askedId' in part ? [part.askedId] : [])));
  return {
    ...report,
    asked: report.asked.filter(({ id: one }) => questions.has(one)),
    documents: {
      runs: runs.filter((one) => needed.runs.has(one.id)),
      profiles: profiles.filter((one) => needed.drives.has(one.drive.id)),
      workloads: workloads.filter((one) => needed.workloads.has(one.id)),
      sizings: sizings.filter((one) => needed.projects.has(one.projectId)),
    },
  };
}

/** Kinds of documents in a report. */
export type ReportDocumentKind = keyof ReportDocuments;

/** One document of a report with its kind and its id there. */
export interface ReportDocument {
  kind: ReportDocumentKind;
  id: string;
  document: object;
}

/** All documents of a report in one list. */
export const listedDocuments = ({ runs, profiles, workloads, sizings }: ReportDocuments): ReportDocument[] => [
  ...runs.map((document) => ({ kind: 'runs' as const, id: document.id, document })),
  ...profiles.map((document) => ({ kind: 'profiles' as const, id: document.drive.id, document })),
  ...workloads.map((document) => ({ kind: 'workloads' as const, id: document.id, document })),
  ...sizings.map(({ projectId, sizing }) => ({ kind: 'sizings' as const, id: projectId, document: sizing })),
];

/** Documents from such a list. They are taken as they are: what comes from outside goes through parseReport. */
export function documentsFrom(list: readonly ReportDocument[]): ReportDocuments {
  const of = <T>(kind: ReportDocumentKind): T[] =>
    list.filter((one) => one.kind === kind).map(({ document }) => document as T);
  return {
    runs: of('runs'),
    profiles: of('profiles'),
    workloads: of('workloads'),
    sizings: list
      .filter(({ kind }) => kind === 'sizings')
      .map(({ id: projectId, document }) => ({
        projectId,
        sizing: document as ReportDocuments['sizings'][number]['sizing'],
      })),
  };
}
