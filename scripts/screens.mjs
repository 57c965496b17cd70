// npm run screens [-- NAME]: walks every screen at every size in both themes; pictures are left in dist/screens.
import { ensureChromium } from './chromium.mjs';
import { prepare, run } from './prepare.mjs';

await prepare();
ensureChromium();
process.exitCode = run(process.execPath, ['--import', 'tsx', 'e2e/screens/matrix.ts', ...process.argv.slice(2)]);
