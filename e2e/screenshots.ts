import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ElementHandle, Page } from 'puppeteer-core';
import { madeClip } from '#core/testing/made-clips.ts';
import type { DriveCard } from '#core/6-exchange/api/wire.ts';
import { callApi, removeFolder, root, startApp } from './support/app.ts';
import { launchBrowser, openPage, press, typeInto, waitForText } from './support/browser.ts';

/** Makes every picture in docs/screenshots anew from the demo workspace. */
const folder = join(root, 'docs', 'screenshots');
mkdirSync(folder, { recursive: true });

async function picture(page: Page, name: string): Promise<void> {
  await page.evaluate(() => document.fonts.ready.then(() => undefined));
  // Drives are told as unknown until their runs have come.
  await page.waitForFunction(() => !document.body.innerText.includes('reading its runs'));
  await new Promise((resolve) => setTimeout(resolve, 400));
  // A picture is drawn again when something beside it has taken room: then the page is busy.
  await page.evaluate(() => new Promise<void>((resolve) => requestIdleCallback(() => resolve())));
  // Nothing is pointed at.
  await page.mouse.move(2, 2);
  await page.waitForFunction(() => document.querySelector('[role="tooltip"]') === null);
  await page.screenshot({ path: join(folder, `${name}.png`) });
}

const app = await startApp();
const browser = await launchBrowser();
try {
  const { page } = await openPage(browser, app);
  const run = async (id: string, there: string) => {
    await page.goto(`${app.origin}/measure/runs/${id}`);
    await page.waitForSelector(there);
  };
  await page.goto(`${app.origin}/measure?what=UHD+4%3A2%3A2+10+bit+25p+x2&length=10+min`);
  await page.waitForSelector('[data-pass]');
  await press(page, 'Ask');
  await page.waitForSelector('[data-answer]');
  await picture(page, 'measure-asked');
  await press(page, 'Put away');
  await run('demo-cormorant-frames', '[data-lane]');
  await picture(page, 'measure-frames');
  await run('demo-petrel-ladder', '[data-panel]');
  await picture(page, 'measure-ladder');
  await run('demo-jetty4-scatter', '[data-dots]');
  await picture(page, 'measure-scatter');
  await run('demo-cormorant-hot', '[data-doubt]');
  await press(page, 'Use the light theme');
  await picture(page, 'measure-doubts-light');
  await press(page, 'Use the dark theme');
  await run('demo-petrel-take', '[data-pass]');

  await page.goto(`${app.origin}/fit`);
  await waitForText(page, 'item by item');
  await page.waitForSelector('[data-row]');
  await picture(page, 'fit');
  await press(page, 'Use the light theme');
  await press(page, 'By drive');
  await picture(page, 'fit-light');
  await press(page, 'Use the dark theme');

  await page.goto(`${app.origin}/workloads`);
  await page.waitForSelector('[data-item]');
  await picture(page, 'workloads');
  await press(page, 'Add footage');
  await typeInto(page, 'Format', '3840x2160 VC-3 444 25p ×3');
  await typeInto(page, 'Library', 'vc-3 uhd');
  await press(page, 'From a file');
  const clip = join(app.dataFolder, 'kelp-b7.mov');
  const pulse = (frame: number) => 60_000 + 40_000 * Math.sin(frame / 60) ** 2 + (frame % 12 === 0 ? 150_000 : 0);
  writeFileSync(
    clip,
    await madeClip(
      'mov',
      Array.from({ length: 1500 }, (_, frame) => Math.round(pulse(frame))),
      25,
    ),
  );
  const input = (await page.waitForSelector('input[aria-label="Material files"]')) as ElementHandle<HTMLInputElement>;
  await input.uploadFile(clip);
  await page.waitForSelector('[data-material]');
  await picture(page, 'workloads-clip');
  await page.keyboard.press('Escape');

  // Two alike and one that is not, held beside each other.
  const cards = (await callApi(app, 'GET', '/drives')).document as DriveCard[];
  const held = ['Cormorant X2', 'Cormorant X2 B', 'Limpet 1T'].map(
    (name) => cards.find(({ label }) => label === name)!.id,
  );
  const first = await page.evaluate((ids) => {
    const kept = JSON.parse(localStorage.getItem('tavrox-context')!) as { state: { driveIds: string[] } };
    const before = kept.state.driveIds;
    kept.state.driveIds = ids;
    localStorage.setItem('tavrox-context', JSON.stringify(kept));
    return before;
  }, held);
  await page.goto(`${app.origin}/drives`);
  await page.waitForSelector('[data-run-levels]');
  await press(page, 'Side by side');
  await page.waitForSelector('[data-compared]');
  await picture(page, 'drives-compared');
  await page.evaluate((ids) => {
    const kept = JSON.parse(localStorage.getItem('tavrox-context')!) as { state: { driveIds: string[] } };
    kept.state.driveIds = ids;
    localStorage.setItem('tavrox-context', JSON.stringify(kept));
  }, first);
  await page.goto(`${app.origin}/drives/${first[0]}`);
  await page.waitForSelector('[data-run-levels]');
  await press(page, 'Other links');
  await page.waitForSelector('[data-link]');
  await picture(page, 'drives-links');
  await run('demo-told-short', '[data-leg]');
  await picture(page, 'measure-copy');
  await page.goto(`${app.origin}/copies`);
  await page.waitForSelector('[data-beside]');
  await picture(page, 'copies');
  await page.goto(`${app.origin}/sizing`);
  await page.waitForSelector('[data-together]');
  await picture(page, 'sizing');
  await press(page, 'Cost and margin');
  await page.waitForSelector('[data-front]');
  await picture(page, 'sizing-cost');
  await page.goto(`${app.origin}/workloads/demo-kelp-sim`);
  await page.waitForSelector('[data-series-dot]');
  await picture(page, 'cache-series');
  await page.goto(`${app.origin}/workloads/demo-reef-keeper`);
  await page.waitForSelector('[data-load-row][data-verdict]');
  await picture(page, 'loads');
  await page.goto(`${app.origin}/report`);
  await page.waitForSelector('svg[data-page="2"]');
  await picture(page, 'report');
  await run('demo-petrel-take', '[data-pass]');
  await page.goto(`${app.origin}/measure`);
  await page.locator('::-p-text(Petrel 2T, simulated)').click();
  await page.locator('::-p-xpath(//*[@role="radio"][contains(., "Anchor 16T")])').click();
  await press(page, 'Measure here');
  await press(page, 'Options');
  await typeInto(page, 'Passes', '6');
  await press(page, 'Use this');
  await press(page, 'Start');
  await waitForText(page, /pass 4 of 6, reading/, 90_000);
  await picture(page, 'measure-running');
  await page.close();
} finally {
  await browser.close();
  await app.stop();
  removeFolder(app.dataFolder);
}
