// Runs checks and test projects, in lanes side by side, and adds up what passed and failed.
import { spawn } from 'node:child_process';
import { readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { root } from './prepare.mjs';

/** Runs a program and prints what it said when it is done, so that lanes do not write into each other's lines. */
function run(name, program, args) {
  const child = spawn(process.execPath, [join(root, program), ...args], {
    cwd: root,
    // What is read in a file is read without colours.
    env: { ...process.env, ...(process.stderr.isTTY ? {} : { NO_COLOR: '1', FORCE_COLOR: undefined }) },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  process.stderr.write(`… ${name}\n`);
  const output = [];
  child.stdout.on('data', (part) => output.push(part));
  child.stderr.on('data', (part) => output.push(part));
  const began = Date.now();
  return new Promise((resolve) => {
    child.on('close', (status) => {
      const seconds = ((Date.now() - began) / 1000).toFixed(0);
      process.stderr.write(`— ${name}, ${seconds} s\n${Buffer.concat(output).toString()}`);
      resolve(status ?? 1);
    });
  });
}

/** One static check, counted as one test. */
export const check = (name, program, args) => async () => {
  const failed = (await run(name, program, args)) === 0 ? 0 : 1;
  if (failed) process.stderr.write(`${name} failed\n`);
  return { passed: 1 - failed, failed, skipped: [], wrong: failed ? [name] : [] };
};

const firstLine = (text) => String(text).split('\n')[0];

/**
 * A test project of vitest.config.ts, or those of its files whose paths hold one of some words; a file that does not
 * load counts as a failed test.
 */
export const tests =
  (project, ...files) =>
  async () => {
    const name = [project, ...files].join('-').replaceAll('/', '-');
    const file = join(tmpdir(), `tavrox-tests-${process.pid}-${name}.json`);
    const status = await run(`tests: ${name}`, 'node_modules/vitest/vitest.mjs', [
      'run',
      ...files,
      '--project',
      project,
      '--reporter=dot',
      '--reporter=json',
      `--outputFile.json=${file}`,
    ]);
    let report;
    try {
      report = JSON.parse(readFileSync(file, 'utf8'));
    } catch {
      return { passed: 0, failed: 1, skipped: [], wrong: [`${name} ended without a report`] };
    } finally {
      rmSync(file, { force: true });
    }
    const unloaded = report.testResults.filter(
      (one) => one.status === 'failed' && !one.assertionResults.some((test) => test.status === 'failed'),
    );
    const wrong = [
      ...unloaded.map((one) => `${one.name}: ${firstLine(one.message)}`),
      ...report.testResults
        .flatMap((one) => one.assertionResults)
        .filter((test) => test.status === 'failed')
        .map((test) => `${test.fullName}: ${firstLine(test.failureMessages[0])}`),
    ];
    const failed = report.numFailedTests + unloaded.length;
    const skipped = report.testResults
      .flatMap((one) => one.assertionResults)
      .filter((test) => test.status === 'pending' || test.status === 'skipped')
      .map((test) => test.fullName);
    if (failed === 0 && status !== 0) wrong.push(`${name} ended with status ${status}`);
    return { passed: report.numPassedTests, failed: failed === 0 && status !== 0 ? 1 : failed, skipped, wrong };
  };

/** Carries out stages one after the other, the lanes of steps of each side by side; prints the last line and ends with it. */
export async function runStages(...stages) {
  const all = [];
  for (const lanes of stages) {
    const results = await Promise.all(
      lanes.map(async (steps) => {
        const done = [];
        for (const step of steps) done.push(await step());
        return done;
      }),
    );
    all.push(...results.flat());
  }
  const sum = (key) => all.reduce((total, result) => total + result[key], 0);
  for (const name of all.flatMap((result) => result.skipped)) process.stdout.write(`skipped: ${name}\n`);
  for (const one of all.flatMap((result) => result.wrong)) process.stdout.write(`failed: ${one}\n`);
  process.stdout.write(`${sum('passed')} passed, ${sum('failed')} failed\n`);
  process.exitCode = sum('failed') === 0 ? 0 : 1;
}
