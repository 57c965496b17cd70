import fc from 'fast-check';

/**
 * How much a proof does: all that is asked of it, or with TAVROX_PROOF=short as much as each change is held against.
 */
export const extent = <T>(whole: T, short: T): T => (process.env['TAVROX_PROOF'] === 'short' ? short : whole);

/**
 * Holds a property against made up values for so long; what is begun is always ended, however slow. The whole proof makes
 * them up anew each time; the short one always in the same order, so that a change is not held to account for cases that
 * nobody saw before.
 */
export async function holdsForSeconds<Value>(property: fc.IAsyncProperty<Value>, seconds: number): Promise<void> {
  const end = Date.now() + seconds * 1000;
  let seed = extent(Date.now() | 0, 20_261_130);
  do await fc.assert(property, { numRuns: 5, endOnFailure: true, seed: (seed += 1) });
  while (Date.now() < end);
}
