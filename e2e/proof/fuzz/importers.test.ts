import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import type { Browser, ElementHandle, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { removeFolder, startApp, temporaryFolder, type App } from '../../support/app.ts';
import { kept, launchBrowser, openPage, press } from '../../support/browser.ts';
import { extent, holdsForSeconds } from '../extent.ts';
import { goodFiles } from './good-files.ts';
import { sentenceFault, spoiledBytes } from './made-up.ts';

/** Each importer of the page with files that are nearly right, for so long. */
const SECONDS = extent(20, 5);

let app: App;
let browser: Browser;
let page: Page;
let faults: string[];
let folder: string;
let good: Record<string, Uint8Array>;
beforeAll(async () => {
  folder = temporaryFolder('fuzz-files');
  good = await goodFiles();
  app = await startApp();
  browser = await launchBrowser();
  ({ page, faults } = await openPage(browser, app));
});
afterAll(async () => {
  await browser.close();
  await app.stop();
  removeFolder(app.dataFolder);
  removeFolder(folder);
});

/** What is there while something is read or searched. */
const BUSY = '[aria-busy="true"], [role="dialog"] [role="status"]';

/** Where a person gives a file, with the kinds that belong there. */
const IMPORTERS = [
  {
    input: 'Workload file',
    files: ['workload.json', 'empty.workload.json', 'run.json'],
    place: '/workloads',
    open: [],
  },
  { input: 'Sizing file', files: ['plan.sizing.json', 'profile.json'], place: '/sizing', open: [] },
  {
    input: 'Material files',
    files: ['trace.csv', 'edit.otio', 'clip.mp4', 'clip.mov', 'clip.mkv', 'clip.webm', 'list.mhl'],
    place: '/workloads',
    open: ['Add footage', 'From a file'],
  },
  { input: 'Recording file', files: ['recording.json', 'recording.csv'], place: '/workloads', open: ['Add load'] },
] as const;

describe.each(IMPORTERS)('the importer of the page: $input', ({ input, files, place, open }) => {
  it(`takes or refuses what is nearly right for ${SECONDS} s, with words of the screen`, async () => {
    await page.goto(`${app.origin}${place}`);
    await page.waitForSelector('main h1');
    for (const name of open) await press(page, name);
    let given = 0;
    const file = fc
      .constantFrom(...files)
      .chain((name) =>
        fc
          .oneof(
            { weight: 9, arbitrary: spoiledBytes(good[name]!) },
            { weight: 1, arbitrary: fc.constant(Buffer.from(good[name]!)) },
          )
          .map((bytes) => ({ name, bytes })),
      );
    await holdsForSeconds(
      fc.asyncProperty(file, async ({ name, bytes }) => {
        const path = join(folder, `n-${(given += 1)}-${name}`);
        writeFileSync(path, bytes);
        const field = (await page.waitForSelector(`input[aria-label="${input}"]`)) as ElementHandle<HTMLInputElement>;
        await field.uploadFile(path);
        // Read, drawn and kept.
        await page.waitForFunction((busy) => document.querySelector(busy) === null, {}, BUSY);
        await page.evaluate(
          () => new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve))),
        );
        await kept(page);
        const words = await page.$eval('body', (body) => body.innerText);
        const told = `${input} with ${path}: ${bytes.toString('latin1').slice(0, 300)}`;
        expect(faults, told).toEqual([]);
        expect(await page.$('main h1'), told).not.toBeNull();
        expect(sentenceFault(words), `${told}: ${words}`).toBeNull();
      }),
      SECONDS,
    );
    console.log(`${input}: ${given} files`);
    expect(given).toBeGreaterThan(2);
  });
});
