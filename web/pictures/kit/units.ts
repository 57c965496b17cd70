/** Rates are read in MB/s in every picture. */
export const MEGABYTE = 1e6;
export const GIGABYTE = 1e9;

/** Unit in which a span of time is read along an axis. */
export function timeUnitFor(longestSeconds: number): { seconds: number; name: string; short: string } {
  if (longestSeconds > 3 * 3600) return { seconds: 3600, name: 'hours', short: 'h' };
  return longestSeconds > 180
    ? { seconds: 60, name: 'minutes', short: 'min' }
    : { seconds: 1, name: 'seconds', short: 's' };
}
