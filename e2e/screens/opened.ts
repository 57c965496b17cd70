import type { Browser, Page } from 'puppeteer-core';
import { removeFolder, startApp, type App } from '../support/app.ts';
import { launchBrowser, openPage, press } from '../support/browser.ts';

/** A server on a workspace of its own with a page open on it. */
export interface OpenedApp {
  app: App;
  page: Page;
  /** What went wrong in the page so far. */
  faults: string[];
  close: () => Promise<void>;
}

export async function openApp(options: Parameters<typeof startApp>[0]): Promise<OpenedApp> {
  const app = await startApp(options);
  const browser: Browser = await launchBrowser();
  const { page, faults } = await openPage(browser, app);
  const close = async () => {
    await browser.close();
    await app.stop();
    removeFolder(app.dataFolder);
  };
  return { app, page, faults, close };
}

/** Chooses something of the menu under a project's name. */
export async function chooseOfProject(page: Page, item: string): Promise<void> {
  // One that is closing reads the same.
  await page.waitForFunction(() => document.querySelector('[role="menu"]') === null);
  await page.waitForSelector('button h1');
  await page.$eval('button h1', (name) => name.closest('button')!.click());
  await press(page, item);
}
