import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { AxeResults } from 'axe-core';
import type { Browser, Page } from 'puppeteer-core';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { inspect } from './inspect.ts';
import { EMPTY_SCENES, scenesOf } from './scenes.ts';
import { SIZES, THEMES, enter, openScene } from './walk.ts';
import { startWorkspace, type Workspace } from './workspace.ts';
import { removeFolder, root, startApp, type App } from '../support/app.ts';
import { launchBrowser } from '../support/browser.ts';

/** Screens that are looked at side by side. */
const LANES = 3;

/**
 * Every screen in the dark theme, one of every place and sheet in the light one: words must not collide, be cut off or
 * leave the window, and axe must find nothing. The sizes take turns; `npm run screens` walks all of them.
 */
let workspace: Workspace;
let empty: App;
let browsers: Browser[];
beforeAll(async () => {
  [workspace, empty] = await Promise.all([startWorkspace(), startApp({ empty: true })]);
  // A page behind another is hidden, and gets no frames: each lane has a browser of its own.
  browsers = await Promise.all(Array.from({ length: LANES }, () => launchBrowser()));
  for (const browser of browsers) await enter(browser, [workspace.app, empty]);
});
afterAll(async () => {
  for (const browser of browsers) await browser.close();
  for (const app of [workspace.app, empty]) {
    await app.stop();
    removeFolder(app.dataFolder);
  }
});

const axe = readFileSync(join(root, 'node_modules', 'axe-core', 'axe.min.js'), 'utf8');

async function axeFindings(page: Page): Promise<string[]> {
  await page.evaluate(axe);
  const { violations } = await page.evaluate(() =>
    (globalThis as unknown as { axe: { run: (options: object) => Promise<AxeResults> } }).axe.run({
      resultTypes: ['violations'],
    }),
  );
  return violations.flatMap(({ id, help, nodes }) => nodes.map((node) => `${id}: ${help}: ${node.html.slice(0, 160)}`));
}

it.each(THEMES)('nothing is wrong with any screen, %s', { timeout: 480_000 }, async (theme) => {
  const all = [
    ...EMPTY_SCENES.map((scene) => ({ app: empty, scene })),
    ...scenesOf(workspace).map((scene) => ({ app: workspace.app, scene })),
  ].filter(({ scene }) => (theme === 'dark' ? !scene.isVariant : scene.stands));
  const found: string[] = [];
  const look = async (browser: Browser, { app, scene }: (typeof all)[number], index: number) => {
    const size = SIZES[(index + THEMES.indexOf(theme)) % SIZES.length]!;
    const { page, faults } = await openScene(browser, app, scene, size, theme);
    const { pictureShare, ...findings } = await inspect(page);
    const faulty = [...Object.values(findings).flat(), ...faults, ...(await axeFindings(page))];
    if (pictureShare < (scene.pictureShare ?? 0)) faulty.push(`its pictures take ${pictureShare.toFixed(2)} of it`);
    found.push(...faulty.map((one) => `${scene.name} at ${size[0]}: ${one}`));
    await page.close();
  };
  const waiting = [...all.entries()];
  const lane = async (browser: Browser) => {
    for (let next = waiting.shift(); next; next = waiting.shift()) await look(browser, next[1], next[0]);
  };
  await Promise.all(browsers.map(lane));
  expect(found).toEqual([]);
});
