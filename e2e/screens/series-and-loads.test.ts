import { spawn, type ChildProcess } from 'node:child_process';
import { mkdirSync, utimesSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Browser, ElementHandle, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { DriveCard } from '#core/6-exchange/api/wire.ts';
import type { Workload } from '#core/3-jobs/demand/workload.ts';
import { callApi, removeFolder, startApp, temporaryFolder, type App } from '../support/app.ts';
import { kept, launchBrowser, openPage, press, textOf, typeInto, waitForText } from '../support/browser.ts';

/** Cache series and loads: typed, read from a folder, recorded from a real program, and judged. */
let app: App;
let browser: Browser;
let page: Page;
let faults: string[];
let folder: string;
let reader: ChildProcess;
beforeAll(async () => {
  app = await startApp({ standInSpeed: 200 });
  browser = await launchBrowser();
  ({ page, faults } = await openPage(browser, app));
  folder = temporaryFolder('series');
  const file = join(folder, 'level.bin');
  writeFileSync(file, Buffer.alloc(8_000_000, 5));
  // Reads its level again and again, in calls of 128 KiB, as a program that streams does.
  reader = spawn(process.execPath, [
    '-e',
    `const fs = require('node:fs'); const buffer = Buffer.alloc(131072);
     setInterval(() => { const at = fs.openSync(${JSON.stringify(file)}, 'r'); while (fs.readSync(at, buffer) > 0); fs.closeSync(at); }, 50);`,
  ]);
});
afterAll(async () => {
  reader.kill();
  await browser.close();
  await app.stop();
  removeFolder(app.dataFolder);
  removeFolder(folder);
});

const own = async () => {
  await kept(page);
  return ((await callApi(app, 'GET', '/workloads')).document as Workload[]).find((one) => one.name === 'New workload')!;
};
const closed = () => page.waitForFunction(() => document.querySelector('[role="dialog"]') === null);

describe('a cache series', () => {
  it('is typed, says what is wrong, and is drawn on every drive', async () => {
    await page.goto(`${app.origin}/workloads`);
    await page.waitForSelector('[data-item]');
    await press(page, 'New');
    await waitForText(page, 'This workload asks for nothing yet');
    await press(page, 'Add cache series');
    await typeInto(page, 'Grid', '1000000000');
    await waitForText(page, 'more than can be written');
    await typeInto(page, 'Grid', '400x400x400');
    await typeInto(page, 'Frames', '0');
    await waitForText(page, /not a whole number of at least 1/);
    await typeInto(page, 'Frames', '300');
    await typeInto(page, 'Occupied', '50%');
    await typeInto(page, 'Computing a frame', '12 s');
    await press(page, 'fuel');
    // 32 million voxels of five numbers of 32 bits.
    await waitForText(page, /640.MB a frame, 192.GB in all, 1 h computing/);
    await press(page, 'Add');
    await closed();
    await page.waitForSelector('[data-series-dot]');
    expect(await textOf(page, '[data-series-sentence]')).toMatch(
      /times faster saves .* of .*\. Beyond .* wins less than 5 %/,
    );
    expect((await own()).items[0]).toMatchObject({ kind: 'series', frameCount: 300, computeSeconds: [12] });
    await page.click('[data-series-row]:last-child');
    await waitForText(page, 'share of the drive');
  });

  it('is held against every drive for the money, with the same numbers as beside it and in the picture', async () => {
    // The slowest is the one that it is written to now.
    const dots = Object.fromEntries(
      await page.$$eval('[data-series-dot]', (all) => all.map((one) => one.getAttribute('aria-label')!.split(': '))),
    ) as Record<string, string>;
    await press(page, 'For the money');
    const rows = async () =>
      page.$$eval('[data-beside]', (all) =>
        all.map((row) => ({
          name: row.getAttribute('data-beside')!,
          cells: [...row.querySelectorAll('td')].map((cell) => cell.textContent),
        })),
      );
    const [now, best, ...others] = await rows();
    expect(now!.cells[0]).toBe(`${now!.name}, now`);
    for (const { name, cells } of [now!, best!, ...others]) expect(cells[2]).toBe(dots[name]);
    const helps = await page.$$eval('[data-help]', (all) => all.map((one) => one.textContent));
    expect(helps[0]).toContain(`${best!.name} saves ${best!.cells[3]} of ${now!.cells[2]}:`);
    expect(helps[0]).toContain(`${best!.cells[4]}utes for each 100 EUR.`);
    await page.click(`[data-beside="${best!.name}"] button`);
    await page.waitForFunction(
      (name) => document.querySelector('[data-beside]')!.getAttribute('data-beside') === name,
      {},
      best!.name,
    );
    const [, ...against] = await rows();
    // What it saved on the other is what the other takes more than it.
    expect(against.find(({ name }) => name === now!.name)!.cells[3]).toBe(`${best!.cells[3]} more`);
    await press(page, 'Against the rate');
    await page.waitForSelector('[data-series-dot]');
  });

  it('is read from a folder of frames, with their pace', async () => {
    const frames = join(folder, 'kelp');
    mkdirSync(frames);
    for (let number = 1; number <= 12; number += 1) {
      if (number === 7) continue;
      const path = join(frames, `kelp.${String(number).padStart(4, '0')}.vdb`);
      writeFileSync(path, Buffer.alloc(1000 * number));
      utimesSync(path, 1_760_000_000 + 9 * number, 1_760_000_000 + 9 * number);
    }
    await press(page, 'Add cache series');
    const input = (await page.waitForSelector('input[aria-label="Cache files"]')) as ElementHandle<HTMLInputElement>;
    await input.uploadFile(frames);
    await waitForText(page, /1 of its frames are missing: 7/);
    await waitForText(page, /a frame took 9 s/);
    await typeInto(page, 'Name', 'From the folder');
    await press(page, 'Add');
    await closed();
    const item = (await own()).items.at(-1)!;
    expect(item).toMatchObject({
      kind: 'series',
      frameCount: 11,
      frames: { kind: 'files', label: 'kelp', missingCount: 1 },
    });
  });
});

describe('a load', () => {
  it('starts from a template and is drawn beside memory', async () => {
    await press(page, 'Add load');
    await press(page, 'Large project open');
    await typeInto(page, 'Phases, one a line', 'Open');
    await waitForText(page, 'begins with a name and a colon');
    await press(page, 'Tool start');
    await press(page, 'Add');
    await closed();
    await page.waitForSelector('[data-load-row="memory"]');
    await page.waitForSelector('[data-load-row][data-verdict]');
    expect(await textOf(page, '[data-load-sentence]')).toMatch(/^The least that stays within every limit is flash/);
  });

  it('is recorded from a program that runs, and ends in a verdict', async () => {
    await press(page, 'Add load');
    await press(page, 'Choose a program');
    await typeInto(page, 'Program', String(reader.pid));
    await page.locator(`::-p-xpath(//*[@data-recorder]//*[@role="radio"][contains(., "${reader.pid}")])`).click();
    await page.waitForSelector('[data-recording="going"]');
    // Enough to see it at work.
    await waitForText(page, /, [3-9](\.\d)? s: /);
    await press(page, 'End the recording');
    await page.waitForSelector('[data-recording="ended"]');
    await waitForText(page, /asked for/);
    await typeInto(page, 'Name', 'A recorded program');
    await press(page, 'Add');
    await closed();
    const item = (await own()).items.at(-1)!;
    expect(item).toMatchObject({ kind: 'load', name: 'A recorded program' });
    if (item.kind !== 'load') return;
    const [phase] = item.phases;
    // About eight megabytes twenty times a second, in calls of 128 KiB and one that finds the end.
    expect(phase!.bytes).toBeGreaterThan(50_000_000);
    expect(phase!.requestBytes).toBe(131_072);
    const drives = (await callApi(app, 'GET', '/drives')).document as DriveCard[];
    const petrel = drives.find(({ label }) => label.startsWith('Petrel'))!;
    await page.goto(`${app.origin}/fit?drives=${petrel.id}&workload=${(await own()).id}&headroom=25`);
    await page.waitForSelector(`[data-row="${item.id}"][data-verdict]`);
    await page.click(`[data-row="${item.id}"]`);
    await waitForText(page, /A recorded program on Petrel 2T/);
    expect(await textOf(page, '[data-sentence]')).toMatch(/Loads in .* wait for the drive/);
    expect(faults).toEqual([]);
  });

  it('is replayed on a drive, measured beside predicted', async () => {
    await page.goto(`${app.origin}/workloads/demo-reef-keeper`);
    await page.waitForSelector('[data-load-row][data-verdict]');
    await press(page, 'Replay it on this drive');
    await waitForText(page, /3 phases, 25\.6.GB read/);
    await press(page, 'Start');
    await page.waitForFunction(() => location.pathname.startsWith('/measure/runs/'));
    await page.waitForSelector('[data-load-row="measured"]', { timeout: 100_000 });
    await waitForText(page, /% (quicker|slower)/);
    expect(faults).toEqual([]);
  });
});
