import { defineConfig } from 'vitest/config';

/**
 * What `npm run mutants` runs against every mutant: the tests of core alone. The one on traces of a
 * hundred thousand samples takes minutes in instrumented code, and kills nothing that others leave alive.
 */
export default defineConfig({
  test: {
    include: ['core/**/*.test.ts'],
    testTimeout: 300_000,
    testNamePattern: /^(?!.*keeps at most 2,000 corners)/,
  },
});
