import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import { rateText } from '#core/units/format.ts';
import { InlineVerdict, VERDICT_INK, VERDICT_NAME } from '../../pictures/verdict-marks.tsx';
import type { JudgedItem } from '../../state/judged.ts';
import { ink } from '../../theme/tokens.ts';

interface ItemSentencesProps {
  items: readonly JudgedItem[];
  selected: string | null;
  onSelect: (itemId: string) => void;
}

/** Every item of the workload on one drive, with its sentence, in the order of the workload. */
export function ItemSentences({ items, selected, onSelect }: ItemSentencesProps) {
  return (
    <Box component="ul" sx={{ m: 0, p: 0, flex: 1, minHeight: 0, overflowY: 'auto', listStyle: 'none' }}>
      {items.map(({ demand, verdict, sentence }) => {
        const isSelected = demand.itemId === selected;
        return (
          <li key={demand.itemId} data-item={demand.itemId} data-verdict={verdict.verdict}>
            <ButtonBase
              aria-pressed={isSelected}
              onClick={() => onSelect(demand.itemId)}
              sx={{
                display: 'grid',
                gridTemplateColumns: '116px 190px 1fr',
                alignItems: 'start',
                columnGap: 1,
                width: '100%',
                textAlign: 'left',
                fontSize: 14,
                lineHeight: 1.45,
                px: 1,
                py: '8px',
                borderTop: `1px solid ${ink('rule')}`,
                bgcolor: isSelected ? ink('rail') : 'transparent',
                '&:hover': { bgcolor: ink('rail') },
                '&:focus-visible': { outline: `2px solid ${ink('text')}`, outlineOffset: -2 },
              }}
            >
              <Box
                component="span"
                sx={{
                  display: 'flex',
                  gap: 1,
                  alignItems: 'center',
                  color: ink(VERDICT_INK[verdict.verdict]),
                  fontWeight: 650,
                }}
              >
                <InlineVerdict verdict={verdict.verdict} />
                {VERDICT_NAME[verdict.verdict]}
              </Box>
              <span>
                <b>{demand.name}</b>
                <br />
                <span style={{ color: ink('second'), fontSize: 13 }}>
                  {demand.direction === 'write' ? 'record' : 'play'}, {rateText(demand.bytesPerSecond)}
                </span>
              </span>
              <span data-sentence>{sentence}</span>
            </ButtonBase>
          </li>
        );
      })}
    </Box>
  );
}
