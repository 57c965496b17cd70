import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import type { VolumeEntry } from '#core/6-exchange/api/wire.ts';
import { bytesText } from '#core/1-ground/units/format.ts';
import { Heading } from '../../kit/words.tsx';
import { ink } from '../../theme/tokens.ts';
import { volumeFacts, volumeGroups } from './volume-facts.ts';

/** What can be measured, for as long as there is no run to tell of. */
export function VolumesColumn({ volumes }: { volumes: readonly VolumeEntry[] }) {
  return volumeGroups(volumes)
    .filter((group) => group.members.length > 0)
    .map((group) => (
      <section key={group.name}>
        <Heading>{group.name}</Heading>
        {group.members.map((volume) => (
          <VolumeLine key={volume.id} volume={volume} />
        ))}
      </section>
    ));
}

function VolumeLine({ volume }: { volume: VolumeEntry }) {
  return (
    <Box sx={{ py: 0.75, borderTop: `1px solid ${ink('rule')}` }}>
      <Box sx={{ display: 'flex', justifyContent: 'space-between', gap: 1, fontSize: 14 }}>
        <Box component="b" sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
          {volume.label}
        </Box>
        <span style={{ whiteSpace: 'nowrap' }}>{bytesText(volume.freeBytes)} free</span>
      </Box>
      <Typography variant="caption" component="div" color="textSecondary">
        {volumeFacts(volume)}
        {volume.readOnly && ' · read-only'}
      </Typography>
    </Box>
  );
}
