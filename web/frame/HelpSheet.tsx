import Box from '@mui/material/Box';
import { SideSheet } from '../kit/SideSheet.tsx';
import { Heading } from '../kit/words.tsx';
import { ink } from '../theme/tokens.ts';
import { PLACES } from '../places/registry.ts';
import { PLACE_SHORTCUTS } from './shortcuts.ts';

/** Words that mean something exact here. */
const WORDS: readonly (readonly [word: string, meaning: string])[] = [
  ['Need line', 'The data rate of an item of the workload, drawn across a trace.'],
  ['Opening', 'The rate a drive starts with, as long as its fast cache takes what comes.'],
  ['Knee', 'Where the rate falls: so many bytes after the start.'],
  ['Floor', 'The rate to which it falls, and at which it goes on.'],
  ['Worst second', 'The least that went through in any one second.'],
  ['Holds', 'Measured to carry all of the job, with the headroom to spare.'],
  ['Tight', 'Carries all of the job, with less to spare than the headroom.'],
  ['Breaks', 'The buffer overflows, or frames are lost: at the moment told.'],
  ['Not proven', 'No run shows it, or only for a part; the run that would is offered.'],
  ['Doubt', 'A reason not to trust a run, with what raised it.'],
  ['Headroom', 'What a drive must carry beyond the demand.'],
  ['Cache series', 'What a simulation writes frame by frame: computing and writing share its time.'],
  ['Drive share', 'Part of the whole time that is spent waiting for the drive.'],
  ['Load', 'A game, tool or archive that starts: what it computes and what it waits for, phase by phase.'],
  ['Stutter', 'A piece that streams in while a program is in use, and comes too late.'],
];

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
        {WORDS.map(([word, meaning]) => (
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
