/** What a drive keeps its bytes on, or behind what. */
export const MEDIA = ['flash', 'spinning', 'memory', 'network', 'unknown'] as const;
export type Medium = (typeof MEDIA)[number];
