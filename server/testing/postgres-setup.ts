import { startPostgres } from '#server/testing/postgres-server.ts';

/** A PostgreSQL server for all tests of a project; without one installed they run on the embedded store, and say so. */
export default async function setup(): Promise<() => Promise<void>> {
  const postgres = await startPostgres();
  if (postgres === null) {
    process.stderr.write(
      'PostgreSQL is not installed: what is tested on it is tested on the embedded store, or skipped.\n',
    );
    return () => Promise.resolve();
  }
  process.env['TAVROX_TEST_POSTGRES'] = postgres.url;
  return () => postgres.remove();
}
