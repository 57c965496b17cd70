import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, it } from 'vitest';

const root = fileURLToPath(new URL('../..', import.meta.url));

/** What only one of the systems has, or which asks for one of them. */
const OF_A_SYSTEM =
  /process\.platform|\bos\.platform\(|\bplatform\(\)|['"`]\/(?:proc|sys)\/|O_DIRECT|F_NOCACHE|\bkoffi\b|\bdiskutil\b|\bcaffeinate\b|kernel32/;
const HOME = join('engine', 'system');

const sourcesIn = (folder: string): string[] =>
  readdirSync(join(root, folder), { recursive: true, encoding: 'utf8' })
    .map((name) => join(folder, name))
    .filter((name) => /\.tsx?$/.test(name) && !/\.test\.tsx?$/.test(name) && !name.startsWith(HOME));

it('only engine/system knows which system it is', () => {
  const sources = ['core', 'engine', 'server', 'cli', 'demo', 'web'].flatMap(sourcesIn);
  expect(sources.length).toBeGreaterThan(500);
  const knowing = sources.flatMap((name) => {
    const code = readFileSync(join(root, name), 'utf8').replace(/\/\*[\s\S]*?\*\/|\/\/.*$/gm, '');
    const found = OF_A_SYSTEM.exec(code);
    return found ? [`${name}: ${found[0]}`] : [];
  });
  expect(knowing).toEqual([]);
});
