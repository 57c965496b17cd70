// npm test: sets up what is missing, then types, lint, formatting, layers, unit and browser tests.
// The last line is "N passed, N failed".
import { prepare } from './prepare.mjs';
import { ensureChromium } from './chromium.mjs';
import { check, runTests, summary } from './test-runner.mjs';

await prepare();
ensureChromium();
const checks = [
  check('types', 'node_modules/typescript/bin/tsc', ['-b']),
  check('lint', 'node_modules/eslint/bin/eslint.js', ['.']),
  check('formatting', 'node_modules/prettier/bin/prettier.cjs', ['--check', '--log-level', 'warn', '.']),
  check('layers', 'node_modules/dependency-cruiser/bin/dependency-cruise.mjs', [
    '--config',
    '.dependency-cruiser.cjs',
    ...['core', 'engine', 'server', 'demo', 'cli', 'web', 'e2e', 'bench'],
  ]),
];
summary([...checks, runTests(['unit', 'e2e'])]);
