import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import { timesEarly } from '#core/5-answers/copies/copy-words.ts';
import type { CopyPrediction } from '#core/5-answers/copies/predict.ts';
import { formatDuration, formatNumber } from '#core/1-ground/units/format.ts';
import { VISUALLY_HIDDEN } from '../../kit/words.tsx';
import { ink } from '../../theme/tokens.ts';

/** One drive as a source and as a target. */
export interface CopyDrive {
  id: string;
  label: string;
  /** Whether all of it fits there; null while it is not attached. */
  fits: boolean | null;
}

interface FromToTableProps {
  drives: readonly CopyDrive[];
  /** What a copy takes; null where it cannot be said. */
  predictionOf: (from: string, to: string) => CopyPrediction | null;
  selected: { from: string; to: string };
  onSelect: (from: string, to: string) => void;
}

const CELL = { border: `1px solid ${ink('rule')}`, p: 0, height: 46 } as const;
/** Of the names of sources. */
const FIRST_COLUMN = 118;
const HEAD = {
  fontWeight: 650,
  fontSize: 13,
  px: 0.75,
  py: 0.5,
  overflow: 'hidden',
  textOverflow: 'ellipsis',
  whiteSpace: 'nowrap',
} as const;

/** Times of a copy between every two drives, both ways: rows are read, columns are written. */
export function FromToTable({ drives, predictionOf, selected, onSelect }: FromToTableProps) {
  return (
    <Box
      sx={{ flex: 'none', overflow: 'auto', maxHeight: '56%' }}
      tabIndex={0}
      role="region"
      aria-label="Times from drive to drive"
    >
      <Box component="table" sx={{ borderCollapse: 'collapse', width: '100%', tableLayout: 'fixed', fontSize: 13.5 }}>
        <thead>
          <tr>
            <Box
              component="th"
              scope="col"
              sx={{ ...HEAD, textAlign: 'left', color: ink('second'), fontWeight: 400, width: FIRST_COLUMN }}
            >
              from ↓ to →
            </Box>
            {drives.map(({ id, label }) => (
              <Box component="th" scope="col" key={id} title={label} sx={HEAD}>
                {label}
              </Box>
            ))}
          </tr>
        </thead>
        <tbody>
          {drives.map((from) => (
            <tr key={from.id}>
              <Box component="th" scope="row" title={from.label} sx={{ ...HEAD, textAlign: 'left' }}>
                {from.label}
              </Box>
              {drives.map((to) => (
                <Box component="td" key={to.id} sx={CELL}>
                  <Cell
                    copy={predictionOf(from.id, to.id)}
                    name={`${from.label} to ${to.label}`}
                    fits={to.fits}
                    isSelected={selected.from === from.id && selected.to === to.id}
                    onSelect={() => onSelect(from.id, to.id)}
                  />
                </Box>
              ))}
            </tr>
          ))}
        </tbody>
      </Box>
    </Box>
  );
}

/** An estimate that is off by less is no surprise. */
const SURPRISE = 1.5;

function noteOf(times: number, fits: boolean | null): string {
  if (fits === false) return 'does not fit';
  return times >= SURPRISE ? `${formatNumber(times)} × told` : ' ';
}

function Cell({
  copy,
  name,
  fits,
  isSelected,
  onSelect,
}: {
  copy: CopyPrediction | null;
  name: string;
  fits: boolean | null;
  isSelected: boolean;
  onSelect: () => void;
}) {
  const times = copy ? timesEarly(copy) : 1;
  return (
    <ButtonBase
      data-copy={name}
      aria-pressed={isSelected}
      onClick={onSelect}
      sx={{
        width: '100%',
        height: '100%',
        minHeight: 44,
        display: 'block',
        px: 0.6,
        textAlign: 'right',
        bgcolor: isSelected ? ink('raised') : 'transparent',
        outline: isSelected ? `2px solid ${ink('text')}` : 'none',
        outlineOffset: -2,
        '&:hover': { bgcolor: ink('rail') },
        '&:focus-visible': { outline: `2px solid ${ink('text')}`, outlineOffset: -2 },
      }}
    >
      <span style={VISUALLY_HIDDEN}>{name}: </span>
      {copy ? (
        <>
          <Box component="span" sx={{ display: 'block', fontWeight: 650 }}>
            {formatDuration(copy.seconds)}
          </Box>
          <Box
            component="span"
            sx={{ display: 'block', fontSize: 12, color: ink(fits === false ? 'breaks' : 'second') }}
          >
            {noteOf(times, fits)}
          </Box>
        </>
      ) : (
        <Box component="span" sx={{ fontSize: 12.5, color: ink('second') }}>
          not measured
        </Box>
      )}
    </ButtonBase>
  );
}
