import { defineConfig } from 'vitest/config';

/** What waits for a condition waits long: a machine may have more to do. */
const PATIENT = { expect: { poll: { timeout: 100_000 } } } as const;

/** Whole programs, browsers and disks: one file at a time, and patience. */
const whole = {
  ...PATIENT,
  fileParallelism: false,
  testTimeout: 240_000,
  hookTimeout: 120_000,
  pool: 'forks',
  // With TAVROX_TEST_STORE=postgres what programs keep is kept on a PostgreSQL server of the tests.
  ...(process.env['TAVROX_TEST_STORE'] === 'postgres' ? { globalSetup: ['server/testing/postgres-setup.ts'] } : {}),
} as const;

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'unit',
          ...PATIENT,
          include: ['{core,engine,server,demo,cli,web}/**/*.test.{ts,tsx}'],
          setupFiles: ['core/testing/seed.ts'],
          testTimeout: 180_000,
          hookTimeout: 120_000,
          // Nothing is changed that another file would see; loading everything anew for each takes a third of the time.
          isolate: false,
        },
      },
      // What the store does, on a PostgreSQL server: the same tests, and those of several machines in one house.
      {
        test: {
          name: 'house',
          include: ['server/{store,runs,archive}/**/*.test.ts', 'e2e/house/*.test.ts'],
          ...whole,
          globalSetup: ['server/testing/postgres-setup.ts'],
        },
      },
      // The real interface on stand-ins: may run beside anything.
      { test: { name: 'screens', include: ['e2e/screens/*.test.ts'], ...whole } },
      // The whole program on real disks.
      { test: { name: 'disks', include: ['e2e/disks/*.test.ts'], ...whole } },
      // Whole jobs of whole people; what measures stands alone, so that nothing computes beside it.
      { test: { name: 'journeys', include: ['e2e/journeys/*.test.ts'], ...whole, testTimeout: 300_000 } },
      { test: { name: 'proof', include: ['e2e/proof/*/*.test.ts'], ...whole, testTimeout: 300_000 } },
    ],
  },
});
