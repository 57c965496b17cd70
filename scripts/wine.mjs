// Wine for the proof on Windows' own Node: Debian's package, on the processors that it is for.
import { existsSync } from 'node:fs';
import { installPackages } from './chromium.mjs';

/** Without it what needs it is skipped by name. */
export function ensureWine() {
  if (process.arch === 'x64' && !existsSync('/usr/lib/wine/wine64')) installPackages(['wine64']);
}
