import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';

export interface ChoiceProps {
  value: string;
  options: readonly (readonly [value: string, label: string])[];
  label: string;
  onChange: (value: string) => void;
}

/** One of a few, all of them to be seen. */
export function Choice({ value, options, label, onChange }: ChoiceProps) {
  return (
    <ToggleButtonGroup
      exclusive
      value={value}
      aria-label={label}
      onChange={(_event, next: string | null) => next !== null && onChange(next)}
    >
      {options.map(([id, text]) => (
        <ToggleButton key={id} value={id}>
          {text}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}
