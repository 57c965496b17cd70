// Runs checks and test projects one after the other and adds up what passed and failed.
import { readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { root, run } from './prepare.mjs';

/** One static check, counted as one test. */
export function check(name, program, args) {
  process.stderr.write(`— ${name}\n`);
  const failed = run(process.execPath, [join(root, program), ...args]) === 0 ? 0 : 1;
  if (failed) process.stderr.write(`${name} failed\n`);
  return { passed: 1 - failed, failed, skipped: [] };
}

/** Test projects of vitest.config.ts; a file that does not load counts as a failed test. */
export function runTests(projects) {
  process.stderr.write(`— tests: ${projects.join(', ')}\n`);
  const file = join(tmpdir(), `tavrox-tests-${process.pid}.json`);
  const status = run(process.execPath, [
    join(root, 'node_modules/vitest/vitest.mjs'),
    'run',
    ...projects.flatMap((project) => ['--project', project]),
    '--reporter=dot',
    '--reporter=json',
    `--outputFile.json=${file}`,
  ]);
  let report;
  try {
    report = JSON.parse(readFileSync(file, 'utf8'));
  } catch {
    return { passed: 0, failed: 1, skipped: [] };
  } finally {
    rmSync(file, { force: true });
  }
  const unloaded = report.testResults.filter(
    (one) => one.status === 'failed' && !one.assertionResults.some((test) => test.status === 'failed'),
  ).length;
  const failed = report.numFailedTests + unloaded;
  const skipped = report.testResults
    .flatMap((one) => one.assertionResults)
    .filter((test) => test.status === 'pending' || test.status === 'skipped')
    .map((test) => test.fullName);
  return { passed: report.numPassedTests, failed: failed === 0 && status !== 0 ? 1 : failed, skipped };
}

/** Prints the last line and ends with it. */
export function summary(results) {
  const sum = (key) => results.reduce((total, result) => total + result[key], 0);
  for (const name of results.flatMap((result) => result.skipped)) process.stdout.write(`skipped: ${name}\n`);
  process.stdout.write(`${sum('passed')} passed, ${sum('failed')} failed\n`);
  process.exitCode = sum('failed') === 0 ? 0 : 1;
}
