import Box from '@mui/material/Box';
import type { ComponentType, ReactNode } from 'react';
import { isLines, type Field, type FieldErrors, type FieldKind, type FieldTexts } from '#core/fields/field.ts';
import { ChoiceLine, QuantityLine, TextLine, type LineProps } from './form.tsx';
import { Heading } from './words.tsx';

interface FieldLinesProps {
  fields: readonly Field[];
  texts: FieldTexts;
  errors: FieldErrors;
  onTexts: (part: FieldTexts) => void;
  /** Lines of a place's own for some kinds of field. */
  special?: Partial<Record<FieldKind['type'], ComponentType<LineProps>>>;
  /** What follows the fields of a group. */
  after?: (group: string) => ReactNode;
  /** Whether groups have headings; a single group under a choice needs none. */
  isHeaded?: boolean;
}

/** Fields of core as lines of a form, group by group: every form is made of these. */
export function FieldLines({ fields, after, isHeaded = true, ...rest }: FieldLinesProps) {
  const groups = [...new Set(fields.map((field) => field.group))];
  return groups.map((group) => (
    <Box key={group}>
      {isHeaded && <Heading>{group}</Heading>}
      {fields
        .filter((field) => field.group === group)
        .map((field) => (
          <FieldLine key={field.option} field={field} {...rest} />
        ))}
      {after?.(group)}
    </Box>
  ));
}

const YES_OR_NO = [
  ['no', 'No'],
  ['yes', 'Yes'],
] as const;
const LEAST_LINES = 3;

function FieldLine({
  field: { option, kind, label, help, empty },
  texts,
  errors,
  onTexts,
  special,
}: Omit<FieldLinesProps, 'fields' | 'after' | 'isHeaded'> & { field: Field }) {
  const line = {
    label,
    help,
    value: texts[option] ?? '',
    error: errors[option],
    placeholder: empty,
    onChange: (text: string) => onTexts({ [option]: text }),
  };
  const Special = special?.[kind.type];
  if (Special) return <Special {...line} />;
  switch (kind.type) {
    case 'choice':
      return <ChoiceLine {...line} options={kind.choices} />;
    case 'switch':
      return <ChoiceLine {...line} options={YES_OR_NO} />;
    case 'rate':
      return <QuantityLine {...line} what="rate" />;
    case 'bytes':
    case 'buffer':
      return <QuantityLine {...line} what="size" />;
    default:
      return <TextLine {...line} {...(isLines(kind) ? { lines: LEAST_LINES } : {})} />;
  }
}
