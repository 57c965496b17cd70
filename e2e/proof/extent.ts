import fc from 'fast-check';

/**
 * How much a proof does: all that is asked of it, or with TAVROX_PROOF=short as much as each change is held against.
 */
export const extent = <T>(whole: T, short: T): T => (process.env['TAVROX_PROOF'] === 'short' ? short : whole);

/** Holds a property against values made up anew for so long; what is begun is always ended, however slow. */
export async function holdsForSeconds<Value>(property: fc.IAsyncProperty<Value>, seconds: number): Promise<void> {
  const end = Date.now() + seconds * 1000;
  do await fc.assert(property, { numRuns: 5, endOnFailure: true });
  while (Date.now() < end);
}
