import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import type { VolumeEntry } from '#core/api/wire.ts';
import { bindingHop } from '#core/links/connection.ts';
import { bytesText, rateText } from '#core/units/format.ts';
import { Heading } from '../../kit/words.tsx';
import { ink } from '../../theme/tokens.ts';
import { MEDIUM_NAMES } from './medium-names.ts';

/** What can be measured, for as long as there is no run to tell of. */
export function VolumesColumn({ volumes }: { volumes: readonly VolumeEntry[] | undefined }) {
  const groups = [
    { name: 'Attached to this machine', members: volumes?.filter((volume) => volume.kind === 'real') ?? [] },
    { name: 'Stand-ins, simulated', members: volumes?.filter((volume) => volume.kind === 'stand-in') ?? [] },
  ];
  return groups
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
  const hop = bindingHop(volume.connection);
  const facts = [
    ...(volume.kind === 'real' ? [volume.filesystem] : []),
    MEDIUM_NAMES[volume.medium],
    hop ? `${hop.label}, up to ${rateText(hop.ceilingBytesPerSecond)}` : 'link not told',
    ...(volume.readOnly ? ['read-only'] : []),
  ];
  return (
    <Box sx={{ py: 0.75, borderTop: `1px solid ${ink('rule')}` }}>
      <Box sx={{ display: 'flex', justifyContent: 'space-between', gap: 1, fontSize: 14 }}>
        <Box component="b" sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
          {volume.label}
        </Box>
        <span style={{ whiteSpace: 'nowrap' }}>{bytesText(volume.freeBytes)} free</span>
      </Box>
      <Typography variant="caption" component="div" sx={{ color: ink('second') }}>
        {facts.join(' · ')}
      </Typography>
    </Box>
  );
}
