// PostgreSQL for the tests of a store that many machines share: Debian's package, where there is none.
import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { installPackages } from './chromium.mjs';

const versions = '/usr/lib/postgresql';

const hasPostgres = () =>
  existsSync(versions) && readdirSync(versions).some((name) => existsSync(join(versions, name, 'bin', 'initdb')));

/** With what makes certificates and networks for a house; without them the tests that need them are skipped by name. */
export function ensurePostgres() {
  const missing = [
    ...(hasPostgres() ? [] : ['postgresql']),
    ...(existsSync('/usr/bin/openssl') ? [] : ['openssl']),
    ...(existsSync('/usr/bin/ip') || existsSync('/sbin/ip') ? [] : ['iproute2']),
  ];
  if (missing.length > 0) installPackages(missing);
}
