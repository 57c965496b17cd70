import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableContainer from '@mui/material/TableContainer';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { timesEarly } from '#core/5-answers/copies/copy-words.ts';
import type { CopyPrediction } from '#core/5-answers/copies/predict.ts';
import { formatDuration, formatNumber } from '#core/1-ground/units/format.ts';
import { Tip } from '../../kit/Tip.tsx';
import { VISUALLY_HIDDEN } from '../../kit/words.tsx';
import { FOCUS_INSIDE } from '../../theme/parts.ts';
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

/** Times of a copy between every two drives, both ways: rows are read, columns are written. */
export function FromToTable({ drives, predictionOf, selected, onSelect }: FromToTableProps) {
  return (
    <TableContainer
      data-grid
      tabIndex={0}
      role="region"
      aria-label="Times from drive to drive"
      sx={{ overflow: 'auto', maxHeight: '56%' }}
    >
      <Table sx={{ tableLayout: 'fixed' }}>
        <TableHead>
          <TableRow>
            <TableCell sx={{ width: 118 }}>from ↓ to →</TableCell>
            {drives.map(({ id, label }) => (
              <Tip key={id} text={label}>
                <TableCell>{label}</TableCell>
              </Tip>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {drives.map((from) => (
            <TableRow key={from.id}>
              <Tip text={from.label}>
                <TableCell component="th" scope="row">
                  {from.label}
                </TableCell>
              </Tip>
              {drives.map((to) => (
                <TableCell key={to.id}>
                  <Cell
                    copy={predictionOf(from.id, to.id)}
                    name={`${from.label} to ${to.label}`}
                    fits={to.fits}
                    isSelected={selected.from === from.id && selected.to === to.id}
                    onSelect={() => onSelect(from.id, to.id)}
                  />
                </TableCell>
              ))}
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </TableContainer>
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
        '&:focus-visible': FOCUS_INSIDE,
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
