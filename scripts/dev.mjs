// npm run dev: the server, started anew when its code changes, and Vite's development server in
// front of it, which updates the page as it is edited.
import { spawn } from 'node:child_process';
import { watch } from 'node:fs';
import { join } from 'node:path';
import { prepare, root, run } from './prepare.mjs';

await prepare();
const port = process.env.PORT ?? '4780';
let server;
let vite;
let building = false;

function startServer() {
  server = spawn(process.execPath, ['--enable-source-maps', 'bin/tavrox.js', 'serve', '--port', port], {
    cwd: root,
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  server.stdout.on('data', (text) => {
    const key = /#key=(\S+)/.exec(String(text))?.[1];
    if (!key) return;
    startVite();
    process.stdout.write(`For work on it: http://localhost:4781/#key=${key}\n`);
  });
}

function startVite() {
  vite?.kill();
  const env = { ...process.env, TAVROX_DEV_SERVER: `http://127.0.0.1:${port}` };
  vite = spawn(process.execPath, [join('node_modules', 'vite', 'bin', 'vite.js')], {
    cwd: root,
    stdio: 'inherit',
    env,
  });
}

function restart() {
  if (building) return;
  building = true;
  setTimeout(() => {
    building = false;
    if (run(process.execPath, ['scripts/build.mjs', 'node']) !== 0) return;
    server?.once('exit', startServer);
    server?.kill();
  }, 200);
}

for (const room of ['core', 'engine', 'demo', 'server', 'cli']) watch(join(root, room), { recursive: true }, restart);
process.on('SIGINT', () => {
  server?.kill();
  vite?.kill();
  process.exit(0);
});
startServer();
