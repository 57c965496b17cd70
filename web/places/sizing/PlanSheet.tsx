import type { FieldTexts } from '#core/fields/field.ts';
import type { Project } from '#core/sizing/project.ts';
import { SIZING_FIELDS, planTexts, readPlan } from '#core/sizing/sizing-form.ts';
import { api } from '../../api/client.ts';
import { KeptFieldsSheet } from '../../kit/KeptFieldsSheet.tsx';
import { useLibrary } from '../../state/library.ts';

const read = (texts: FieldTexts) => {
  const { plan, errors } = readPlan(texts);
  return { kept: plan, errors };
};

/** The plan of a project: what comes when, what there is to build with, and what a build must do. */
export default function PlanSheet({ project, onClose }: { project: Project; onClose: () => void }) {
  return (
    <KeptFieldsSheet
      title="Change the plan"
      fields={SIZING_FIELDS}
      start={() => planTexts(project.plan)}
      read={read}
      onKeep={async (plan) => {
        await api.saveProject({ ...project, plan });
        await useLibrary.getState().refresh();
      }}
      onClose={onClose}
      hint="Drives and their prices are on their cards."
    />
  );
}
