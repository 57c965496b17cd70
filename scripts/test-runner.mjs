// Runs checks and test projects, in lanes side by side, and adds up what passed and failed. Files of whole programs,
// browsers and disks in which something failed are run once more at the end, with nothing beside them: what fails twice
// has failed, and what a busy machine failed is told with its first failure.
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

/** What a machine that has too much to do at a moment may fail: all that waits for programs, browsers and disks. */
const WHOLE_PROJECTS = ['screens', 'house', 'disks', 'journeys', 'proof'];
/** More than this is no moment of a machine. */
const MOST_FILES_AGAIN = 4;

/** Counts of one file of a report; one that does not load counts as a failed test. */
function outcomeOf({ name, status, message, assertionResults }) {
  const those = (...states) => assertionResults.filter((test) => states.includes(test.status));
  const wrong = those('failed').map((test) => `${test.fullName}: ${firstLine(test.failureMessages[0])}`);
  if (status === 'failed' && wrong.length === 0) wrong.push(`${name}: ${firstLine(message)}`);
  const skipped = those('pending', 'skipped').map((test) => test.fullName);
  return { name, passed: those('passed').length, failed: wrong.length, skipped, wrong };
}

const added = (outcomes) => ({
  passed: outcomes.reduce((sum, { passed }) => sum + passed, 0),
  failed: outcomes.reduce((sum, { failed }) => sum + failed, 0),
  skipped: outcomes.flatMap(({ skipped }) => skipped),
  wrong: outcomes.flatMap(({ wrong }) => wrong),
});

/** A test project of vitest.config.ts, or those of its files whose paths hold one of some words. */
export const tests =
  (project, ...files) =>
  async () => {
    const name = [project, ...files.map((file) => file.replace(`${root}/`, ''))].join('-').replaceAll('/', '-');
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
    const outcomes = report.testResults.map(outcomeOf);
    const sum = added(outcomes);
    if (sum.failed === 0 && status !== 0)
      return { ...sum, failed: 1, wrong: [...sum.wrong, `${name} ended with status ${status}`] };
    if (!WHOLE_PROJECTS.includes(project)) return sum;
    const [again, right] = [outcomes.filter(({ failed }) => failed > 0), outcomes.filter(({ failed }) => failed === 0)];
    return { ...added(right), again: again.map((outcome) => ({ project, outcome })) };
  };

/** Runs files once more, one after the other; what passes now is told with why it did not before. */
async function triedAgain(files) {
  const results = [];
  for (const { project, outcome } of files) {
    if (files.length > MOST_FILES_AGAIN) {
      results.push(outcome);
      continue;
    }
    const { again, ...rest } = await tests(project, outcome.name)();
    const second = again?.[0]?.outcome ?? rest;
    if (second.failed === 0)
      for (const one of outcome.wrong) process.stdout.write(`passed at the second try, alone: ${one}\n`);
    results.push(second);
  }
  return results;
}

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
  all.push(...(await triedAgain(all.flatMap(({ again }) => again ?? []))));
  const sum = (key) => all.reduce((total, result) => total + result[key], 0);
  for (const name of all.flatMap((result) => result.skipped)) process.stdout.write(`skipped: ${name}\n`);
  for (const one of all.flatMap((result) => result.wrong)) process.stdout.write(`failed: ${one}\n`);
  process.stdout.write(`${sum('passed')} passed, ${sum('failed')} failed\n`);
  process.exitCode = sum('failed') === 0 ? 0 : 1;
}
