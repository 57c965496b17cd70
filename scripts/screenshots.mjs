// npm run screenshots: makes every picture in docs/screenshots anew.
import { ensureChromium } from './chromium.mjs';
import { prepare, run } from './prepare.mjs';

await prepare();
ensureChromium();
process.exitCode = run(process.execPath, ['--import', 'tsx', 'e2e/screenshots.ts']);
