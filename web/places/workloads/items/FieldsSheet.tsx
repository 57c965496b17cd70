import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import type { Field, FieldErrors, FieldTexts } from '#core/1-ground/fields/field.ts';
import { FieldLines } from '../../../kit/field-lines.tsx';
import { SideSheet } from '../../../kit/SideSheet.tsx';

interface FieldsSheetProps {
  title: string;
  isNew: boolean;
  fields: readonly Field[];
  texts: FieldTexts;
  errors: FieldErrors;
  onTexts: (part: FieldTexts) => void;
  /** What the item comes to; null while something is at fault. */
  comesTo: string | null;
  onSave: () => void;
  onClose: () => void;
  /** What stands before the fields. */
  children?: ReactNode;
  after?: (group: string) => ReactNode;
}

/** A sheet for an item: a list of fields, and before it what an item has of its own. */
export function FieldsSheet({ title, isNew, comesTo, onSave, onClose, children, ...lines }: FieldsSheetProps) {
  return (
    <SideSheet
      title={title}
      onClose={onClose}
      actions={
        <>
          <Button variant="contained" disabled={comesTo === null} onClick={onSave}>
            {isNew ? 'Add' : 'Keep'}
          </Button>
          <Typography variant="body2" data-comes-to="" color="textSecondary">
            {comesTo ?? 'Something above cannot be used yet.'}
          </Typography>
        </>
      }
    >
      {children}
      <FieldLines {...lines} />
    </SideSheet>
  );
}
