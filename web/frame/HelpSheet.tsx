import Box from '@mui/material/Box';
import { SideSheet } from '../kit/SideSheet.tsx';
import { GLOSSARY } from '#core/1-ground/glossary.ts';
import { Heading } from '../kit/words.tsx';
import { ink } from '../theme/tokens.ts';
import { PLACES } from '../places/registry.ts';
import { PLACE_SHORTCUTS } from './shortcuts.ts';

export default function HelpSheet({ onClose }: { onClose: () => void }) {
  return (
    <SideSheet title="Keys and words" onClose={onClose}>
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
      <Heading>Words</Heading>
      <Box component="dl" sx={{ m: 0, fontSize: 14, lineHeight: 1.45 }}>
        {GLOSSARY.map(([word, meaning]) => (
          <Box key={word} sx={{ display: 'flex', gap: 2, py: '4px' }}>
            <Box component="dt" sx={{ flex: 'none', width: 110, fontWeight: 650 }}>
              {word}
            </Box>
            <Box component="dd" sx={{ m: 0, color: ink('second') }}>
              {meaning}
            </Box>
          </Box>
        ))}
      </Box>
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
