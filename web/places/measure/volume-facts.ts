import type { VolumeEntry } from '#core/6-exchange/api/wire.ts';
import { bindingHop } from '#core/2-trade/links/connection.ts';
import { mediumText } from '#core/2-trade/drives/medium.ts';
import { rateText } from '#core/1-ground/units/format.ts';

/** The volumes as they are listed: the machine's own, then the stand-ins. */
export function volumeGroups(volumes: readonly VolumeEntry[]) {
  return [
    { name: 'Attached to this machine', members: volumes.filter((volume) => volume.kind === 'real') },
    { name: 'Stand-ins, simulated', members: volumes.filter((volume) => volume.kind === 'stand-in') },
  ];
}

/** What kind of place a volume is, in words: filesystem, medium, and the link as far as it is reported. */
export function volumeFacts(volume: VolumeEntry): string {
  const hop = bindingHop(volume.connection);
  return [
    volume.kind === 'real' ? volume.filesystem : 'simulated',
    mediumText(volume.medium),
    hop ? `${hop.label}, up to ${rateText(hop.ceilingBytesPerSecond)}` : 'link not told',
  ].join(' · ');
}
