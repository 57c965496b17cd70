import type { Browser, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Project } from '#core/sizing/project.ts';
import { callApi, removeFolder, startApp, type App } from '../support/app.ts';
import { launchBrowser, openPage, press, textOf, typeInto, waitForText } from '../support/browser.ts';

/** The place Sizing: what a project needs, and why the cheap build fails. */
let app: App;
let browser: Browser;
let page: Page;
let faults: string[];
beforeAll(async () => {
  app = await startApp({ standInSpeed: 50 });
  browser = await launchBrowser();
  ({ page, faults } = await openPage(browser, app.address));
});
afterAll(async () => {
  await browser.close();
  await app.stop();
  removeFolder(app.dataFolder);
});

const projects = async () => (await callApi(app, 'GET', '/projects')).document as Project[];

describe('the place Sizing', () => {
  it('shows the cheapest build, when each is full, and why the tempting one fails', async () => {
    await page.goto(`${app.origin}/sizing`);
    await page.waitForSelector('[data-material="Kelp cache"]');
    await waitForText(page, /builds do what is asked for room and Night shoot/);
    const chosen = await textOf(page, '[data-build]');
    expect(chosen).toMatch(/Anchor 16T.*usable for .* EUR.*of room is left/);
    expect(await page.$$('[data-held]')).toHaveLength(3);
    await page.waitForSelector('[data-held="not-writing"]');
    await waitForText(page, /full on day \d+/);
    await page.$eval('[data-tempting="writing"]', (button) => (button as HTMLElement).click());
    await waitForText(page, /held there by Ethernet 1 Gb\/s.*Ruled out: it does not hold what is recorded/s);
  });

  it('searches again while a policy is moved, and draws cost against margin', async () => {
    await press(page, 'Cost and margin');
    await page.waitForSelector('[data-front="front-1"]');
    await page.$eval('[data-front="front-1"]', (dot) => dot.dispatchEvent(new MouseEvent('click', { bubbles: true })));
    const before = await textOf(page, '[data-build]');
    await page.focus('input[aria-label="Filled at most"]');
    for (let steps = 0; steps < 6; steps += 1) await page.keyboard.press('ArrowLeft');
    await page.waitForFunction(
      (old) =>
        document
          .querySelector('[data-build]')
          ?.textContent?.replace(/[\s\u202f]+/g, ' ')
          .trim() !== old,
      {},
      before,
    );
    expect(faults).toEqual([]);
  });

  it('moves how long a material is kept on the picture, and takes it back', async () => {
    await press(page, 'Over the days');
    await page.waitForSelector('[data-keep="Three cameras"]');
    await page.$eval('[data-keep="Three cameras"]', (handle) => (handle as SVGElement).focus());
    for (let steps = 0; steps < 30; steps += 1) await page.keyboard.press('ArrowLeft');
    await waitForText(page, 'Three cameras, kept 26 days');
    await waitForText(page, /The fullest day is day (?!64)\d+/);
    await press(page, 'As planned');
    await waitForText(page, 'Three cameras, kept to the end');
    expect((await projects())[0]!.example).toBe(true);
  });

  it('keeps a plan that was typed, and says what is wrong with it', async () => {
    await press(page, 'Change the plan');
    await typeInto(page, 'Days', '0');
    await waitForText(page, 'Something above cannot be used yet.');
    await typeInto(page, 'Days', '60');
    await typeInto(page, 'Material', 'Cameras');
    await waitForText(page, 'has no name or no amount');
    await typeInto(page, 'Material', 'Cameras: 400 GB a day, days 1–20, keep 10 days');
    await press(page, 'Keep');
    await page.waitForFunction(() => document.querySelector('[role="dialog"]') === null);
    await page.waitForSelector('[data-material="Cameras"]');
    const [kept] = await projects();
    expect(kept).toMatchObject({
      example: false,
      plan: { days: 60, materials: [{ bytesPerDay: 400e9, keepDays: 10 }] },
    });
    expect(faults).toEqual([]);
  });

  it('refuses a project that is none, and changes nothing', async () => {
    const [kept] = await projects();
    const broken = { ...kept!, plan: { ...kept!.plan, days: -3 } };
    const { status, document } = await callApi(app, 'PUT', `/projects/${kept!.id}`, broken);
    expect(status).toBe(422);
    expect((document as { detail: string }).detail).toMatch(/days/);
    expect(await projects()).toEqual([kept]);
    expect((await callApi(app, 'DELETE', '/projects/nobody')).status).toBe(404);
  });
});
