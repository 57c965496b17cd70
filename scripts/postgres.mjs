// PostgreSQL for the tests of a store that many machines share: Debian's package, where there is none.
import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { installPackages } from './chromium.mjs';

const versions = '/usr/lib/postgresql';

/** Folder of the newest server's programs; null where there is none. */
export function postgresPrograms() {
  if (!existsSync(versions)) return null;
  const [newest] = readdirSync(versions)
    .filter((name) => existsSync(join(versions, name, 'bin', 'initdb')))
    .sort((a, b) => Number(b) - Number(a));
  return newest === undefined ? null : join(versions, newest, 'bin');
}

/** With what makes certificates and networks for a house; without them the tests that need them are skipped by name. */
export function ensurePostgres() {
  const missing = [
    ...(postgresPrograms() === null ? ['postgresql'] : []),
    ...(existsSync('/usr/bin/openssl') ? [] : ['openssl']),
    ...(existsSync('/usr/bin/ip') || existsSync('/sbin/ip') ? [] : ['iproute2']),
  ];
  if (missing.length > 0) installPackages(missing);
}
