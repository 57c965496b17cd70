import type { Medium } from '#core/run/run-document.ts';

/** What a volume's medium is called. */
export const MEDIUM_NAMES: Record<Medium, string> = {
  flash: 'flash',
  spinning: 'spinning',
  memory: 'memory',
  network: 'network',
  unknown: 'medium not told',
};
