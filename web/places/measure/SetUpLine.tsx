import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { memo } from 'react';
import type { VolumeEntry } from '#core/6-exchange/api/wire.ts';
import { Tip } from '../../kit/Tip.tsx';
import { ink } from '../../theme/tokens.ts';

interface SetUpLineProps {
  recipeLabel: string;
  target: VolumeEntry | undefined;
  folder: string | undefined;
  onSheet: (sheet: 'folder' | 'recipe') => void;
}

/** What the next run does, and where: both are changed from here. */
export const SetUpLine = memo(function SetUpLine({ recipeLabel, target, folder, onSheet }: SetUpLineProps) {
  const where =
    target === undefined
      ? 'a volume you choose'
      : target.kind === 'stand-in'
        ? `${target.label}, simulated`
        : (folder ?? target.mountPoint);
  return (
    <Box className="not-printed" sx={{ display: 'flex', alignItems: 'baseline', gap: 1.25, mb: 1, minWidth: 0 }}>
      <Typography variant="h1" sx={{ flex: 'none' }}>
        <Button
          variant="text"
          aria-haspopup="dialog"
          onClick={() => onSheet('recipe')}
          sx={{ font: 'inherit', color: 'inherit', px: 0.75, mx: -0.75, minWidth: 0, lineHeight: 1.2 }}
        >
          {recipeLabel}
          <svg width={11} height={7} aria-hidden="true" style={{ marginLeft: 8 }}>
            <path d="M1 1l4.5 4.5L10 1" fill="none" stroke={ink('second')} strokeWidth={1.6} />
          </svg>
        </Button>
      </Typography>
      <Typography variant="body2" component="span" color="textSecondary" sx={{ flex: 'none' }}>
        on
      </Typography>
      <Tip text={where}>
        <Button
          variant="text"
          onClick={() => onSheet('folder')}
          sx={{ minWidth: 0, flexShrink: 1, justifyContent: 'flex-start' }}
        >
          <Box
            component="span"
            sx={{
              overflow: 'hidden',
              textOverflow: 'ellipsis',
              whiteSpace: 'nowrap',
              direction: target?.kind === 'real' ? 'rtl' : 'ltr',
            }}
          >
            <bdi>{where}</bdi>
          </Box>
        </Button>
      </Tip>
      <Box sx={{ flex: 1 }} />
      <Button variant="text" onClick={() => onSheet('recipe')} sx={{ flex: 'none', fontWeight: 400 }}>
        Options
      </Button>
    </Box>
  );
});
