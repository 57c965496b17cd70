import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { ink } from '../../../theme/tokens.ts';

interface SuggestionsProps<One> {
  /** What stands before them. */
  lead: string;
  options: readonly One[];
  nameOf: (option: One) => string;
  onPick: (option: One) => void;
}

/** A line of starting points, any of which fills a form in. */
export function Suggestions<One>({ lead, options, nameOf, onPick }: SuggestionsProps<One>) {
  return (
    <Box sx={{ fontSize: 13.5, display: 'flex', flexWrap: 'wrap', columnGap: 1, alignItems: 'baseline', flex: 'none' }}>
      <span style={{ color: ink('second') }}>{lead}</span>
      {options.map((option) => (
        <Button
          key={nameOf(option)}
          variant="text"
          onClick={() => onPick(option)}
          sx={{ fontSize: 13.5, px: 0.5, minWidth: 0 }}
        >
          {nameOf(option)}
        </Button>
      ))}
    </Box>
  );
}
