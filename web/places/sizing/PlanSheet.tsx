import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useCallback, useState } from 'react';
import { badInput } from '#core/1-ground/problem.ts';
import type { FieldTexts } from '#core/1-ground/fields/field.ts';
import type { Project, SizingPlan } from '#core/5-answers/sizing/project.ts';
import type { Workload } from '#core/3-jobs/demand/workload.ts';
import type { CardedDrive } from '#core/5-answers/sizing/drive-of-card.ts';
import { planAnswers, type LineAnswer } from '#core/5-answers/sizing/plan-answers.ts';
import { materialLinesOf } from '#core/5-answers/sizing/from-workload.ts';
import { SIZING_FIELDS, WHAT } from '#core/5-answers/sizing/sizing-fields.ts';
import { planDifferences, planTexts, readPlan } from '#core/5-answers/sizing/sizing-form.ts';
import { useAddDrive } from '../../frame/add-drive.tsx';
import { KeptFieldsSheet } from '../../kit/KeptFieldsSheet.tsx';
import { useWorkload } from '../../state/judged.ts';
import { copyProject, saveProject, type Kept } from '../../state/project-edits.ts';

interface PlanSheetProps {
  /** With what was changed of it and is not kept yet. */
  project: Project;
  /** Drives that have a card. */
  drives: readonly CardedDrive[];
  /** As it is kept, by others too. */
  kept: Project;
  onKept: (id: string) => void;
  onClose: () => void;
}

/** The plan of a project: what comes when, what there is to build with, and what a build must do. */
export default function PlanSheet({ project, kept, drives, onKept, onClose }: PlanSheetProps) {
  const workload = useWorkload();
  const { add, sheet } = useAddDrive();
  const read = useCallback(
    (texts: FieldTexts) => {
      const { plan, errors } = readPlan(texts, drives);
      return { kept: plan, errors };
    },
    [drives],
  );
  // What this sheet shows is this version, whatever others keep meanwhile.
  const [version] = useState(project.version);
  const [isConflict, setConflict] = useState(false);
  const keepAs = async (texts: FieldTexts, keeping: (plan: SizingPlan) => Promise<Kept>) => {
    const { plan } = readPlan(texts);
    const { id } = plan ? await keeping(plan) : {};
    if (id === undefined) return;
    onKept(id);
    onClose();
  };
  return (
    <>
      <KeptFieldsSheet
        title="Change the plan"
        fields={SIZING_FIELDS}
        start={() => planTexts(project.plan)}
        read={read}
        onKeep={async (plan) => {
          const { id, problem, isConflict } = await saveProject({ ...project, plan, version });
          setConflict(isConflict ?? false);
          if (problem !== undefined) throw badInput('project', problem);
          onKept(id);
        }}
        onClose={onClose}
        after={(group, texts, onTexts) =>
          group === WHAT && workload ? (
            <FromWorkload workload={workload} texts={texts} days={project.plan.days} onTexts={onTexts} />
          ) : null
        }
        below={(texts, onTexts) => {
          const answers = planAnswers(texts, drives);
          return (option) => (
            <Below
              option={option}
              text={texts[option] ?? ''}
              answers={answers[option] ?? []}
              onText={(text) => onTexts({ [option]: text })}
              onAddDrive={add}
            />
          );
        }}
        afterProblem={(texts) =>
          isConflict && (
            <Conflict
              theirs={planTexts(kept.plan)}
              mine={texts}
              onCopy={() => void keepAs(texts, (plan) => copyProject({ ...kept, plan }))}
              onOver={() => void keepAs(texts, (plan) => saveProject({ ...kept, plan }))}
            />
          )
        }
        hint="Drives and their prices are on their cards."
      />
      {sheet}
    </>
  );
}

interface ConflictProps {
  theirs: FieldTexts;
  mine: FieldTexts;
  onCopy: () => void;
  onOver: () => void;
}

/** Where somebody else kept the plan meanwhile: what differs, theirs and this one, and what can be done. */
function Conflict({ theirs, mine, onCopy, onOver }: ConflictProps) {
  return (
    <Box data-conflict="" sx={{ mb: 2 }}>
      {planDifferences(theirs, mine).map(({ label, theirs: other, mine: own }) => (
        <Box key={label} sx={{ mt: 1 }}>
          <Typography variant="body2" sx={{ fontWeight: 650 }}>
            {label}
          </Typography>
          {[
            ['theirs', other],
            ['yours', own],
          ].map(([whose, text]) => (
            <Typography key={whose} variant="body2" sx={{ whiteSpace: 'pre-line', overflowWrap: 'anywhere' }}>
              {`${whose}: ${text === '' ? 'empty' : text}`}
            </Typography>
          ))}
        </Box>
      ))}
      <Box sx={{ display: 'flex', gap: 1, mt: 1.5 }}>
        <Button variant="outlined" onClick={onCopy}>
          Keep mine as a copy
        </Button>
        <Button variant="outlined" onClick={onOver}>
          Keep mine in its place
        </Button>
      </Box>
    </Box>
  );
}

interface BelowProps {
  option: string;
  text: string;
  answers: readonly LineAnswer[];
  onText: (text: string) => void;
  onAddDrive: () => void;
}

/** What the lines of a field are taken for; where a line can mean two things, both to choose from. */
function Below({ option, text: typed, answers, onText, onAddDrive }: BelowProps) {
  const choose = (line: string, other: string) =>
    onText(
      typed
        .split('\n')
        .map((one) => (one.trim() === line ? other : one))
        .join('\n'),
    );
  return (
    <>
      {answers.length > 0 && (
        <Box data-answers={option} role="status" sx={{ mb: 1.5 }}>
          {answers.map(({ line, text, choices }) => (
            <Typography key={text} component="div" variant="body2" color="textSecondary" sx={{ mt: 0.25 }}>
              {text}
              {choices.length > 0 && (
                <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', my: 0.5 }}>
                  {choices.map(({ label, line: other }) => (
                    <Button key={label} variant="outlined" onClick={() => choose(line, other)}>
                      {label}
                    </Button>
                  ))}
                </Box>
              )}
            </Typography>
          ))}
        </Box>
      )}
      {option === 'choice' && (
        <Button variant="outlined" onClick={onAddDrive} sx={{ mb: 1.5 }}>
          Add a drive
        </Button>
      )}
    </>
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
