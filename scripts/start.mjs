// npm start: installs what is missing, builds when something changed, serves.
import { prepare } from './prepare.mjs';

await prepare();
const { main } = await import('../dist/node/tavrox.js');
process.exitCode = await main(['node', 'tavrox', 'serve', ...process.argv.slice(2)]);
