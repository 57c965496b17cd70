import { capitalized, countText } from '#core/1-ground/words.ts';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { ReportPages } from '#core/6-exchange/api/wire.ts';
import type { ReportOutline, ReportPart } from '#core/6-exchange/report/report.ts';
import { ChoiceItem, ChoiceList } from '../../kit/choices.tsx';
import { Doubts, Heading } from '../../kit/words.tsx';
import { ink } from '../../theme/tokens.ts';

interface ReportColumnProps {
  outline: ReportOutline;
  pages: ReportPages | undefined;
  /** What is not any more as the report tells it, by part. */
  changes: Record<string, string[]>;
  selected: string | null;
  onSelect: (partId: string) => void;
  onOutline: (outline: ReportOutline) => void;
  onTitle: () => void;
  onRenew: () => void;
}

const SMALL_BUTTON = { fontSize: 13.5, minWidth: 0, px: 0.75 } as const;

/** The parts of a report in their order, a remark under each, and what it tells others. */
export function ReportColumn({ outline, pages, changes, selected, onOutline, ...actions }: ReportColumnProps) {
  const { parts } = outline;
  const number = pages?.pages.length ?? 0;
  const part = parts.find(({ id }) => id === selected);
  const change = (next: readonly ReportPart[]) => onOutline({ ...outline, parts: [...next] });
  const changed = parts.filter(({ id }) => changes[id]);
  return (
    <>
      <Typography>
        {pages
          ? `${capitalized(countText(number))} page${number === 1 ? '' : 's'}. What it rests on goes with it: whoever opens it in Tavrox can judge again.`
          : 'Laying out the pages.'}
      </Typography>
      <Box sx={{ mx: -0.75, mt: 0.5 }}>
        <Button variant="text" onClick={actions.onTitle} sx={SMALL_BUTTON}>
          Title and paper
        </Button>
      </Box>
      <Heading>Parts, in order</Heading>
      <ChoiceList label="Parts of the report">
        {parts.map(({ id, isLeftOut, remark }, index) => (
          <ChoiceItem key={id} chosen={id === selected} onChoose={() => actions.onSelect(id)}>
            <Box
              component="span"
              sx={{ display: 'flex', gap: 1.25, width: '100%', fontSize: 14, whiteSpace: 'normal', minWidth: 0 }}
            >
              <span style={{ color: ink('second'), minWidth: 14, flex: 'none' }}>{index + 1}</span>
              <span style={{ flex: 1, minWidth: 0, overflowWrap: 'anywhere', opacity: isLeftOut ? 0.75 : 1 }}>
                {pages?.titles[id] ?? ''}
                {isLeftOut && <span style={{ color: ink('second') }}>, left out</span>}
                {remark !== '' && <span style={{ color: ink('second') }}>, with a remark</span>}
                {changes[id] && <span style={{ color: ink('breaks') }}>, not as it was</span>}
              </span>
            </Box>
          </ChoiceItem>
        ))}
      </ChoiceList>
      {part && <PartTools part={part} parts={parts} onParts={change} />}
      <Doubts title="Changed since it was put in">
        {changed.flatMap(({ id }) =>
          changes[id]!.map((sentence) => `${parts.findIndex((one) => one.id === id) + 1}: ${sentence}`),
        )}
      </Doubts>
      {changed.length > 0 && (
        <Button variant="outlined" onClick={actions.onRenew} sx={{ mt: 1 }}>
          Draw it from what is kept now
        </Button>
      )}
      <Heading>For others</Heading>
      <FormControlLabel
        control={
          <Checkbox
            checked={outline.isPrivate}
            onChange={(event) => onOutline({ ...outline, isPrivate: event.target.checked })}
          />
        }
        label={
          <Typography variant="body2">
            Leave out paths, names of machines and volumes, serial numbers, and notes on runs and workloads
          </Typography>
        }
        sx={{ alignItems: 'flex-start', mr: 0 }}
      />
      <Typography variant="caption" component="p" color="textSecondary">
        What you write here, and the names of drives, workloads and projects, stay.
      </Typography>
    </>
  );
}

interface PartToolsProps {
  part: ReportPart;
  parts: readonly ReportPart[];
  onParts: (parts: readonly ReportPart[]) => void;
}

/** What can be done with the chosen part, and its remark. */
function PartTools({ part, parts, onParts }: PartToolsProps) {
  const at = parts.indexOf(part);
  const replace = (change: Partial<ReportPart>) =>
    onParts(parts.map((one) => (one === part ? ({ ...one, ...change } as ReportPart) : one)));
  const move = (by: number) => {
    const next = [...parts];
    next.splice(at, 1);
    next.splice(at + by, 0, part);
    onParts(next);
  };
  return (
    <Box data-part-tools={part.kind}>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', mx: -0.75 }}>
        <Button variant="text" disabled={at === 0} onClick={() => move(-1)} sx={SMALL_BUTTON}>
          Up
        </Button>
        <Button variant="text" disabled={at === parts.length - 1} onClick={() => move(1)} sx={SMALL_BUTTON}>
          Down
        </Button>
        <Button variant="text" onClick={() => replace({ isLeftOut: !part.isLeftOut })} sx={SMALL_BUTTON}>
          {part.isLeftOut ? 'Show' : 'Leave out'}
        </Button>
        <Button variant="text" onClick={() => onParts(parts.filter((one) => one !== part))} sx={SMALL_BUTTON}>
          Take out
        </Button>
      </Box>
      <Heading>Remark under part {at + 1}</Heading>
      <RemarkField key={part.id} remark={part.remark} onRemark={(remark) => replace({ remark })} />
    </Box>
  );
}

/** A remark is kept when its field is left. */
function RemarkField({ remark, onRemark }: { remark: string; onRemark: (remark: string) => void }) {
  const [text, setText] = useState(remark);
  return (
    <TextField
      fullWidth
      multiline
      minRows={2}
      maxRows={6}
      value={text}
      onChange={(event) => setText(event.target.value.slice(0, 4000))}
      onBlur={() => text !== remark && onRemark(text)}
      slotProps={{ htmlInput: { 'aria-label': 'Remark under the part' } }}
    />
  );
}
