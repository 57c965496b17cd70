import type { Direction } from '#core/1-ground/curves/direction.ts';
import { ink } from '../../theme/tokens.ts';

/** Writing is ochre and solid, reading periwinkle in long dashes; nothing else has these. */
export const DIRECTION_STYLE: Record<Direction, { colour: string; dash: string | undefined; name: string }> = {
  write: { colour: ink('writing'), dash: undefined, name: 'writing' },
  read: { colour: ink('reading'), dash: '7 4', name: 'reading' },
};

/** The line of a direction. */
export function directionLine(direction: Direction): { stroke: string; strokeDasharray?: string } {
  const { colour, dash } = DIRECTION_STYLE[direction];
  return { stroke: colour, ...(dash ? { strokeDasharray: dash } : {}) };
}
