/** What a drive keeps its bytes on, or behind what. */
export const MEDIA = ['flash', 'spinning', 'memory', 'network', 'unknown'] as const;
export type Medium = (typeof MEDIA)[number];

export const MEDIUM_NAMES: Readonly<Record<Medium, string>> = {
  flash: 'flash',
  spinning: 'spinning',
  memory: 'memory disk',
  network: 'share',
  unknown: 'drive',
};

/** What is said of memory disks wherever they stand. */
export const LOST_WITH_MACHINE = 'lost when the machine stops';

/** A medium in a list of facts: “memory disk, lost when the machine stops”. */
export function mediumText(medium: Medium): string {
  if (medium === 'unknown') return 'medium not told';
  return medium === 'memory' ? `${MEDIUM_NAMES.memory}, ${LOST_WITH_MACHINE}` : MEDIUM_NAMES[medium];
}

/** How a drive is marked of which nothing was measured. */
export const FROM_ITS_BOX = 'from its box';

/** The mark behind a name, where it is one. */
export const boxMark = (isPromise: boolean | undefined): string => (isPromise ? `, ${FROM_ITS_BOX}` : '');
