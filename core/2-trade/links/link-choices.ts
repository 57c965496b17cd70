import { hopOf, type Hop } from '#core/2-trade/links/connection.ts';
import { LINK_KINDS } from '#core/2-trade/links/links.ts';

/** Lanes that slots and cables have. */
const LANES = [1, 2, 4];

/** Links that a drive could be put behind, slowest first. */
export function linkChoices(): Hop[] {
  return LINK_KINDS.flatMap((kind) =>
    (kind.lanes === 'counted' ? LANES : [1]).flatMap((lanes) => hopOf(kind.id, lanes) ?? []),
  ).sort((a, b) => a.ceilingBytesPerSecond - b.ceilingBytesPerSecond);
}
