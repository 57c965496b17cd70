// Runs one command line after the other in this process, so that a thousand of them take no thousand starts. Each line
// that comes is the arguments as JSON; each that goes is the exit code and what was written.
import { createInterface } from 'node:readline';
import { main } from '../../../dist/node/tavrox.js';

const tell = process.stdout.write.bind(process.stdout);
const written = { stdout: '', stderr: '' };
for (const name of ['stdout', 'stderr']) {
  // What only looks whether it is written to a terminal goes on as it is.
  process[name].setMaxListeners(0);
  process[name].write = (text) => {
    written[name] += text;
    return true;
  };
}
for await (const line of createInterface({ input: process.stdin })) {
  Object.assign(written, { stdout: '', stderr: '' });
  process.exitCode = undefined;
  const code = await main(['node', 'tavrox', ...JSON.parse(line)]).catch((error) => `threw ${error?.stack ?? error}`);
  tell(`${JSON.stringify({ code, ...written })}\n`);
}
