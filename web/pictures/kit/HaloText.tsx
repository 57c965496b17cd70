import type { SVGProps } from 'react';
import { ink } from '../../theme/tokens.ts';

/** Words over a drawing: the ground shines around them, so that no line runs through a letter. */
export function HaloText({ halo = 4, ...text }: SVGProps<SVGTextElement> & { halo?: number }) {
  return <text stroke={ink('page')} strokeWidth={halo} paintOrder="stroke" {...text} />;
}
