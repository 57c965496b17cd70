import type { Browser, Page } from 'puppeteer-core';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { removeFolder, startApp, type App } from '../support/app.ts';
import { launchBrowser, openPage } from '../support/browser.ts';

let app: App;
let browser: Browser;
let page: Page;
beforeAll(async () => {
  app = await startApp();
  browser = await launchBrowser();
  ({ page } = await openPage(browser, app));
});
afterAll(async () => {
  await browser.close();
  await app.stop();
  removeFolder(app.dataFolder);
});

it.each([
  ['/measure', '[data-pass]'],
  ['/fit', '[data-mark]'],
  ['/drives', '[data-run-levels]'],
])('what %s shows is printed in ink, one thing under the other, without what is pressed', async (path, ready) => {
  await page.goto(app.origin + path);
  await page.waitForSelector(ready);
  await page.waitForFunction(() => document.querySelector('main [aria-busy="true"]') === null);
  await page.emulateMediaType('print');
  const paper = await page.evaluate(() => {
    const boxOf = (selector: string) => document.querySelector(selector)!.getBoundingClientRect();
    const drawn = [...document.querySelectorAll('main .drawn')].map((one) => one.getBoundingClientRect());
    return {
      ground: getComputedStyle(document.body).backgroundColor,
      ink: getComputedStyle(document.querySelector('main')!).color,
      pressed: [...document.querySelectorAll<HTMLElement>('nav, header, .MuiButton-root')].filter(
        (one) => one.offsetParent !== null,
      ).length,
      isBelow: boxOf('aside').top >= boxOf('main').bottom - 1,
      // Pictures lie within what holds them, so that nothing that follows stands on them.
      lowest: Math.max(...drawn.map(({ bottom }) => bottom)),
      mainEnds: boxOf('main').bottom,
    };
  });
  await page.emulateMediaType('screen');
  expect(paper).toMatchObject({ ground: 'rgb(255, 255, 255)', ink: 'rgb(35, 36, 31)', pressed: 0, isBelow: true });
  expect(paper.lowest).toBeLessThanOrEqual(paper.mainEnds);
});
