import { readdirSync } from 'node:fs';
import type { Browser, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it, onTestFinished } from 'vitest';
import { newAddress, removeFolder, startApp, temporaryFolder, type App } from '../support/app.ts';
import { launchBrowser, openPage, press, textOf, typeInto, waitForText } from '../support/browser.ts';

/** The real interface on the real server and the real engine, as a person uses it. */
let browser: Browser;
let folder: string;
beforeAll(async () => {
  browser = await launchBrowser();
  folder = temporaryFolder('journey');
});
afterAll(async () => {
  await browser.close();
  removeFolder(folder);
});

async function chooseVolume(page: Page, name: string): Promise<void> {
  await press(page, 'Choose where to measure');
  await page.locator(`::-p-xpath(//*[@role="radio"][contains(., "${name}")])`).click();
}

async function setOptions(page: Page, fields: Record<string, string>): Promise<void> {
  await press(page, 'Options');
  for (const [name, value] of Object.entries(fields)) await typeInto(page, name, value);
}

describe('from a folder on a real disk to a verdict', () => {
  let app: App;
  beforeAll(async () => {
    app = await startApp({ standInSpeed: 20 });
  });
  afterAll(async () => {
    await app.stop();
    removeFolder(app.dataFolder);
  });

  it('measures the folder, shows the trace over need lines, says what it proves, and finds it again', async () => {
    const { page, faults } = await openPage(browser, app);
    onTestFinished(() => page.close());
    await waitForText(page, 'Petrel 2T');
    await page.locator('::-p-text(Petrel 2T, simulated)').click();
    await page.locator('::-p-xpath(//*[@role="radio"][contains(., "System disk")])').click();
    await typeInto(page, 'Folder', folder);
    await press(page, 'Measure here');
    await waitForText(page, folder);
    await setOptions(page, { Passes: '2', 'Amount of a pass': '200 MB', 'Block size': '1 MiB' });
    await press(page, 'Use this');
    await press(page, 'Start');
    await page.waitForFunction(() => location.pathname.startsWith('/measure/runs/'));
    await waitForText(page, /system cache bypassed|through the system/);
    // The run is over when it can be started again.
    await page.waitForSelector('::-p-aria([name="Start"])', { timeout: 100_000 });
    await page.waitForSelector('[data-figures="write"]');
    // All are named at the right edge, those too that are off the scale of what this disk did.
    const named = await page.$$eval('[data-need-label]', (labels) =>
      labels.flatMap((label) => label.getAttribute('data-need-label')!.split(' ')),
    );
    expect(named).toHaveLength(6);
    expect(await page.$$eval('[data-pass][data-direction="write"]', (stretches) => stretches.length)).toBe(2);
    expect(await textOf(page, '[data-figures="write"]')).toMatch(/writing.*MB\/s.*2 passes/);
    expect(readdirSync(folder)).toEqual([]);
    const runAddress = page.url();

    await page.keyboard.press('f');
    await waitForText(page, 'item by item');
    // What the run was too short to say is not proven; where a take does not even fit, that is said.
    await page.waitForSelector('[data-row="sound"]');
    await page.click('[data-row="sound"]');
    await waitForText(page, /Sound, 96 tracks on System disk/);
    const sentence = await textOf(page, '[data-sentence]');
    expect(sentence).toMatch(/13\.8 MB\/s (for the first|are needed, but that run proves neither way)|Is full after/);
    if (!sentence.includes('Is full')) await waitForText(page, /Would prove the rest\s+Long fill: (33\.2|133).GB/);

    await app.stop();
    app = await startApp({ dataFolder: app.dataFolder });
    await page.goto(await newAddress(app));
    await page.waitForSelector('nav[aria-label="Places"]');
    await page.goto(app.origin + new URL(runAddress).pathname);
    await page.waitForSelector('[data-figures="write"]');
    await waitForText(page, 'Runs of System disk');
    expect(
      faults.filter((fault) => !fault.includes('ERR_CONNECTION_REFUSED') && !fault.includes('ERR_INCOMPLETE_CHUNKED')),
    ).toEqual([]);
  });

  it('offers the run that would prove the rest', async () => {
    const { page, faults } = await openPage(browser, app);
    onTestFinished(() => page.close());
    await page.goto(`${app.origin}/fit`);
    await waitForText(page, 'item by item');
    await press(page, 'Skerry 512');
    await page.waitForSelector('[data-row="proxies"][data-verdict="not-proven"]');
    await page.click('[data-row="proxies"]');
    await waitForText(page, /Long fill: 109.GB, about/);
    await page.waitForSelector('::-p-aria([name="Start that run"])');
    expect(faults).toEqual([]);
  });
});

describe('on a stand-in', () => {
  let app: App;
  let page: Page;
  let faults: string[];
  beforeAll(async () => {
    app = await startApp({ empty: true, standInSpeed: 4 });
    ({ page, faults } = await openPage(browser, app));
  });
  afterAll(async () => {
    await app.stop();
    removeFolder(app.dataFolder);
  });

  it('says what will be here while there is nothing', async () => {
    await waitForText(page, 'No run of this drive yet');
    expect(await textOf(page, 'header')).toMatch(/Drive\s*none yet.*Workload\s*none/s);
  });

  it('refuses what makes no sense while one types', async () => {
    await press(page, 'Options');
    await typeInto(page, 'Passes', 'many');
    await waitForText(page, '“many” is not a whole number');
    await typeInto(page, 'Block size', '3 MiB');
    await waitForText(page, 'must be a power of two');
    expect(await page.$eval('::-p-aria([name="Use this"])', (button) => (button as HTMLButtonElement).disabled)).toBe(
      true,
    );
    await typeInto(page, 'Passes', '20');
    await typeInto(page, 'Block size', '8 MiB');
    await press(page, 'Use this');
    await page.waitForFunction(() => !document.querySelector('[role="dialog"]'));
  });

  it('refuses a folder that is not there, and keeps the sheet open', async () => {
    await chooseVolume(page, 'System disk');
    await typeInto(page, 'Folder', '/no/such/folder');
    await press(page, 'Measure here');
    await waitForText(page, '/no/such/folder does not exist');
    // What was typed is not thrown away by one press.
    await page.keyboard.press('Escape');
    await waitForText(page, 'What you typed here is not used yet.');
    await page.keyboard.press('Escape');
    await page.waitForFunction(() => !document.querySelector('[role="dialog"]'));
  });

  it('shows the run live, stops it by key and keeps it', async () => {
    await chooseVolume(page, 'Anchor 16T');
    await press(page, 'Measure here');
    await waitForText(page, 'Anchor 16T, simulated');
    await page.keyboard.press('g');
    await waitForText(page, /pass \d+ of 20, (writing|reading)/);
    await waitForText(page, /MB\/s.*(writing|reading) now|(writing|reading) now/s);
    await page.waitForSelector('[role="progressbar"]');
    await page.keyboard.press('g');
    await page.waitForSelector('::-p-aria([name="Start"])');
    await waitForText(page, /stopped/);
    expect(await textOf(page, 'aside')).toMatch(/Nothing moved for the first 7 s/);
  });

  it('goes to every place by key, and each has its own address', async () => {
    for (const [key, path, words] of [
      ['d', '/drives', 'What the runs of'],
      ['w', '/workloads', 'No workload yet'],
      ['c', '/copies', 'What a copy takes'],
      ['s', '/sizing', 'No drive has a price yet'],
      ['r', '/report', 'No report yet'],
      ['f', '/fit', 'No workload is chosen'],
      ['m', '/measure', 'Short passes'],
    ] as const) {
      await page.keyboard.press(key);
      await waitForText(page, words);
      expect(new URL(page.url()).pathname).toBe(path);
    }
    await page.goBack();
    await waitForText(page, 'No workload is chosen');
    await page.keyboard.type('?');
    await waitForText(page, 'Trace by data written or by time');
    await page.keyboard.press('Escape');
  });

  it('switches to paper and back, and logged no fault', async () => {
    await press(page, 'Use the light theme');
    await page.waitForFunction(() => getComputedStyle(document.body).backgroundColor === 'rgb(239, 236, 230)');
    await press(page, 'Use the dark theme');
    await page.waitForFunction(() => getComputedStyle(document.body).backgroundColor === 'rgb(20, 21, 22)');
    expect(faults.filter((fault) => !fault.includes('422'))).toEqual([]);
  });
});
