import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { AxeResults } from 'axe-core';
import type { Browser, Page } from 'puppeteer-core';
import { inspect } from './inspect.ts';
import { EMPTY_SCENES, scenesOf } from './scenes.ts';
import { SIZES, THEMES, enter, openScene, type Theme } from './walk.ts';
import { startWorkspace } from './workspace.ts';
import { removeFolder, root, startApp } from '../support/app.ts';
import { launchBrowser } from '../support/browser.ts';

/** Screens that are looked at side by side. */
const LANES = 3;

const axe = readFileSync(join(root, 'node_modules', 'axe-core', 'axe.min.js'), 'utf8');

/** Contrast is left out of it: {@link inspect} looks at that of every word, those in pictures too, in a tenth of the time. */
async function axeFindings(page: Page): Promise<string[]> {
  await page.evaluate(axe);
  const { violations } = await page.evaluate(() =>
    (globalThis as unknown as { axe: { run: (options: object) => Promise<AxeResults> } }).axe.run({
      resultTypes: ['violations'],
      rules: { 'color-contrast': { enabled: false } },
    }),
  );
  return violations.flatMap(({ id, help, nodes }) => nodes.map((node) => `${id}: ${help}: ${node.html.slice(0, 160)}`));
}

/** Turns a page to a theme, as another tab of the browser does where it is chosen. */
async function turnTo(page: Page, theme: Theme): Promise<void> {
  await page.evaluate(async (mode) => {
    localStorage.setItem('mui-mode', mode);
    window.dispatchEvent(new StorageEvent('storage', { key: 'mui-mode', newValue: mode }));
    const frame = () => new Promise((resolve) => requestAnimationFrame(resolve));
    while (!document.documentElement.hasAttribute(`data-${mode}`)) await frame();
    await frame();
    // Colours that go over into each other are looked at when they are there.
    const going = document.getAnimations().filter(({ effect }) => effect?.getComputedTiming().iterations !== Infinity);
    await Promise.all(going.map((one) => one.finished.catch(() => undefined)));
  }, theme);
}

/**
 * What is wrong with screens in both themes: words that collide, are cut off or leave the window, contrast, faults of the
 * page, what axe finds, and pictures that are too small. The sizes take turns; `npm run screens` walks all of them.
 */
export async function wrongWithScreens(): Promise<string[]> {
  const [workspace, empty] = await Promise.all([startWorkspace(), startApp({ empty: true })]);
  // A page behind another is hidden, and gets no frames: each lane has a browser of its own.
  const browsers = await Promise.all(Array.from({ length: LANES }, () => launchBrowser()));
  const found: string[] = [];
  try {
    for (const browser of browsers) await enter(browser, [workspace.app, empty]);
    const all = [
      ...EMPTY_SCENES.map((scene) => ({ app: empty, scene })),
      ...scenesOf(workspace).map((scene) => ({ app: workspace.app, scene })),
    ].filter(({ scene }) => !scene.isVariant);
    const look = async (browser: Browser, { app, scene }: (typeof all)[number], index: number) => {
      const size = SIZES[index % SIZES.length]!;
      const [first, second] = THEMES;
      const { page, faults } = await openScene(browser, app, scene, size, first);
      const { pictureShare, ...findings } = await inspect(page);
      await turnTo(page, second);
      const faulty = [
        ...Object.values(findings).flat(),
        ...(await inspect(page)).faint.map((one) => `${second}: ${one}`),
        ...faults,
        ...(await axeFindings(page)),
      ];
      if (pictureShare < (scene.pictureShare ?? 0)) faulty.push(`its pictures take ${pictureShare.toFixed(2)} of it`);
      found.push(...faulty.map((one) => `${scene.name} at ${size[0]}: ${one}`));
      await page.close();
    };
    const waiting = [...all.entries()];
    const lane = async (browser: Browser) => {
      for (let next = waiting.shift(); next; next = waiting.shift()) await look(browser, next[1], next[0]);
    };
    await Promise.all(browsers.map(lane));
  } finally {
    for (const browser of browsers) await browser.close();
    for (const app of [workspace.app, empty]) {
      await app.stop();
      removeFolder(app.dataFolder);
    }
  }
  return found;
}
