import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { SideSheet } from '../../kit/SideSheet.tsx';
import { Heading } from '../../kit/words.tsx';
import { useContextStore } from '../../state/context.ts';
import { ink } from '../../theme/tokens.ts';
import { draftOf, readDraft, type Draft } from './options-draft.ts';

/** Options of *Short passes*; they are checked as one types. */
export default function OptionsSheet({ onClose }: { onClose: () => void }) {
  const { shortPasses, set } = useContextStore();
  const [draft, setDraft] = useState(() => draftOf(shortPasses));
  const { options, errors } = readDraft(draft);
  const change = (part: Partial<Draft>) => setDraft((old) => ({ ...old, ...part }));
  const field = (name: keyof Draft, label: string, help: string) => (
    <Labelled label={label}>
      <TextField
        fullWidth
        value={draft[name]}
        onChange={(event) => change({ [name]: event.target.value })}
        error={errors[name] !== undefined}
        helperText={errors[name] ?? help}
        slotProps={{
          htmlInput: { 'aria-label': label, spellCheck: false },
          formHelperText: { sx: { mx: 0, color: errors[name] === undefined ? ink('second') : undefined } },
        }}
      />
    </Labelled>
  );
  return (
    <SideSheet
      title="Short passes"
      onClose={onClose}
      actions={
        <Button
          variant="contained"
          disabled={!options}
          onClick={() => {
            if (options) set({ shortPasses: options });
            onClose();
          }}
        >
          Use these
        </Button>
      }
    >
      <Typography variant="body2" sx={{ color: ink('second') }}>
        Writes and reads the same stretch again and again: the level, and how much it moves.
      </Typography>
      <Heading>How often</Heading>
      <Choice
        value={draft.repeat}
        options={[
          ['count', 'A number of passes'],
          ['until-stopped', 'Until stopped'],
        ]}
        label="How often"
        onChange={(repeat) => change({ repeat: repeat as Draft['repeat'] })}
      />
      {draft.repeat === 'count' &&
        field('passes', 'Passes', 'In each direction. From six on, the median gets an interval.')}
      <Heading>How much</Heading>
      <Choice
        value={draft.sizeBy}
        options={[
          ['time', 'Sized by time'],
          ['amount', 'A fixed amount'],
        ]}
        label="How much"
        onChange={(sizeBy) => change({ sizeBy: sizeBy as Draft['sizeBy'] })}
      />
      {draft.sizeBy === 'time'
        ? field('seconds', 'Seconds of a pass', 'In one direction. A short pass first finds the rate.')
        : field('size', 'Amount of a pass', 'In one direction, such as 2 GB. As much as the job writes proves most.')}
      <Heading>Requests</Heading>
      {field('block', 'Block size', 'A power of two from 4 KiB to 16 MiB.')}
      {field('depth', 'Queue depth', 'Requests outstanding at any time, 1 to 32.')}
    </SideSheet>
  );
}

function Labelled({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <Box sx={{ mt: 1.25 }}>
      <Typography variant="body2" component="label" sx={{ display: 'block', mb: 0.5 }}>
        {label}
      </Typography>
      {children}
    </Box>
  );
}

interface ChoiceProps {
  value: string;
  options: readonly (readonly [string, string])[];
  label: string;
  onChange: (value: string) => void;
}

function Choice({ value, options, label, onChange }: ChoiceProps) {
  return (
    <ToggleButtonGroup
      exclusive
      value={value}
      aria-label={label}
      onChange={(_event, next: string | null) => next !== null && onChange(next)}
      sx={{ mt: 0.5 }}
    >
      {options.map(([id, text]) => (
        <ToggleButton
          key={id}
          value={id}
          sx={{
            textTransform: 'none',
            fontSize: 14,
            px: 1.75,
            py: 0.6,
            color: ink('second'),
            borderColor: ink('rule'),
            '&.Mui-selected, &.Mui-selected:hover': { bgcolor: ink('raised'), color: ink('text'), fontWeight: 650 },
          }}
        >
          {text}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}
