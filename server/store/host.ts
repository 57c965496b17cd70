import { randomUUID } from 'node:crypto';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { hostname } from 'node:os';
import { join } from 'node:path';

/** A machine that measures, by the data folder of its Tavrox: two folders on one machine are two. */
export interface Host {
  id: string;
  /** As its system calls it. */
  name: string;
}

/** The host that a data folder belongs to, made on first use. */
export function hostOf(dataFolder: string): Host {
  const file = join(dataFolder, 'host.json');
  const name = hostname().slice(0, 120);
  try {
    return { id: (JSON.parse(readFileSync(file, 'utf8')) as Host).id, name };
  } catch {
    const host: Host = { id: `h-${randomUUID().slice(0, 13)}`, name };
    mkdirSync(dataFolder, { recursive: true, mode: 0o700 });
    writeFileSync(file, JSON.stringify(host), { mode: 0o600 });
    return host;
  }
}
