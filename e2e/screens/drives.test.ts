import type { Browser, HTTPRequest, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { DriveCard } from '#core/api/wire.ts';
import type { Profile } from '#core/supply/profile.ts';
import { callApi, removeFolder, startApp, type App } from '../support/app.ts';
import { launchBrowser, openPage, press, textOf, typeInto, waitForText } from '../support/browser.ts';

/** The place Drives: cards, what their runs say, and several side by side. */
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

const cards = async () => (await callApi(app, 'GET', '/drives')).document as DriveCard[];

describe('the place Drives', () => {
  it('shows every run of a drive beside what its box promised, and opens one', async () => {
    const petrel = (await cards()).find(({ label }) => label === 'Petrel 2T')!;
    await page.goto(`${app.origin}/drives/${petrel.id}`);
    await page.waitForSelector('[data-run-levels="demo-petrel-night"]');
    await waitForText(page, 'writing on its box: 5,300');
    await waitForText(page, /16.*% of 5,300.MB\/s/);
    await press(page, 'By temperature');
    await waitForText(page, '°C at the start');
    await page.$eval('[data-run-levels="demo-petrel-night"]', (mark) =>
      mark.dispatchEvent(new MouseEvent('click', { bubbles: true })),
    );
    await page.waitForFunction(() => location.pathname.endsWith('demo-petrel-night'));
  });

  it('says so where no run knows how warm it was, whatever the box promises', async () => {
    const anchor = (await cards()).find(({ label }) => label === 'Anchor 16T')!;
    const path = `/drives/${anchor.id}/profiles`;
    const profiles = (await callApi(app, 'GET', path)).document as Profile[];
    const untold = profiles.map((one) => ({ ...one, runs: one.runs.map((run) => ({ ...run, startCelsius: null })) }));
    const answer = (request: HTTPRequest): void => {
      const told = { contentType: 'application/json', body: JSON.stringify(untold) };
      void (request.url().endsWith(path) ? request.respond(told) : request.continue());
    };
    await page.setRequestInterception(true);
    page.on('request', answer);
    await page.goto(`${app.origin}/drives/${anchor.id}`);
    await waitForText(page, 'writing on its box: 270');
    await press(page, 'By temperature');
    await waitForText(page, 'Its runs were not told how warm it was.');
    expect(await page.$$('[data-run-levels]')).toEqual([]);
    expect(faults).toEqual([]);
    page.off('request', answer);
    await page.setRequestInterception(false);
  });

  it('holds drives against each other, in the order that matters to the workload', async () => {
    await page.goto(`${app.origin}/drives`);
    await page.waitForSelector('[data-run-levels]');
    await press(page, 'Side by side');
    await page.waitForSelector('[data-compared]');
    await waitForText(page, /\d.*% less \(/);
    await waitForText(page, /is unequal: .*full against/);
    const rates = await page.$$eval('[data-compared]', (rows) =>
      rows.map((row) => Number(row.querySelectorAll('td')[1]!.textContent.replace(/[^\d.]/g, ''))),
    );
    expect(rates.length).toBeGreaterThanOrEqual(3);
    expect(rates).toEqual([...rates].sort((a, b) => b - a));
    await press(page, 'Reading');
    await press(page, 'By time');
    await page.waitForSelector('[data-overlay]');
  });

  it('keeps what a person knows of a drive, and says what is wrong while it is typed', async () => {
    const limpet = (await cards()).find(({ label }) => label === 'Limpet 1T')!;
    await page.goto(`${app.origin}/drives/${limpet.id}`);
    await page.waitForSelector('[data-run-levels]');
    await press(page, 'Edit card');
    await typeInto(page, 'Price', 'cheap');
    await waitForText(page, 'is no price');
    await typeInto(page, 'Price', '80 CHF');
    await typeInto(page, 'Name', 'Limpet on the desk');
    await typeInto(page, 'Loudness under load', '21 dB at 1 m');
    await press(page, 'Keep');
    await page.waitForFunction(() => document.querySelector('[role="dialog"]') === null);
    await waitForText(page, 'What the runs of Limpet on the desk say');
    expect(await textOf(page, 'aside')).toMatch(/80 CHF, 80 a TB[^]*21 dB\(A\) at 1 m/);
    const kept = (await cards()).find(({ id }) => id === limpet.id)!;
    expect(kept).toMatchObject({ example: false, details: { price: 80, currency: 'CHF', enduranceBytes: 220e12 } });
    expect(faults).toEqual([]);
  });
});

describe('the place Copies', () => {
  it('says what a copy takes both ways, what its first seconds promise, and what holds it back', async () => {
    await page.goto(`${app.origin}/copies`);
    await page.waitForSelector('[data-binds]');
    await press(page, 'One large file');
    await typeInto(page, 'Size', '100 GB');
    const cell = (name: string) => `[data-copy="${name}"]`;
    await page.waitForSelector(cell('Petrel 2T to Anchor 16T'));
    await page.$eval(cell('Petrel 2T to Anchor 16T'), (button) => (button as HTMLElement).click());
    // A spinning drive binds: a hundred gigabytes at some 220 MB/s.
    await waitForText(page, /100 GB from Petrel 2T to Anchor 16T take 7 min/);
    await waitForText(page, /writing the target holds it back/);
    await page.$eval(cell('Anchor 16T to Petrel 2T'), (button) => (button as HTMLElement).click());
    await waitForText(page, /reading the source holds it back/);
    await typeInto(page, 'Size', '50 TB');
    await waitForText(page, 'does not fit');
    await typeInto(page, 'Size', 'lots');
    await waitForText(page, 'The times are those of what could be read last.');
    expect(faults).toEqual([]);
  });
});
