import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import FormHelperText from '@mui/material/FormHelperText';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useId, type ReactNode } from 'react';
import { bytesText, rateText } from '#core/1-ground/units/format.ts';
import { ambiguityOf } from '#core/1-ground/units/quantity.ts';
import { bytesTyped } from '#core/1-ground/units/typable.ts';
import { Choice, type ChoiceProps } from './Choice.tsx';

/** A field of a form with its label above it. */
export function Labelled({ label, children }: { label: string; children: ReactNode }) {
  return (
    <Box sx={{ mt: 1.25 }}>
      <Typography variant="body2" component="div" sx={{ mb: 0.5 }}>
        {label}
      </Typography>
      {children}
    </Box>
  );
}

/** What every line of a form is given. */
export interface LineProps {
  label: string;
  value: string;
  /** One sentence under the field; the fault takes its place. */
  help: string;
  error?: string | undefined;
  placeholder?: string | undefined;
  onChange: (value: string) => void;
}

interface TextLineProps extends LineProps {
  /** Lines of a longer text. */
  lines?: number;
}

/** A line of text that says under it what it takes, or what is wrong with it. */
export function TextLine({ label, value, help, error, placeholder, lines, onChange }: TextLineProps) {
  // The field names its help, or what is wrong, to those who cannot see it below.
  const id = useId();
  return (
    <Labelled label={label}>
      <TextField
        id={id}
        fullWidth
        value={value}
        onChange={(event) => onChange(event.target.value)}
        error={error !== undefined}
        helperText={error ?? help}
        placeholder={placeholder ?? ''}
        {...(lines === undefined ? {} : { multiline: true, minRows: lines, maxRows: 3 * lines })}
        slotProps={{ htmlInput: { 'aria-label': label, spellCheck: false } }}
      />
    </Labelled>
  );
}

/** A choice with its label above and its help below. */
export function ChoiceLine({ help, value, label, options, onChange }: ChoiceProps & { help: string }) {
  return (
    <Labelled label={label}>
      <Choice value={value} label={label} options={options} onChange={onChange} />
      <FormHelperText>{help}</FormHelperText>
    </Labelled>
  );
}

/** A size or rate as text. What could mean bits or bytes is asked about, and never guessed. */
export function QuantityLine({ what, ...line }: LineProps & { what: 'size' | 'rate' }) {
  const ambiguity = ambiguityOf(line.value, what);
  const text = what === 'rate' ? rateText : bytesText;
  return (
    <>
      <TextLine {...line} {...(ambiguity ? { error: 'This can mean bytes or bits, a factor of eight apart:' } : {})} />
      {ambiguity && (
        <Box role="group" aria-label={`${line.label}: which is meant`} sx={{ display: 'flex', gap: 1, mt: 0.5 }}>
          <Button variant="outlined" onClick={() => line.onChange(ambiguity.bytes.text)}>
            {ambiguity.bytes.text}, bytes
          </Button>
          <Button
            variant="outlined"
            // A size in bits would be asked about again: it is written in bytes.
            onClick={() => line.onChange(what === 'size' ? bytesTyped(ambiguity.bits.value) : ambiguity.bits.text)}
          >
            {ambiguity.bits.text}, bits: {text(ambiguity.bits.value)}
          </Button>
        </Box>
      )}
    </>
  );
}
