import { realpathSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Browser, HTTPRequest, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { DriveCard, VolumeEntry } from '#core/6-exchange/api/wire.ts';
import type { Profile } from '#core/4-runs/supply/profile.ts';
import { mountOf } from '#engine/system/filesystems.ts';
import { callApi, removeFolder, startApp, temporaryFolder, type App } from '../support/app.ts';
import { launchBrowser, openPage, press, textOf, typeInto, waitForCount, waitForText } from '../support/browser.ts';

/** The place Drives: cards, what their runs say, and several side by side. */
let app: App;
let browser: Browser;
let page: Page;
let faults: string[];
beforeAll(async () => {
  app = await startApp({ standInSpeed: 50 });
  browser = await launchBrowser();
  ({ page, faults } = await openPage(browser, app));
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

  it('really makes one between stand-ins, shows which side waits, and draws it beside the prediction', async () => {
    await page.goto(`${app.origin}/copies`);
    await page.waitForSelector('[data-beside^="measured"]');
    await press(page, 'Copy now');
    await typeInto(page, 'Size of made files', '60 GB');
    await typeInto(page, 'Number of made files', '6');
    await press(page, 'One target more');
    await press(page, 'Leave out To, 2');
    await typeInto(page, 'Files at a time', '40');
    await waitForText(page, 'Something above cannot be used yet.');
    await typeInto(page, 'Files at a time', '2');
    // Between simulated drives nothing can be kept, and the button says so.
    await press(page, 'Measure a copy');
    await page.waitForFunction(() => location.pathname.startsWith('/measure/runs/'));
    await waitForText(
      page,
      /Only measured: nothing was kept.*60 GB in .*The source waited .*writing held it back/s,
      60_000,
    );
    await waitForText(page, /Predicted from the other runs of its drives: /);
    expect(await textOf(page, '[data-leg="1"]')).toMatch(/6 of 6/);
    await waitForCount(page, '[data-end]', 2);
    expect(faults).toEqual([]);
  });

  it('shows the copy that took six times its first estimate, and leads to it', async () => {
    await page.goto(`${app.origin}/copies`);
    await page.waitForSelector('[data-beside^="measured"]');
    await page.waitForSelector('[data-measured="demo-told-short"]');
    await page.$eval('[data-measured="demo-told-short"]', (link) => (link as HTMLElement).click());
    await waitForText(page, /6\.\d+ times as long as its first seconds suggested/);
    await page.goto(`${app.origin}/measure/runs/demo-card-thrice`);
    await waitForText(page, /3 copies took .* to .*, slower by/);
    await press(page, '3, there');
    await page.waitForSelector('[data-leg="3"]');
  });

  it('says what a told time comes to, and doubts what no link could carry', async () => {
    await page.goto(`${app.origin}/copies`);
    await page.waitForSelector('[data-binds]');
    await typeInto(page, 'A time that was told', 'quickly');
    await waitForText(page, 'is not a size and a time');
    await typeInto(page, 'A time that was told', '173 GB in 0:08');
    await waitForText(page, /comes to\s*21,600 MB\/s/);
    await waitForText(page, /Impossible over PCIe/);
    // The program's own prediction speaks against it too.
    await waitForText(page, /By their own runs it takes .* times as long/);
    expect(faults).toEqual([]);
  });

  it('holds a folder against the hash list in it, and says what differs', async () => {
    const folder = temporaryFolder('verify');
    try {
      writeFileSync(join(folder, 'one.mov'), 'abc');
      writeFileSync(join(folder, 'two.mov'), 'abc');
      const files = ['44bc2cf5ad770999', 'ef46db3751d8e999'].map(
        (hash, index) =>
          `<hash><path size="3">${index === 0 ? 'one' : 'two'}.mov</path><xxh64 action="original">${hash}</xxh64></hash>`,
      );
      const list = `<?xml version="1.0"?><hashlist version="2.0"><hashes>${files.join('')}</hashes></hashlist>`;
      writeFileSync(join(folder, 'card.mhl'), list);
      await page.goto(`${app.origin}/copies`);
      await press(page, 'Verify a hash list');
      const volumes = (await callApi(app, 'GET', '/volumes')).document as VolumeEntry[];
      const real = volumes.filter(({ kind }) => kind === 'real');
      await (await page.waitForSelector('[role="dialog"] [role="combobox"]'))!.click();
      // A menu that still opens moves under the pointer.
      const option = `[role="option"][data-value="${mountOf(realpathSync(folder), real)!.id}"]`;
      await page.waitForSelector(option);
      await page.$eval(option, (one) => (one as HTMLElement).click());
      await page.waitForSelector('[role="option"]', { hidden: true });
      await typeInto(page, 'Folder of Volume', folder);
      await press(page, 'Verify');
      await page.waitForSelector('[data-verified="false"]');
      await waitForText(page, '1 file differs from the list.');
      await waitForText(page, 'two.mov: differs');
      await page.keyboard.press('Escape');
      expect(faults).toEqual([]);
    } finally {
      removeFolder(folder);
    }
  });
});

describe('other links and pinned runs', () => {
  it('tell what a drive would do behind a slower link, and judge the workload there', async () => {
    const petrel = (await cards()).find(({ label }) => label === 'Petrel 2T')!;
    await page.goto(`${app.origin}/drives/${petrel.id}`);
    await page.waitForSelector('[data-run-levels]');
    await press(page, 'Other links');
    await page.waitForSelector('[data-link="USB 480 Mb/s"]');
    await page.$eval('[data-link="USB 480 Mb/s"]', (row) => (row as HTMLElement).click());
    await waitForText(
      page,
      /Behind USB 480 Mb\/s, which carries 42 MB\/s, it writes at 42 MB\/s and reads at 42 MB\/s/,
    );
    const words = await page.$eval('[data-link="USB 480 Mb/s"]', (row) => row.textContent);
    expect(words).toMatch(/Would break/);
    expect(await page.$eval('[data-link^="PCIe 4.0 ×4"]', (row) => row.textContent)).toMatch(/as it is now/);
  });

  it('are held by one key and compared as drives are', async () => {
    for (const id of ['demo-petrel-take', 'demo-petrel-night']) {
      await page.goto(`${app.origin}/measure/runs/${id}`);
      await page.waitForSelector('[data-pass]');
      await page.keyboard.press('p');
      await waitForText(page, 'Unpin');
    }
    await page.goto(`${app.origin}/drives`);
    await page.waitForSelector('[data-run-levels]');
    await press(page, 'Side by side');
    await press(page, '2 pinned runs');
    await page.waitForSelector('[data-compared="demo-petrel-take"]');
    await waitForCount(page, '[data-overlay]', 2);
  });

  it('take a connection that is typed, and refuse what is none', async () => {
    const anchor = (await cards()).find(({ label }) => label === 'Anchor 16T')!;
    await page.goto(`${app.origin}/drives/${anchor.id}`);
    await page.waitForSelector('[data-run-levels]');
    await press(page, 'Edit card');
    await typeInto(page, 'Links, from the drive to the machine', 'a cable');
    await waitForText(page, 'is no link known here');
    await typeInto(page, 'Links, from the drive to the machine', 'Old adapter: 150 MB/s at the desk');
    await press(page, 'Keep');
    await page.waitForFunction(() => document.querySelector('[role="dialog"]') === null);
    await waitForText(page, /Old adapter\s*150 MB\/s, nothing to spare/);
    expect(faults).toEqual([]);
  });
});
