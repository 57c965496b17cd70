import Button from '@mui/material/Button';
import { badInput } from '#core/1-ground/problem.ts';
import type { FieldTexts } from '#core/1-ground/fields/field.ts';
import type { Project } from '#core/5-answers/sizing/project.ts';
import type { Workload } from '#core/3-jobs/demand/workload.ts';
import { materialLinesOf } from '#core/5-answers/sizing/from-workload.ts';
import { SIZING_FIELDS, WHAT, planTexts, readPlan } from '#core/5-answers/sizing/sizing-form.ts';
import { KeptFieldsSheet } from '../../kit/KeptFieldsSheet.tsx';
import { useWorkload } from '../../state/judged.ts';
import { saveProject } from '../../state/project-edits.ts';

const read = (texts: FieldTexts) => {
  const { plan, errors } = readPlan(texts);
  return { kept: plan, errors };
};

interface PlanSheetProps {
  /** With what was changed of it and is not kept yet. */
  project: Project;
  onKept: () => void;
  onClose: () => void;
}

/** The plan of a project: what comes when, what there is to build with, and what a build must do. */
export default function PlanSheet({ project, onKept, onClose }: PlanSheetProps) {
  const workload = useWorkload();
  return (
    <KeptFieldsSheet
      title="Change the plan"
      fields={SIZING_FIELDS}
      start={() => planTexts(project.plan)}
      read={read}
      onKeep={async (plan) => {
        const { problem } = await saveProject({ ...project, plan });
        if (problem !== undefined) throw badInput('project', problem);
        onKept();
      }}
      onClose={onClose}
      after={(group, texts, onTexts) =>
        group === WHAT && workload ? (
          <FromWorkload workload={workload} texts={texts} days={project.plan.days} onTexts={onTexts} />
        ) : null
      }
      hint="Drives and their prices are on their cards."
    />
  );
}

interface FromWorkloadProps {
  workload: Workload;
  texts: FieldTexts;
  days: number;
  onTexts: (part: FieldTexts) => void;
}

/** Adds what the chosen workload leaves to the lines of material, to be gone over. */
function FromWorkload({ workload, texts, days, onTexts }: FromWorkloadProps) {
  const add = () => {
    const { plan } = readPlan({ ...texts, materials: 'any: 1 B, day 1' });
    const lines = materialLinesOf(workload, plan?.phases ?? [], plan?.days ?? days);
    onTexts({ materials: [texts.materials?.trim() ?? '', ...lines].filter(Boolean).join('\n') });
  };
  return (
    <Button variant="outlined" onClick={add} sx={{ mt: 1 }}>
      {`Add what ${workload.name} leaves`}
    </Button>
  );
}
