import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import { useColorScheme } from '@mui/material/styles';
import { NavLink } from 'react-router';
import { ink } from '../theme/tokens.ts';
import { Icon, Mark, type IconName } from './icons.tsx';
import { Tip } from '../kit/Tip.tsx';
import { placePath } from '../places/place.ts';
import { PLACES } from '../places/registry.ts';

export const RAIL_WIDTH = 84;

interface RailProps {
  onSettings: () => void;
  onHelp: () => void;
}

/** The rail on the left: the seven places in the order of the job, and at its foot what concerns all. */
export function Rail({ onSettings, onHelp }: RailProps) {
  const { mode, setMode } = useColorScheme();
  const other = mode === 'light' ? 'dark' : 'light';
  return (
    <Box
      component="nav"
      aria-label="Places"
      sx={{
        width: RAIL_WIDTH,
        flex: 'none',
        display: 'flex',
        flexDirection: 'column',
        bgcolor: ink('rail'),
        borderRight: `1px solid ${ink('rule')}`,
      }}
    >
      <Box sx={{ height: 64, display: 'grid', placeItems: 'center', flex: 'none' }}>
        <Mark />
      </Box>
      {PLACES.map((place) => (
        <Box
          key={place.id}
          component={NavLink}
          to={placePath(place)}
          aria-keyshortcuts={place.key}
          sx={{
            height: 58,
            flex: '0 1 58px',
            display: 'flex',
            flexDirection: 'column',
            alignItems: 'center',
            justifyContent: 'center',
            gap: '3px',
            fontSize: 13,
            color: ink('second'),
            textDecoration: 'none',
            borderLeft: '3px solid transparent',
            borderRight: '3px solid transparent',
            '&:hover': { color: ink('text') },
            '&.active': { color: ink('text'), bgcolor: ink('raised'), borderLeftColor: ink('text'), fontWeight: 650 },
            '&:focus-visible': { outlineOffset: -3 },
          }}
        >
          <Icon name={place.icon} />
          {place.name}
        </Box>
      ))}
      <Box sx={{ flex: 1 }} />
      <Box sx={{ display: 'flex', flexDirection: 'column', alignItems: 'center', gap: '2px', pb: 1.5 }}>
        <FootButton icon="theme" label={`Use the ${other} theme`} onClick={() => setMode(other)} />
        <FootButton icon="settings" label="Settings" onClick={onSettings} />
        <FootButton icon="help" label="Keys and words" onClick={onHelp} />
      </Box>
    </Box>
  );
}

function FootButton({ icon, label, onClick }: { icon: IconName; label: string; onClick: () => void }) {
  return (
    <Tip text={label}>
      <ButtonBase
        aria-label={label}
        onClick={onClick}
        sx={{
          width: 44,
          height: 34,
          borderRadius: 1,
          color: ink('second'),
          '&:hover': { color: ink('text') },
        }}
      >
        <Icon name={icon} />
      </ButtonBase>
    </Tip>
  );
}
