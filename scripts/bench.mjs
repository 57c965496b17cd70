// npm run bench: prints the performance table.
import { prepare, run } from './prepare.mjs';

await prepare();
process.exitCode = run(process.execPath, ['--import', 'tsx', 'bench/main.ts', ...process.argv.slice(2)], {
  stdio: 'inherit',
});
