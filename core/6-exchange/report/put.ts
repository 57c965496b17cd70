import { array, number, object, string, type InferType } from 'yup';
import { placeFor } from '#core/6-exchange/report/parts/registry.ts';
import type { ReportOutline, ReportPart } from '#core/6-exchange/report/report.ts';
import { sizingSchema } from '#core/5-answers/sizing/project.ts';
import { STORES } from '#core/5-answers/sizing/stores.ts';
import { oneOfKinds } from '#core/1-ground/schema/one-of-kinds.ts';
import { kindSchema } from '#core/3-jobs/demand/item-kind.ts';

/** What can be put into a report from where it is shown. */

const id = () => string().required().max(80);
const room = () => number().min(0).nullable().defined();
const drives = () =>
  array(object({ driveId: id(), roomBytes: room() }).required())
    .min(1)
    .max(8)
    .required();

const PUT_SCHEMAS = {
  /** A workload held against a drive: question and answer, what was measured, what is open, every verdict. */
  question: object({
    kind: kindSchema('question'),
    question: string().required().max(300),
    workloadId: id(),
    driveId: id(),
    headroomShare: number().min(0).required(),
    roomBytes: room(),
  }),
  /** A run, or a copy where it was one. */
  run: object({ kind: kindSchema('run'), runId: id() }),
  comparison: object({ kind: kindSchema('comparison'), driveIds: array(id()).min(2).max(8).required() }),
  item: object({
    kind: kindSchema('item'),
    workloadId: id(),
    itemId: id(),
    headroomShare: number().min(0).required(),
    drives: drives(),
  }),
  build: object({
    kind: kindSchema('build'),
    projectId: id(),
    store: string().oneOf(STORES).required(),
    code: string().required().max(120),
    /** The plan as it is shown, with the drives themselves. */
    sizing: sizingSchema.required(),
  }),
} as const;

export type Put = {
  [Kind in keyof typeof PUT_SCHEMAS]: InferType<(typeof PUT_SCHEMAS)[Kind]>;
}[keyof typeof PUT_SCHEMAS];

export const putSchema = oneOfKinds<Put>(Object.entries(PUT_SCHEMAS), PUT_SCHEMAS.run);

/** What is known of something that is put in, beside what whoever asks says of it. */
export interface PutFacts {
  /** Of a question: the run that its answer rests on; null where it rests on none. */
  runId: string | null;
  /** Of a run: whether it was a copy. */
  isCopy: boolean;
  /** Of an item of a workload. */
  itemKind: 'series' | 'load';
}

/** A report that nothing was put into yet. */
export const newOutline = (reportId: string, date: string): ReportOutline => ({
  id: reportId,
  title: '',
  byWhom: '',
  forWhom: '',
  date,
  paper: 'a4',
  isPrivate: true,
  example: false,
  asked: [],
  parts: [],
});

/**
 * A report with something put into it, each of its parts where a technical note has it. What is in it already is there
 * once: a question that is put in again is asked anew.
 * @param newId makes ids of parts
 */
export function withPut(outline: ReportOutline, put: Put, facts: PutFacts, newId: () => string): ReportOutline {
  const common = () => ({ id: newId(), remark: '', isLeftOut: false });
  switch (put.kind) {
    case 'question': {
      const { question, workloadId, driveId, headroomShare, roomBytes } = put;
      const known = outline.asked.find((one) => one.workloadId === workloadId && one.driveId === driveId);
      const asked = {
        id: known?.id ?? newId(),
        question: known?.question ?? question,
        workloadId,
        driveId,
        headroomShare,
        roomBytes,
      };
      const others = outline.asked.filter((one) => one !== known);
      const parts: ReportPart[] = [
        { kind: 'answer', ...common(), askedId: asked.id },
        ...(facts.runId === null ? [] : [{ kind: 'run' as const, ...common(), runId: facts.runId }]),
        { kind: 'not-proven', ...common(), askedId: asked.id },
        { kind: 'verdicts', ...common(), askedId: asked.id },
        { kind: 'conditions', ...common() },
      ];
      return withParts({ ...outline, asked: [...others, asked] }, parts);
    }
    case 'run': {
      const { runId } = put;
      return withParts(outline, [
        facts.isCopy ? { kind: 'copy', ...common(), runId } : { kind: 'run', ...common(), runId },
        { kind: 'conditions', ...common() },
      ]);
    }
    case 'comparison':
      return withParts(outline, [{ kind: 'comparison', ...common(), driveIds: put.driveIds }]);
    case 'item': {
      const { workloadId, itemId, headroomShare, drives: on } = put;
      return withParts(outline, [{ kind: facts.itemKind, ...common(), workloadId, itemId, headroomShare, drives: on }]);
    }
    case 'build': {
      const { projectId, store, code } = put;
      return withParts(outline, [{ kind: 'build', ...common(), projectId, store, code }]);
    }
  }
}

function withParts(outline: ReportOutline, more: readonly ReportPart[]): ReportOutline {
  let { parts } = outline;
  for (const part of more) {
    const known = parts.find((one) => sameSubject(one, part));
    if (known) {
      // What was left out and is put in again is meant to be shown.
      const again = { ...part, id: known.id, remark: known.remark };
      parts = parts.map((one) => (one === known ? again : one));
    } else {
      const at = placeFor(part.kind, parts);
      parts = [...parts.slice(0, at), part, ...parts.slice(at)];
    }
  }
  return { ...outline, parts };
}

/** Whether two parts tell of the same thing. */
function sameSubject(one: ReportPart, other: ReportPart): boolean {
  if (one.kind !== other.kind) return false;
  switch (one.kind) {
    case 'answer':
    case 'not-proven':
    case 'verdicts':
      return one.askedId === (other as typeof one).askedId;
    case 'run':
    case 'copy':
      return one.runId === (other as typeof one).runId;
    case 'comparison':
      return [...one.driveIds].sort().join(' ') === [...(other as typeof one).driveIds].sort().join(' ');
    case 'series':
    case 'load':
      return one.workloadId === (other as typeof one).workloadId && one.itemId === (other as typeof one).itemId;
    case 'build':
      return one.projectId === (other as typeof one).projectId && one.store === (other as typeof one).store;
    case 'conditions':
      return true;
  }
}
