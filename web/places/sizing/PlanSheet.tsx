import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMemo, useState } from 'react';
import type { FieldTexts } from '#core/fields/field.ts';
import { Problem } from '#core/problem.ts';
import type { Project } from '#core/sizing/project.ts';
import { SIZING_FIELDS, planTexts, readPlan } from '#core/sizing/sizing-form.ts';
import { api } from '../../api/client.ts';
import { FieldLines } from '../../kit/field-lines.tsx';
import { SideSheet } from '../../kit/SideSheet.tsx';
import { ProblemText } from '../../kit/words.tsx';
import { useLibrary } from '../../state/library.ts';
import { ink } from '../../theme/tokens.ts';

/** The plan of a project: what comes when, what there is to build with, and what a build must do. */
export default function PlanSheet({ project, onClose }: { project: Project; onClose: () => void }) {
  const [texts, setTexts] = useState<FieldTexts>(() => planTexts(project.plan));
  const [problem, setProblem] = useState<string>();
  const { plan, errors } = useMemo(() => readPlan(texts), [texts]);
  const keep = async () => {
    if (!plan) return;
    try {
      await api.saveProject({ ...project, plan });
      await useLibrary.getState().refresh();
      onClose();
    } catch (error) {
      setProblem(error instanceof Problem ? error.detail : String(error));
    }
  };
  return (
    <SideSheet
      title="Change the plan"
      onClose={onClose}
      actions={
        <>
          <Button variant="contained" disabled={plan === null} onClick={() => void keep()}>
            Keep
          </Button>
          <Typography variant="body2" sx={{ color: ink('second') }}>
            {plan === null ? 'Something above cannot be used yet.' : 'Drives and their prices are on their cards.'}
          </Typography>
        </>
      }
    >
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
      <FieldLines
        fields={SIZING_FIELDS}
        texts={texts}
        errors={errors}
        onTexts={(part) => setTexts((old) => ({ ...old, ...part }))}
      />
    </SideSheet>
  );
}
