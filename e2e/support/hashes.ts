import { createHash } from 'node:crypto';
import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';

/** Hashes of the files in a folder, by name: of all that lies in it, or of some. */
export const hashesIn = (folder: string, names = readdirSync(folder)): Record<string, string> =>
  Object.fromEntries(
    names.map((name) => [
      name,
      createHash('sha256')
        .update(readFileSync(join(folder, name)))
        .digest('hex'),
    ]),
  );
