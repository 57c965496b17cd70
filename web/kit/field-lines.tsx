import Box from '@mui/material/Box';
import { Fragment, memo, useCallback, useEffect, useRef, type ComponentType, type ReactNode } from 'react';
import {
  withoutName,
  type Field,
  type FieldErrors,
  type FieldKind,
  type FieldTexts,
} from '#core/1-ground/fields/field.ts';
import { ChoiceLine, QuantityLine, TextLine, type LineProps } from './form.tsx';
import { Heading } from './words.tsx';

type Special = Partial<Record<NonNullable<FieldKind['as']>, ComponentType<LineProps>>>;
const NOTHING_SPECIAL: Special = {};

interface FieldLinesProps {
  fields: readonly Field[];
  texts: FieldTexts;
  errors: FieldErrors;
  onTexts: (part: FieldTexts) => void;
  /** Lines of a place's own for some kinds of field; always the same. */
  special?: Special;
  /** What follows the fields of a group. */
  after?: ((group: string) => ReactNode) | undefined;
  /** What stands under a field, by its option. */
  below?: ((option: string) => ReactNode) | undefined;
  /** Whether groups have headings; a single group under a choice needs none. */
  isHeaded?: boolean;
}

/** Fields of core as lines of a form, group by group: every form is made of these. */
export function FieldLines({
  fields,
  texts,
  errors,
  onTexts,
  special = NOTHING_SPECIAL,
  after,
  below,
  isHeaded = true,
}: FieldLinesProps) {
  // One function for the life of the form: a letter typed into one field draws only that field anew.
  const latest = useRef(onTexts);
  useEffect(() => {
    latest.current = onTexts;
  });
  const onText = useCallback((option: string, text: string) => latest.current({ [option]: text }), []);
  const groups = [...new Set(fields.map((field) => field.group))];
  return groups.map((group) => (
    <Box key={group}>
      {isHeaded && <Heading>{group}</Heading>}
      {fields
        .filter((field) => field.group === group)
        .map((field) => (
          <Fragment key={field.option}>
            <FieldLine
              field={field}
              text={texts[field.option] ?? ''}
              error={errors[field.option]}
              special={special}
              onText={onText}
            />
            {below?.(field.option)}
          </Fragment>
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

interface FieldLineProps {
  field: Field;
  text: string;
  error: string | undefined;
  special: Special;
  onText: (option: string, text: string) => void;
}

const FieldLine = memo(function FieldLine({ field, text, error, special, onText }: FieldLineProps) {
  const { option, kind, label, help, empty } = field;
  const line = {
    label,
    help,
    value: text,
    error: error && withoutName(error),
    placeholder: empty,
    onChange: (next: string) => onText(option, next),
  };
  const Special = kind.as && special[kind.as];
  if (Special) return <Special {...line} />;
  switch (kind.as) {
    case 'choice':
      return <ChoiceLine {...line} options={kind.choices ?? []} />;
    case 'switch':
      return <ChoiceLine {...line} options={YES_OR_NO} />;
    case 'rate':
      return <QuantityLine {...line} what="rate" />;
    case 'size':
      return <QuantityLine {...line} what="size" />;
    case 'lines':
      return <TextLine {...line} lines={LEAST_LINES} />;
    default:
      return <TextLine {...line} />;
  }
});
