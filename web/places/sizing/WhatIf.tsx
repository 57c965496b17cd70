import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Slider from '@mui/material/Slider';
import Typography from '@mui/material/Typography';
import type { MoveAnswer, Moved } from '#core/5-answers/sizing/moves.ts';
import type { SizingPolicy } from '#core/5-answers/sizing/project.ts';
import { formatShare } from '#core/1-ground/units/format.ts';
import { Heading } from '../../kit/words.tsx';
import { ink } from '../../theme/tokens.ts';

interface Lever {
  option: 'fillLimit' | 'headroomShare' | 'growthShare' | 'survives';
  label: string;
  least: number;
  most: number;
  step: number;
  text: (value: number) => string;
}

const share = (option: Lever['option'], label: string, least = 0): Lever => ({
  option,
  label,
  least,
  most: 1,
  step: 0.05,
  text: formatShare,
});

const LEVERS: readonly Lever[] = [
  share('fillLimit', 'Filled at most', 0.05),
  share('headroomShare', 'Headroom'),
  share('growthShare', 'Growth reserve'),
  { option: 'survives', label: 'Failed drives it survives', least: 0, most: 2, step: 1, text: String },
];

interface WhatIfProps {
  policy: SizingPolicy;
  /** What people ask next, answered for the plan as it is. */
  moves: readonly MoveAnswer[];
  /** Takes a move over; null while they are being worked out anew. */
  onMove: ((moved: Moved) => void) | null;
  onPolicy: (change: Partial<SizingPolicy>) => void;
}

/**
 * Parts of the policy that search again while they are moved, and moves over the whole plan. Those come and go with
 * each search: they stand below, so that a lever stays where the hand is.
 */
export function WhatIf({ policy, moves, onMove, onPolicy }: WhatIfProps) {
  return (
    <>
      <Heading>What if</Heading>
      {LEVERS.map(({ option, label, least, most, step, text }) => (
        <Box key={option} sx={{ mt: 0.5 }}>
          <Box sx={{ display: 'flex', justifyContent: 'space-between', fontSize: 13.5 }}>
            <span style={{ color: ink('second') }}>{label}</span>
            <span>{text(policy[option])}</span>
          </Box>
          <Slider
            aria-label={label}
            value={policy[option]}
            min={least}
            max={most}
            step={step}
            onChange={(_event, next) => onPolicy({ [option]: next })}
          />
        </Box>
      ))}
      {moves.map(({ label, text, moved }) => (
        <Box key={label} sx={{ mt: 0.75 }} data-move="">
          <Typography variant="body2">
            <b>{label}:</b> {text}
          </Typography>
          {onMove && (
            <Button
              variant="text"
              aria-label={`Take over: ${label.charAt(0).toLowerCase()}${label.slice(1)}`}
              onClick={() => onMove(moved)}
              sx={{ fontSize: 12.5, px: 0.5, py: 0, ml: -0.5, minHeight: 0, minWidth: 0 }}
            >
              Take over
            </Button>
          )}
        </Box>
      ))}
    </>
  );
}
