// npm test: sets up what is missing, then types, lint, formatting, layers, unit and browser tests. What measures real
// disks runs in one lane, what does not in the other. The last line is "N passed, N failed".
import { prepare } from './prepare.mjs';
import { ensurePostgres } from './postgres.mjs';
import { ensureChromium, ensurePdfReader } from './chromium.mjs';
import { check, runStages, tests } from './test-runner.mjs';

await prepare();
ensureChromium();
ensurePdfReader();
ensurePostgres();
const types = check('types', 'node_modules/typescript-7/bin/tsc', ['-b']);
const lint = check('lint', 'node_modules/oxlint/bin/oxlint', ['--type-aware', '--tsconfig', 'tsconfig.lint.json']);
const hooks = check('hooks', 'node_modules/eslint/bin/eslint.js', [
  '--cache',
  '--cache-strategy',
  'content',
  '--cache-location',
  'node_modules/.cache/eslint',
  'web',
]);
const formatting = check('formatting', 'node_modules/prettier/bin/prettier.cjs', [
  '--check',
  '--cache',
  '--cache-strategy',
  'content',
  '--log-level',
  'warn',
  '.',
]);
const layers = check('layers', 'node_modules/dependency-cruiser/bin/dependency-cruise.mjs', [
  '--config',
  '.dependency-cruiser.cjs',
  ...['core', 'engine', 'server', 'demo', 'cli', 'web', 'e2e', 'bench'],
]);
const licences = check('licences', 'scripts/licences.mjs', ['--check']);
await runStages(
  [
    [tests('disks'), tests('unit'), types, lint, hooks, formatting, layers, licences],
    [tests('screens'), tests('house')],
  ],
  // People who measure: nothing computes beside them.
  [[tests('journeys')]],
);
