import { createHash } from 'node:crypto';
import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';

/** Hashes of the files in a folder, by name. */
export const hashesIn = (folder: string): Record<string, string> =>
  Object.fromEntries(
    readdirSync(folder).map((name) => [
      name,
      createHash('sha256')
        .update(readFileSync(join(folder, name)))
        .digest('hex'),
    ]),
  );
