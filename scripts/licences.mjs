// npm run licences: lists every part that is shipped with Tavrox, and under which licence, in docs/licences.md. With
// --check it writes nothing and fails where the list is not of today, or a licence is one that nobody has looked at.
import { existsSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './prepare.mjs';

/** Licences under which parts may be passed on with an MIT program, their texts beside them and unchanged. */
const LOOKED_AT = ['MIT', 'ISC', '0BSD', 'BSD-2-Clause', 'BSD-3-Clause', 'Apache-2.0', 'OFL-1.1', 'MPL-2.0', 'CC0-1.0'];
const LIST = join(root, 'docs', 'licences.md');

const { packages } = JSON.parse(readFileSync(join(root, 'package-lock.json'), 'utf8'));

/** What a part says of its licence where the lock file does not: the first words of the text that lies with it. */
function fromItsText(path) {
  const folder = join(root, path);
  const file = existsSync(folder) && readdirSync(folder).find((name) => /^licen[cs]e/i.test(name));
  const text = file ? readFileSync(join(folder, file), 'utf8') : '';
  return /MIT License|Permission is hereby granted, free of charge/.test(text) ? 'MIT' : 'not told';
}

const parts = Object.entries(packages)
  .filter(([path, { dev, devOptional }]) => path !== '' && !dev && !devOptional)
  .map(([path, { version, license }]) => ({
    name: path.split('node_modules/').at(-1),
    version,
    licence: license ?? fromItsText(path),
  }))
  .sort((a, b) => a.name.localeCompare(b.name, 'en') || a.version.localeCompare(b.version, 'en'));

const unknown = parts.filter(({ licence }) =>
  licence
    .replaceAll(/[()]/g, '')
    .split(/ AND | OR /)
    .some((one) => !LOOKED_AT.includes(one)),
);
for (const { name, licence } of unknown) console.error(`${name}: its licence, “${licence}”, has not been looked at.`);

const count = new Map();
for (const { licence } of parts) count.set(licence, (count.get(licence) ?? 0) + 1);
const sums = [...count].sort((a, b) => b[1] - a[1]).map(([licence, many]) => `${many} under ${licence}`);
const text = `# Licences

Tavrox is under the [MIT licence](../LICENSE). ${parts.length} parts of others are shipped with it, unchanged and with the texts of their licences:
${sums.join(', ')}. Made by \`npm run licences\`.

| part | version | licence |
|---|---|---|
${parts.map(({ name, version, licence }) => `| ${name} | ${version} | ${licence} |`).join('\n')}
`;

if (!process.argv.includes('--check')) writeFileSync(LIST, text);
else if (readFileSync(LIST, 'utf8') !== text) {
  console.error('docs/licences.md is not of today: run npm run licences.');
  process.exitCode = 1;
}
if (unknown.length > 0) process.exitCode = 1;
