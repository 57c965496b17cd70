// Builds everything into dist/: the program and its worker threads (dist/node), the interface
// (dist/web), and an empty prepared store (dist/store), so that a first start need not initialise
// a database.
import { spawn } from 'node:child_process';
import { cpSync, mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { build } from 'esbuild';
import { root } from './prepare.mjs';

/** Runs a program of the project to its end. */
function node(...args) {
  return new Promise((resolve, reject) => {
    // Tests that find the program older than its sources build it too: what is served is always the built interface.
    const env = { ...process.env, NODE_ENV: 'production' };
    const child = spawn(process.execPath, args, { cwd: root, env, stdio: ['ignore', 2, 2] });
    child.on('error', reject);
    child.on('exit', (code) => (code === 0 ? resolve() : reject(new Error(`${args[0]} ended with ${code}.`))));
  });
}

/**
 * What is loaded from node_modules, because it brings files beside its code: the database, native calls, typefaces of
 * documents, threads of the log, and one whose names are lost when it is imported late from a bundle. All else is
 * bundled: that starts a command in half the time.
 */
const LOADED_WHOLE = ['@electric-sql/pglite', 'koffi', 'pdfkit', 'pg', 'pino', 'prom-client'];

async function buildNode() {
  rmSync(join(root, 'dist', 'node'), { recursive: true, force: true });
  await build({
    absWorkingDir: root,
    entryPoints: {
      tavrox: 'cli/main.ts',
      'io-worker': 'engine/volumes/real/io-worker.ts',
      'json-worker': 'server/http/json-worker.ts',
      'prepare-store': 'server/store/prepare-store.ts',
      'archive-worker': 'server/archive/archive-worker.ts',
      'report-worker': 'server/reports/report-worker.ts',
    },
    outdir: 'dist/node',
    bundle: true,
    splitting: true,
    format: 'esm',
    platform: 'node',
    target: 'node20',
    external: [...LOADED_WHOLE, 'pg-native'],
    // What is bundled may be of the older kind, which asks for parts of Node by this.
    banner: {
      js: "import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);",
    },
    sourcemap: true,
    logLevel: 'warning',
  });
  mkdirSync(join(root, 'dist', 'migrations'), { recursive: true });
  cpSync(join(root, 'server', 'store', 'migrations'), join(root, 'dist', 'migrations'), { recursive: true });
}

const only = process.argv[2];
const began = Date.now();
const all = only === 'node' ? 1 : 3;
let done = 0;

/** Says how far it is: who waits sees that it goes on. */
async function part(name, work) {
  await work;
  done += 1;
  process.stderr.write(`  ${done} of ${all}, ${((Date.now() - began) / 1000).toFixed(0)} s: ${name}\n`);
}

await part('the program', buildNode());
if (only !== 'node') {
  await Promise.all([
    part('the interface', node(join('node_modules', 'vite', 'bin', 'vite.js'), 'build', '--logLevel', 'warn')),
    part('the examples', node('--enable-source-maps', join('dist', 'node', 'prepare-store.js'))),
  ]);
}
