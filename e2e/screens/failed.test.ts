import type { Browser } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { removeFolder, startApp, type App } from '../support/app.ts';
import { launchBrowser, openPage, press, waitForText } from '../support/browser.ts';

/** What a person sees instead of a place that cannot be shown. */
describe('a place that cannot be shown', () => {
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

  it.each([
    ['measure/runs/0198-none', /There is no run/, 'Go to Measure', '/measure'],
    ['drives/none', /This drive is not here\. It may have been deleted/, 'Go to Drives', '/drives'],
    ['workloads/none', /This workload is not here\./, 'Go to Workloads', '/workloads'],
    ['sizing/none', /This project is not here\./, 'Go to Sizing', '/sizing'],
  ])('says so of %s, and leads on', async (path, words, next, place) => {
    const { page } = await openPage(browser, app);
    await page.goto(`${app.origin}/${path}`);
    await waitForText(page, 'It is not here');
    await waitForText(page, words);
    // The rail stays.
    expect(await page.$('nav[aria-label="Places"]')).not.toBeNull();
    await press(page, next);
    await page.waitForFunction((start) => location.pathname.startsWith(start), {}, place);
    await page.waitForFunction(() => !document.body.innerText.includes('It is not here'));
    await page.close();
  });

  it('says that the server does not answer where a place is to be loaded from it', async () => {
    const { page } = await openPage(browser, app);
    await page.setOfflineMode(true);
    // A place that this browser has not kept from before.
    await press(page, 'Copies');
    await waitForText(page, 'This place could not be loaded');
    await waitForText(page, /The server does not answer, or Tavrox was updated/);
    await page.setOfflineMode(false);
    await press(page, 'Load the page again');
    await waitForText(page, 'What a copy takes');
    await page.close();
  });
});
