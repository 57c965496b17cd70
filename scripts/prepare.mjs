// What has to be there before anything runs: dependencies and the built program. Uses nothing but
// Node, and does nothing when nothing changed.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = dirname(dirname(fileURLToPath(import.meta.url)));
const stampFile = join(root, 'dist', 'built-from');
const installedFile = join('node_modules', '.package-lock.json');
const sources = [
  ...['core', 'engine', 'server', 'demo', 'cli', 'web', 'scripts'],
  ...['package-lock.json', installedFile, 'vite.config.ts'],
];

/** Runs a command of the project; its output goes to standard error. */
export function run(command, args, options = {}) {
  const result = spawnSync(command, args, { cwd: root, stdio: ['ignore', 2, 2], ...options });
  if (result.error) throw result.error;
  return result.status ?? 1;
}

function dependenciesAreCurrent() {
  const installed = join(root, installedFile);
  if (!existsSync(installed)) return false;
  const wanted = JSON.parse(readFileSync(join(root, 'package-lock.json'), 'utf8')).packages;
  const present = JSON.parse(readFileSync(installed, 'utf8')).packages;
  return Object.entries(wanted).every(
    ([name, { version, optional }]) => name === '' || optional === true || present[name]?.version === version,
  );
}

export function ensureDependencies() {
  if (dependenciesAreCurrent()) return;
  process.stderr.write('Installing what Tavrox needs …\n');
  const npm = process.env.npm_execpath;
  const status = npm
    ? run(process.execPath, [npm, 'ci', '--no-audit', '--no-fund'])
    : run('npm', ['ci', '--no-audit', '--no-fund']);
  if (status !== 0) {
    process.stderr.write('The dependencies could not be installed. Check the network and start again.\n');
    process.exit(1);
  }
}

/** One number for all sources and what is installed: names, sizes and times of change. */
function fingerprint() {
  const hash = createHash('sha256');
  const visit = (path) => {
    const info = statSync(path, { throwIfNoEntry: false });
    if (!info) return;
    if (info.isDirectory()) for (const name of readdirSync(path).sort()) visit(join(path, name));
    else if (!path.endsWith('.test.ts')) hash.update(`${path} ${info.size} ${info.mtimeMs}\n`);
  };
  for (const source of sources) visit(join(root, source));
  return hash.digest('hex');
}

const isCurrent = () => existsSync(stampFile) && readFileSync(stampFile, 'utf8') === fingerprint();

/** Builds what is there now. The build has a process of its own: it takes memory. */
function buildAll() {
  const now = fingerprint();
  process.stderr.write('Building what changed; this takes half a minute, and longer on a busy machine …\n');
  if (run(process.execPath, [join(root, 'scripts', 'build.mjs')]) !== 0) {
    process.stderr.write('The build failed; the lines above say where.\n');
    process.exit(1);
  }
  mkdirSync(dirname(stampFile), { recursive: true });
  writeFileSync(stampFile, now);
}

/** A package holds what was built and no sources: there is nothing to prepare. */
const isPackage = () => !existsSync(join(root, 'core'));

export async function prepare() {
  // What was built from these very files was built with what they need.
  if (isPackage() || isCurrent()) return;
  ensureDependencies();
  buildAll();
}
