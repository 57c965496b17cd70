import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { removeFolder, root, startApp } from '../support/app.ts';
import { launchBrowser } from '../support/browser.ts';
import { inspect } from './inspect.ts';
import { EMPTY_SCENES, scenesOf } from './scenes.ts';
import { SIZES, THEMES, enter, openScene } from './walk.ts';
import { startWorkspace } from './workspace.ts';

/** Walks every screen at every size in both themes, prints what is wrong, and leaves pictures in dist/screens. */
const only = process.argv[2];
const folder = join(root, 'dist', 'screens');
mkdirSync(folder, { recursive: true });

const workspace = await startWorkspace();
const empty = await startApp({ empty: true });
const browser = await launchBrowser();
await enter(browser, [workspace.app, empty]);
let [looked, wrong] = [0, 0];
try {
  const all = [
    ...EMPTY_SCENES.map((scene) => ({ app: empty, scene })),
    ...scenesOf(workspace).map((scene) => ({ app: workspace.app, scene })),
  ].filter(({ scene }) => only === undefined || scene.name.includes(only));
  for (const { app, scene } of all) {
    for (const theme of THEMES) {
      for (const size of SIZES) {
        const { page, faults } = await openScene(browser, app, scene, size, theme);
        const { pictureShare, ...findings } = await inspect(page);
        const lines = [
          ...Object.entries(findings).flatMap(([kind, texts]) => texts.map((text) => `${kind}: ${text}`)),
          ...faults.map((fault) => `fault: ${fault}`),
          ...(pictureShare < (scene.pictureShare ?? 0) ? [`picture: ${pictureShare.toFixed(2)} of the window`] : []),
        ];
        looked += 1;
        if (lines.length > 0) wrong += 1;
        for (const line of lines) console.log(`${scene.name} ${theme} ${size[0]}: ${line}`);
        await page.screenshot({ path: join(folder, `${scene.name}-${theme}-${size[0]}.png`) });
        await page.close();
      }
    }
  }
} finally {
  await browser.close();
  for (const app of [workspace.app, empty]) {
    await app.stop();
    removeFolder(app.dataFolder);
  }
}
console.log(`${looked} screens looked at, ${wrong} with something wrong`);
process.exitCode = wrong === 0 ? 0 : 1;
