import type { Browser, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it, onTestFinished } from 'vitest';
import { removeFolder, startApp, type App } from './support/app.ts';
import { launchBrowser, openPage, press } from './support/browser.ts';

/** Words must not run into each other, out of their place or out of the window. */
let app: App;
let browser: Browser;
beforeAll(async () => {
  app = await startApp();
  browser = await launchBrowser();
});
afterAll(async () => {
  await browser.close();
  await app.stop();
  removeFolder(app.dataFolder);
});

interface Findings {
  overlaps: string[];
  outside: string[];
  clipped: string[];
  pictureShare: number;
}

function inspect(page: Page): Promise<Findings> {
  return page.evaluate(() => {
    const words = [
      ...document.querySelectorAll(
        'svg[role="img"] text, main p, main span, main b, main h1, main h2, main td, main th',
      ),
    ]
      .filter((element) => element.children.length === 0 && (element.textContent ?? '').trim() !== '')
      .map((element) => ({ element, text: element.textContent.trim(), box: element.getBoundingClientRect() }))
      // A list that scrolls may hold more than the window shows.
      .filter(
        ({ element }) => element.closest('main ul') === null || element.getBoundingClientRect().bottom <= innerHeight,
      )
      .filter(({ box }) => box.width > 1 && box.height > 1 && box.left > -999);
    const overlaps: string[] = [];
    for (const [index, one] of words.entries()) {
      for (const other of words.slice(index + 1)) {
        if (one.element.contains(other.element) || other.element.contains(one.element)) continue;
        const width = Math.min(one.box.right, other.box.right) - Math.max(one.box.left, other.box.left);
        const height = Math.min(one.box.bottom, other.box.bottom) - Math.max(one.box.top, other.box.top);
        // Line boxes are taller than their letters: a few pixels of them may meet.
        if (width > 2 && height > 5) overlaps.push(`${one.text} × ${other.text}`);
      }
    }
    const outside = words
      .filter(({ box }) => box.right > innerWidth + 1 || box.bottom > innerHeight + 1 || box.left < 0)
      .map(({ text }) => text);
    const clipped = [...document.querySelectorAll('main td, main h1, header span')]
      .filter(
        (element) => element.scrollWidth > element.clientWidth + 1 && getComputedStyle(element).overflow === 'hidden',
      )
      .filter((element) => getComputedStyle(element).textOverflow !== 'ellipsis')
      .map((element) => element.textContent ?? '');
    const picture = document.querySelector('main svg[role="img"]:not([width="14"])')!.getBoundingClientRect();
    return { overlaps, outside, clipped, pictureShare: (picture.width * picture.height) / (innerWidth * innerHeight) };
  });
}

const SIZES = [
  [1280, 800],
  [1024, 768],
  [1600, 1000],
] as const;

describe.each(SIZES)('at %i × %i', (width, height) => {
  it.each(['dark', 'light'])('nothing collides, is cut off or leaves the window, %s', async (theme) => {
    const { page } = await openPage(browser, app.address);
    onTestFinished(() => page.close());
    await page.setViewport({ width, height });
    await page.waitForSelector(
      `::-p-aria([name="Use the ${theme === 'dark' ? 'light' : 'dark'} theme"]), ::-p-aria([name="Use the ${theme} theme"])`,
    );
    const switcher = await page.$(`::-p-aria([name="Use the ${theme} theme"])`);
    if (switcher) await press(page, `Use the ${theme} theme`);
    for (const [path, ready, leastShare] of [
      ['/measure/runs/demo-petrel-take', '[data-pass]', 0.3],
      ['/measure/runs/demo-petrel-passes', '[data-pass]', 0.3],
      ['/measure/runs/demo-anchor-passes', '[data-pass]', 0.3],
      ['/fit', '[data-mark]', 0.14],
    ] as const) {
      await page.goto(app.origin + path);
      await page.waitForSelector(ready);
      await page.evaluate(() => document.fonts.ready.then(() => undefined));
      const { pictureShare, ...faults } = await inspect(page);
      expect(faults, `${path} ${theme} at ${width}`).toEqual({ overlaps: [], outside: [], clipped: [] });
      expect(pictureShare, path).toBeGreaterThan(leastShare);
    }
  });
});
