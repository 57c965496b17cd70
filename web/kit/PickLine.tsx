import FormHelperText from '@mui/material/FormHelperText';
import TextField from '@mui/material/TextField';
import { Labelled } from './form.tsx';

interface PickLineProps {
  label: string;
  help: string;
  /** Empty while nothing is picked. */
  value: string;
  options: readonly (readonly [value: string, label: string])[];
  onChange: (value: string) => void;
}

/**
 * One of several, behind a field that opens as the system's own does: the library's opens under the pressed button, and
 * lets go on a line that nobody meant.
 */
export function PickLine({ label, help, value, options, onChange }: PickLineProps) {
  return (
    <Labelled label={label}>
      <TextField
        select
        fullWidth
        value={value}
        onChange={(event) => onChange(event.target.value)}
        slotProps={{ select: { native: true }, htmlInput: { 'aria-label': label } }}
      >
        <option value="" disabled>
          not known
        </option>
        {options.map(([id, text]) => (
          <option key={id} value={id}>
            {text}
          </option>
        ))}
      </TextField>
      <FormHelperText>{help}</FormHelperText>
    </Labelled>
  );
}
