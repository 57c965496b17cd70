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
    <Box className="not-printed" sx={{ display: 'flex', alignItems: 'baseline', gap: 0.5, mb: 0.75, minWidth: 0 }}>
      <Button
        variant="text"
        aria-haspopup="dialog"
        onClick={() => onSheet('recipe')}
        sx={{ px: 0.75, ml: -0.75, minWidth: 0, flex: 'none' }}
      >
        {recipeLabel}
        <svg width={10} height={6} aria-hidden="true" style={{ marginLeft: 6 }}>
          <path d="M1 1l4 4 4-4" fill="none" stroke={ink('second')} strokeWidth={1.6} />
        </svg>
      </Button>
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
    </Box>
  );
});
