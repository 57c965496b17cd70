import type { Browser, Page } from 'puppeteer-core';
import { blankPage, openPage } from '../support/browser.ts';
import type { App } from '../support/app.ts';
import type { Scene } from './scenes.ts';
import { LONG_NAME } from './workspace.ts';

export const SIZES = [
  [1280, 800],
  [1024, 768],
  [1600, 1000],
] as const;
export const THEMES = ['dark', 'light'] as const;
export type Theme = (typeof THEMES)[number];

/** Drives of the demo that are shown under long names. */
const DRIVE_NAMES = /(Petrel 2T|Limpet 1T|Skerry 512|Anchor 16T|Cormorant X2|Jetty 4)(?=[",])/g;

/** Lets a browser into applications: their pages can be opened by their paths from then on. */
export async function enter(browser: Browser, apps: readonly App[]): Promise<void> {
  for (const app of apps) await (await openPage(browser, app)).page.close();
}

/** The workload that is chosen where a scene does not say. */
const EXAMPLE_WORKLOAD = 'demo-night-shoot';

/** Opens a scene as somebody finds it who chose this theme and this workload before; the caller closes the page. */
export async function openScene(
  browser: Browser,
  app: App,
  scene: Scene,
  [width, height]: readonly [number, number],
  theme: Theme,
): Promise<{ page: Page; faults: string[] }> {
  const { page, faults } = await blankPage(browser);
  await page.setViewport({ width, height });
  await page.evaluateOnNewDocument(
    (mode, workloadId, drives, longName) => {
      localStorage.setItem('mui-mode', mode);
      // What another scene looked at in Sizing is not come back to.
      localStorage.removeItem('tavrox-last-project');
      const kept = JSON.parse(localStorage.getItem('tavrox-context') ?? '{"state":{},"version":2}') as {
        state: object;
      };
      const state = { ...kept.state, workloadId };
      localStorage.setItem('tavrox-context', JSON.stringify({ ...kept, state }));
      if (!drives) return;
      const ask = window.fetch.bind(window);
      const names = new RegExp(drives, 'g');
      window.fetch = async (...request) => {
        const answer = await ask(...request);
        if (!(answer.headers.get('content-type') ?? '').includes('json')) return answer;
        const renamed = (await answer.text()).replace(names, (name) => `${name} ${longName}`.slice(0, 60));
        return new Response(renamed, { status: answer.status, headers: answer.headers });
      };
    },
    theme,
    scene.workloadId ?? EXAMPLE_WORKLOAD,
    scene.longNames ? DRIVE_NAMES.source : null,
    LONG_NAME,
  );
  await page.goto(app.origin + scene.path);
  await page.waitForSelector(scene.ready).catch(async (error: unknown) => {
    // What stood there instead says why.
    const words = await page.evaluate(() => document.body.innerText.slice(0, 600));
    throw new Error(`${scene.name} was never ready: ${words} ${faults.join(' ')}`, { cause: error });
  });
  await scene.act?.(page);
  // Pictures are loaded with the first that is drawn.
  await page.waitForFunction(() => document.querySelector('main [aria-busy="true"]') === null);
  await page.evaluate(() => document.fonts.ready.then(() => undefined));
  // What is drawn once its size is known comes with the next frames.
  await page.evaluate(() => new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve))));
  return { page, faults };
}
