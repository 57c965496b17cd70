export const DIRECTIONS = ['write', 'read'] as const;
/** Which way bytes go, seen from the machine. */
export type Direction = (typeof DIRECTIONS)[number];
