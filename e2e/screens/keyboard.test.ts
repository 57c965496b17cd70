import type { Browser, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { removeFolder, startApp, type App } from '../support/app.ts';
import { launchBrowser, openPage, waitForText } from '../support/browser.ts';

/** The whole job without a pointer. */
let app: App;
let browser: Browser;
let page: Page;
beforeAll(async () => {
  app = await startApp({ standInSpeed: 3 });
  browser = await launchBrowser();
  ({ page } = await openPage(browser, app));
  await page.waitForSelector('[data-pass]');
});
afterAll(async () => {
  await browser.close();
  await app.stop();
  removeFolder(app.dataFolder);
});

/** Name of the control that has the focus, as it is read out; empty for what is none, such as a sheet as a whole. */
const focused = () =>
  page.evaluate(() => {
    const control = document.activeElement;
    if (!control?.matches('a, button, input, [role="option"], [role="radio"], [role="button"], [role="slider"]'))
      return '';
    return (control.getAttribute('aria-label') ?? control.textContent ?? '').trim();
  });

async function tabTo(name: string): Promise<void> {
  for (let steps = 0; steps < 90; steps += 1) {
    if ((await focused()).includes(name)) return;
    await page.keyboard.press('Tab');
  }
  throw new Error(`No way to “${name}” by Tab; the focus is on “${await focused()}”.`);
}

describe('by keyboard alone', () => {
  it('the focus can be seen wherever it is', async () => {
    for (let steps = 0; steps < 12; steps += 1) {
      await page.keyboard.press('Tab');
      const outlined = await page.evaluate(() => {
        const { outlineStyle, outlineWidth } = getComputedStyle(document.activeElement!);
        return outlineStyle !== 'none' && parseFloat(outlineWidth) >= 1;
      });
      expect(outlined, await focused()).toBe(true);
    }
  });

  it('a volume is chosen, a run started and stopped', async () => {
    await tabTo('Petrel 2T, simulated');
    await page.keyboard.press('Enter');
    await waitForText(page, 'Where to measure');
    await tabTo('Petrel 2T');
    // A list is come to once, and gone through with the arrow keys.
    for (let steps = 0; steps < 8 && !(await focused()).includes('Anchor 16T'); steps += 1) {
      await page.keyboard.press('ArrowDown');
    }
    expect(await focused()).toContain('Anchor 16T');
    await tabTo('Measure here');
    await page.keyboard.press('Enter');
    await waitForText(page, 'Anchor 16T, simulated');
    await page.keyboard.press('g');
    await waitForText(page, /pass \d of 6/);
    await page.waitForSelector('[data-figures="read"]');
    await page.keyboard.press('g');
    await waitForText(page, /Anchor 16T.*stopped/);
  });

  it('runs are gone through and the trace is switched', async () => {
    const address = page.url();
    await page.keyboard.press('j');
    await page.waitForFunction((before) => location.href !== before, {}, address);
    await waitForText(page, 'Reads in no order, as games and tools make them.');
    await page.keyboard.press('k');
    await page.waitForFunction((before) => location.href === before, {}, address);
    await page.keyboard.press('x');
    await waitForText(page, 'Show by data moved');
    await page.keyboard.press('x');
  });

  it('footage is added to a workload, from the library', async () => {
    await page.keyboard.press('w');
    await waitForText(page, 'Three cameras');
    await tabTo('Add footage');
    await page.keyboard.press('Enter');
    await waitForText(page, 'Given by');
    await page.focus('[role="listbox"] [role="option"]');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    const chosen = await focused();
    await page.$eval('input[aria-label="Name"]', (field) => field.focus());
    await page.keyboard.type('By keyboard');
    await tabTo('Add');
    await page.keyboard.press('Enter');
    await waitForText(page, /By keyboard[^]*Records/);
    expect(chosen).not.toBe('');
    await page.keyboard.press('Escape');
  });

  it('a mark on the trace says what it is, and goes away again', async () => {
    await page.goto(`${app.origin}/measure/runs/demo-petrel-take`);
    await page.waitForSelector('[data-mark="knee"] [role="button"]');
    await tabTo('Knee at 190 GB');
    await page.keyboard.press('Enter');
    await page.waitForSelector('[role="dialog"][aria-label^="Knee"]');
    await waitForText(page, /190.GB were written at 5,190.MB\/s, in 36\.6.s\. There the rate falls to 1,450.MB\/s/);
    await page.keyboard.press('Escape');
    await page.waitForFunction(() => document.querySelector('[role="dialog"]') === null);
  });

  it('headroom is moved on the ruler, and the verdicts follow', async () => {
    await page.keyboard.press('f');
    await waitForText(page, 'item by item');
    await page.waitForSelector('[data-mark]');
    await tabTo('Rushes on the monitor');
    const rushes = () => page.$eval('[data-row="rushes"]', (row) => row.querySelector('span')!.textContent);
    await page.waitForSelector('[data-row="rushes"]');
    await page.focus('[data-row="rushes"]');
    await page.keyboard.press('Enter');
    await waitForText(page, /Rushes on the monitor on /);
    await page.$eval('[role="slider"][aria-label="Headroom"]', (slider) => (slider as SVGGElement).focus());
    expect(await rushes()).toMatch(/: (Not proven|Tight|Holds)/);
    const before = await page.$eval('[role="slider"]', (slider) => Number(slider.getAttribute('aria-valuenow')));
    for (let steps = 0; steps < 5; steps += 1) await page.keyboard.press('ArrowLeft');
    await page.waitForFunction(
      (value) => Number(document.querySelector('[role="slider"]')!.getAttribute('aria-valuenow')) === value,
      {},
      before - 5,
    );
    await waitForText(page, /Headroom\s*20\s*%/);
    expect(new URL(page.url()).searchParams.get('headroom')).toBe('20');
  });
});
