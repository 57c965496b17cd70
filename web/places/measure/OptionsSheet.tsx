import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { ValidationError } from 'yup';
import { Problem } from '#core/problem.ts';
import { shortPassesOptionsSchema, type ShortPassesOptions } from '#core/run/short-passes-options.ts';
import { blockText, bytesText } from '#core/units/format.ts';
import { parseBytes, parseCount, parseDuration } from '#core/units/quantity.ts';
import { SideSheet } from '../../kit/SideSheet.tsx';
import { Heading } from '../../kit/words.tsx';
import { useContextStore } from '../../state/context.ts';
import { ink } from '../../theme/tokens.ts';

/** The form's fields as typed. */
interface Draft {
  repeat: 'count' | 'until-stopped';
  passes: string;
  sizeBy: 'time' | 'amount';
  seconds: string;
  size: string;
  block: string;
  depth: string;
}

function draftOf(options: ShortPassesOptions): Draft {
  const plain = (text: string) => text.replaceAll('\u202f', ' ').replaceAll(',', '');
  return {
    repeat: options.passes === null ? 'until-stopped' : 'count',
    passes: String(options.passes ?? 6),
    sizeBy: options.sizeBytes === null ? 'time' : 'amount',
    seconds: String(options.seconds),
    size: options.sizeBytes === null ? '' : plain(bytesText(options.sizeBytes)),
    block: plain(blockText(options.blockBytes)),
    depth: String(options.depth),
  };
}

/** Each field on its own, so that the fault is shown where it is. */
function readField<T>(errors: Partial<Record<keyof Draft, string>>, field: keyof Draft, read: () => T): T | undefined {
  try {
    return read();
  } catch (error) {
    errors[field] = error instanceof Problem ? error.detail : String(error);
    return undefined;
  }
}

const FIELD_OF_OPTION: Record<keyof ShortPassesOptions, keyof Draft> = {
  passes: 'passes',
  seconds: 'seconds',
  sizeBytes: 'size',
  blockBytes: 'block',
  depth: 'depth',
};

/** All faults at once: what cannot be read keeps its default while the rest is checked. */
function readDraft(draft: Draft): {
  options: ShortPassesOptions | undefined;
  errors: Partial<Record<keyof Draft, string>>;
} {
  const errors: Partial<Record<keyof Draft, string>> = {};
  const defaults = shortPassesOptionsSchema.getDefault();
  const byTime = draft.sizeBy === 'time';
  const input: ShortPassesOptions = {
    passes:
      draft.repeat === 'until-stopped'
        ? null
        : (readField(errors, 'passes', () => parseCount(draft.passes, 'passes')) ?? defaults.passes),
    seconds:
      (byTime ? readField(errors, 'seconds', () => parseDuration(draft.seconds, 'seconds')) : undefined) ??
      defaults.seconds,
    sizeBytes: (byTime ? undefined : readField(errors, 'size', () => parseBytes(draft.size, 'size'))) ?? null,
    blockBytes: readField(errors, 'block', () => parseBytes(draft.block, 'block')) ?? defaults.blockBytes,
    depth: readField(errors, 'depth', () => parseCount(draft.depth, 'depth')) ?? defaults.depth,
  };
  try {
    const options = shortPassesOptionsSchema.validateSync(input, { strict: true, abortEarly: false });
    return { options: Object.keys(errors).length === 0 ? options : undefined, errors };
  } catch (error) {
    for (const one of (error as ValidationError).inner)
      errors[FIELD_OF_OPTION[one.path as keyof ShortPassesOptions]] ??= one.message;
    return { options: undefined, errors };
  }
}

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
