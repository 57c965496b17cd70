// npm run mutants [-- FILE …]: changes core's media, verdict, trace and sizing in small ways, one at a time, and tells which
// changes no test notices. One file after the other, so that only that one is slowed by its switches.
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { prepare, root } from './prepare.mjs';

const FOLDERS = ['core/2-trade/media', 'core/5-answers/verdict', 'core/4-runs/trace', 'core/5-answers/sizing'];

await prepare();
const { Stryker } = await import('@stryker-mutator/core');

const wanted = process.argv.slice(2);
const files = FOLDERS.flatMap((folder) =>
  readdirSync(join(root, folder))
    .filter((name) => name.endsWith('.ts') && !name.endsWith('.test.ts'))
    .map((name) => `${folder}/${name}`),
).filter((file) => wanted.length === 0 || wanted.some((one) => file.startsWith(one)));

const rows = [];
for (const file of files) {
  const results = await new Stryker({ mutate: [file], configFile: 'stryker.config.json' })
    .runMutationTest()
    .catch((error) => process.stdout.write(`${file} could not be looked at: ${error.message}\n`) && null);
  if (results === null) {
    process.exitCode = 1;
    continue;
  }
  const count = (...statuses) => results.filter(({ status }) => statuses.includes(status)).length;
  const row = { file, killed: count('Killed', 'Timeout'), alive: count('Survived', 'NoCoverage') };
  rows.push(row);
  for (const { status, location, replacement, mutatorName } of results) {
    if (status !== 'Survived' && status !== 'NoCoverage') continue;
    const at = `${file}:${location.start.line}:${location.start.column}`;
    process.stdout.write(
      `${status === 'Survived' ? 'alive' : 'unseen'} ${at} ${mutatorName} → ${replacement.split('\n')[0]}\n`,
    );
  }
  process.stdout.write(`${scoreText(row)} ${file}\n`);
}
const sum = (key) => rows.reduce((total, row) => total + row[key], 0);
process.stdout.write(
  `${scoreText({ killed: sum('killed'), alive: sum('alive') })} of all: ${sum('killed')} killed, ${sum('alive')} alive\n`,
);

function scoreText({ killed, alive }) {
  return killed + alive === 0 ? '  –  ' : `${((100 * killed) / (killed + alive)).toFixed(1)} %`;
}
