import Box from '@mui/material/Box';
import { SideSheet } from '../kit/SideSheet.tsx';
import { Heading } from '../kit/words.tsx';
import { ink } from '../theme/tokens.ts';
import { PLACES } from './places.ts';
import { PLACE_SHORTCUTS } from './shortcuts.ts';

export function HelpSheet({ onClose }: { onClose: () => void }) {
  return (
    <SideSheet title="Keyboard" onClose={onClose}>
      <Heading>Places</Heading>
      {PLACES.map((place) => (
        <KeyLine key={place.key} name={place.key} does={place.name} />
      ))}
      <Heading>In a place</Heading>
      {PLACE_SHORTCUTS.map(({ key, does }) => (
        <KeyLine key={key} name={key} does={does} />
      ))}
      <KeyLine name="?" does="This list" />
      <KeyLine name="Esc" does="Close a sheet or menu" />
    </SideSheet>
  );
}

function KeyLine({ name, does }: { name: string; does: string }) {
  return (
    <Box sx={{ display: 'flex', gap: 2, py: '4px', fontSize: 14.5, alignItems: 'center' }}>
      <Box
        component="kbd"
        sx={{
          font: 'inherit',
          fontWeight: 650,
          minWidth: 34,
          textAlign: 'center',
          px: 1,
          py: '2px',
          border: `1px solid ${ink('rule')}`,
          borderRadius: 1,
          bgcolor: ink('page'),
        }}
      >
        {name}
      </Box>
      {does}
    </Box>
  );
}
