import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMemo, useState, type ReactNode } from 'react';
import type { Field, FieldErrors, FieldTexts } from '#core/1-ground/fields/field.ts';
import { Problem } from '#core/1-ground/problem.ts';
import { FieldLines } from './field-lines.tsx';
import { SideSheet } from './SideSheet.tsx';
import { ProblemText } from './words.tsx';

interface KeptFieldsSheetProps<Kept> {
  title: string;
  fields: readonly Field[];
  /** What the fields say when the sheet opens. */
  start: () => FieldTexts;
  /** One function for the life of the sheet; null while something cannot be used. */
  read: (texts: FieldTexts) => { kept: Kept | null; errors: FieldErrors };
  /** Keeps what was read; the sheet closes after it, and stays open with the reason when it fails. */
  onKeep: (kept: Kept) => Promise<void>;
  onClose: () => void;
  /** Said beside the button while everything can be used. */
  hint?: string;
  /** What follows the fields of a group. */
  after?: (group: string, texts: FieldTexts, onTexts: (part: FieldTexts) => void) => ReactNode;
  /** What stands at the top while keeping has failed, beside the reason. */
  afterProblem?: ((texts: FieldTexts) => ReactNode) | undefined;
  /** What stands under a field, by its option; worked out once for all fields. */
  below?: (texts: FieldTexts, onTexts: (part: FieldTexts) => void) => (option: string) => ReactNode;
}

/** A sheet of fields that the server keeps. */
export function KeptFieldsSheet<Kept>({
  title,
  fields,
  start,
  read,
  onKeep,
  onClose,
  hint,
  after,
  afterProblem,
  below,
}: KeptFieldsSheetProps<Kept>) {
  const [texts, setTexts] = useState(start);
  const [problem, setProblem] = useState<string>();
  const { kept, errors } = useMemo(() => read(texts), [read, texts]);
  const keep = async () => {
    if (kept === null) return;
    try {
      await onKeep(kept);
      onClose();
    } catch (error) {
      setProblem(error instanceof Problem ? error.detail : String(error));
    }
  };
  const change = (part: FieldTexts) => setTexts((old) => ({ ...old, ...part }));
  const words = kept === null ? 'Something above cannot be used yet.' : hint;
  return (
    <SideSheet
      title={title}
      onClose={onClose}
      actions={
        <>
          <Button variant="contained" disabled={kept === null} onClick={() => void keep()}>
            Keep
          </Button>
          {words !== undefined && (
            <Typography variant="body2" color="textSecondary">
              {words}
            </Typography>
          )}
        </>
      }
    >
      {problem !== undefined && (
        <>
          <ProblemText>{problem}</ProblemText>
          {afterProblem?.(texts)}
        </>
      )}
      <FieldLines
        fields={fields}
        texts={texts}
        errors={errors}
        onTexts={change}
        after={after && ((group) => after(group, texts, change))}
        below={below?.(texts, change)}
      />
    </SideSheet>
  );
}
