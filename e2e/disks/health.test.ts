import { chmodSync, mkdirSync, writeFileSync } from 'node:fs';
import { delimiter, join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import type { RunSummary } from '#core/4-runs/supply/run-summary.ts';
import { tavroxIn } from '../support/cli.ts';
import { removeFolder, temporaryFolder } from '../support/app.ts';

/** A reader of what drives say of themselves, made for these tests: each time it is asked there is one error more. */
let folder: string;
const readers = (name: string): string => join(folder, name);
function makeReader(name: string, script: string): void {
  mkdirSync(readers(name));
  const path = join(readers(name), 'smartctl');
  writeFileSync(path, `#!/bin/sh\n${script}\n`);
  chmodSync(path, 0o755);
}

const said = (errors: string, worn: number, passed = true) =>
  `echo '{"smart_status":{"passed":${passed}},"temperature":{"current":33},"power_on_time":{"hours":900},` +
  `"nvme_smart_health_information_log":{"percentage_used":${worn},"data_units_written":78125000,"media_errors":'${errors}'}}'`;

beforeAll(() => {
  folder = temporaryFolder('health');
  const asked = join(folder, 'asked');
  makeReader('worse', `echo x >> ${asked}; n=$(wc -l < ${asked})\n${said('$n', 7)}`);
  makeReader('fine', said('0', 7));
  makeReader('silent', 'sleep 60');
  mkdirSync(join(folder, 'drive'));
});
afterAll(() => removeFolder(folder));

async function measured(reader: string): Promise<RunDocument & RunSummary> {
  const { code, stdout, stderr } = await tavroxIn(
    {
      TAVROX_DATA: join(folder, 'data'),
      TAVROX_LOCKS: join(folder, 'locks'),
      PATH: `${readers(reader)}${delimiter}${process.env['PATH']}`,
    },
    ...['measure', join(folder, 'drive'), '--size', '32MB', '--passes', '1', '--json'],
  );
  expect([code, stderr]).toEqual([0, expect.not.stringContaining('smartctl')]);
  return JSON.parse(stdout) as RunDocument & RunSummary;
}
const codesOf = ({ doubts }: RunSummary) => doubts.map(({ code }) => code);

it('what a drive says of itself before and after stands with the run, and errors that came meanwhile are a doubt', async () => {
  const run = await measured('worse');
  expect(run.conditions.told).toMatchObject({
    start: { mediaErrors: 1, wornShare: 0.07, writtenBytes: 40e12, hours: 900 },
    end: { mediaErrors: 2, isFailing: false },
  });
  expect(run.doubts.find(({ code }) => code === 'new-errors')).toMatchObject({
    effect: 'too-high',
    evidence: 'By its own count 1 error in its data came during this run, 2 errors in all.',
  });
  expect(codesOf(await measured('fine'))).not.toContain('new-errors');
});

it('a reader that does not answer holds up no run', async () => {
  const run = await measured('silent');
  expect(run.state).toBe('finished');
  expect(run.conditions.told).toBeNull();
});
