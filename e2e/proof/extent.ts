/**
 * How much a proof does: all that is asked of it, or with TAVROX_PROOF=short as much as each change is held against.
 */
export const extent = (whole: number, short: number): number =>
  process.env['TAVROX_PROOF'] === 'short' ? short : whole;
