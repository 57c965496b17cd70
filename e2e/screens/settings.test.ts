import { expect, it, onTestFinished } from 'vitest';
import type { Settings } from '#core/6-exchange/archive/settings.ts';
import { callApi, removeFolder, startApp } from '../support/app.ts';
import { activate, launchBrowser, openPage, waitForText } from '../support/browser.ts';

it('what is chosen for the workspace is kept with it, and another browser has it too', async () => {
  const app = await startApp({ empty: true });
  const browsers = [await launchBrowser(), await launchBrowser()];
  onTestFinished(async () => {
    for (const browser of browsers) await browser.close();
    await app.stop();
    removeFolder(app.dataFolder);
  });
  const { page } = await openPage(browsers[0]!, app);
  await waitForText(page, /Headroom\s*25 %/);
  await activate(page, '//header//button[contains(., "Headroom")]');
  await activate(page, '//*[@role="menuitem"][contains(., "50")]');
  const settings = async () => (await callApi(app, 'GET', '/settings')).document as Settings | null;
  await expect.poll(async () => (await settings())?.headroomShare).toBe(0.5);
  const { page: other } = await openPage(browsers[1]!, app);
  await waitForText(other, /Headroom\s*50 %/);
  // What the other chooses stands here when this page asks anew.
  await activate(other, '//header//button[contains(., "Headroom")]');
  await activate(other, '//*[@role="menuitem"][contains(., "10")]');
  await expect.poll(async () => (await settings())?.headroomShare).toBe(0.1);
  await page.reload();
  await waitForText(page, /Headroom\s*10 %/);
});
