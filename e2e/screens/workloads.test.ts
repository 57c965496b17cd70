import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Browser, ElementHandle, Page } from 'puppeteer-core';
import { isFootage } from '#core/3-jobs/demand/items.ts';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Workload } from '#core/3-jobs/demand/workload.ts';
import { madeClip } from '#core/testing/made-clips.ts';
import { callApi, removeFolder, startApp, temporaryFolder, type App } from '../support/app.ts';
import { kept, launchBrowser, openPage, press, textOf, typeInto, waitForText } from '../support/browser.ts';

/** From an empty workload to verdicts about what was typed and about real material. */
let app: App;
let browser: Browser;
let page: Page;
let faults: string[];
let folder: string;
beforeAll(async () => {
  app = await startApp({ standInSpeed: 20 });
  browser = await launchBrowser();
  ({ page, faults } = await openPage(browser, app));
  folder = temporaryFolder('material');
});
afterAll(async () => {
  await browser.close();
  await app.stop();
  removeFolder(app.dataFolder);
  removeFolder(folder);
});

const workloads = async () => {
  await kept(page);
  return (await callApi(app, 'GET', '/workloads')).document as Workload[];
};
const own = async () => (await workloads()).find((one) => one.name === 'New workload')!;

async function addFootage(fill: () => Promise<void>): Promise<void> {
  await press(page, 'Add footage');
  await page.waitForSelector('[role="dialog"]');
  await fill();
  await press(page, 'Add');
  await page.waitForFunction(() => document.querySelector('[role="dialog"]') === null);
}

async function giveFiles(...paths: string[]): Promise<void> {
  const input = (await page.waitForSelector('input[aria-label="Material files"]')) as ElementHandle<HTMLInputElement>;
  await input.uploadFile(...paths);
}

describe('the place Workloads', () => {
  it('makes a workload from what is typed, and draws what it comes to', async () => {
    await page.goto(`${app.origin}/workloads`);
    await page.waitForSelector('[data-item]');
    await press(page, 'New');
    await waitForText(page, 'This workload asks for nothing yet');
    await addFootage(async () => {
      await typeInto(page, 'Format', '3840x2160 4:2:2 10 bit 25p ×3');
      await typeInto(page, 'Takes', '2');
      await typeInto(page, 'Length of a take', '12 min');
      await waitForText(page, '1,659 MB/s, 13.3 Gb/s, 5.97 TB an hour'.replace('1,659', '1,660'));
    });
    await waitForText(page, '4:2:2 10-bit uncompressed at 3840×2160');
    const [item] = (await own()).items;
    expect(item).toMatchObject({ streams: 3, takes: { count: 2, seconds: 720 } });
    expect(page.url()).toMatch(/\/workloads\/.+/);
  });

  it('says what is wrong while one types, and asks whether bits or bytes are meant', async () => {
    await press(page, 'Add footage');
    await typeInto(page, 'Format', '4K 100M 25p');
    await waitForText(page, '4K is taken as 4096×2160; UHD is 3840×2160. 100M is taken as 100 Mb/s.');
    await typeInto(page, 'Format', '3840x2160 VC-3 25p');
    await waitForText(page, /This could be VC-3/);
    await waitForText(page, 'Something above cannot be used yet.');
    await typeInto(page, 'Library', 'vc-3 sq 1080p25');
    await page.locator('::-p-xpath(//*[@role="option"][contains(., "VC-3 SQ")])').click();
    await typeInto(page, 'Buffer of the program', '2 Gb');
    await waitForText(page, 'bytes or bits, a factor of eight apart');
    await press(page, '2 GB, bytes');
    await press(page, 'Add');
    await page.waitForFunction(() => document.querySelector('[role="dialog"]') === null);
    expect((await own()).items[1]).toMatchObject({ buffer: { unit: 'bytes', amount: 2e9 } });
  });

  it('takes a clip for a format', async () => {
    const sizes = Array.from({ length: 250 }, (_, index) => (index < 125 ? 100_000 : 300_000));
    const path = join(folder, 'clip one.mov');
    writeFileSync(path, await madeClip('mov', sizes, 25));
    await addFootage(async () => {
      await press(page, 'From a file');
      await giveFiles(path);
      await waitForText(page, '250 at 25, 10 s');
      await waitForText(page, /worst second\s+7\.5 MB\/s/);
    });
    const item = (await own()).items.filter(isFootage).at(-1)!;
    expect(item.essence).toMatchObject({ kind: 'measured', sequence: false });
    expect(item.essence.kind === 'measured' && item.essence.bytesPerSecond).toBeCloseTo(5e6, -4);
  });

  it('takes numbered files, and says which are missing', async () => {
    mkdirSync(join(folder, 'frames'));
    const paths = [1, 2, 3, 4, 7, 8, 9].map((number) =>
      join(folder, 'frames', `reel.${String(number).padStart(4, '0')}.dpx`),
    );
    for (const path of paths) writeFileSync(path, new Uint8Array(40_000));
    await addFootage(async () => {
      await press(page, 'From a file');
      await giveFiles(...paths);
      await waitForText(page, '2 of its numbers are missing: 5–6.');
      await typeInto(page, 'Frames per second', '50');
      await waitForText(page, '7 at 50');
    });
    expect((await own()).items.filter(isFootage).at(-1)!.essence).toMatchObject({ kind: 'measured', sequence: true });
  });

  it('takes a timeline, adds its layers up, and says what is no clip', async () => {
    const time = (value: number) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate: 25 });
    const clip = (name: string, frames: number) => ({
      OTIO_SCHEMA: 'Clip.1',
      name,
      source_range: { OTIO_SCHEMA: 'TimeRange.1', start_time: time(0), duration: time(frames) },
    });
    const track = (children: object[]) => ({ OTIO_SCHEMA: 'Track.1', kind: 'Video', children });
    const document = {
      OTIO_SCHEMA: 'Timeline.1',
      name: 'Cut 7',
      tracks: { OTIO_SCHEMA: 'Stack.1', children: [track([clip('kelp', 500)]), track([clip('title', 250)])] },
    };
    const path = join(folder, 'cut.otio');
    writeFileSync(path, JSON.stringify(document));
    const broken = join(folder, 'broken.mp4');
    writeFileSync(broken, new Uint8Array(3000).fill(9));
    await addFootage(async () => {
      await press(page, 'From a file');
      await giveFiles(path);
      await waitForText(page, 'Cut 7: 2 clips from 2 media, 20 s');
      await waitForText(page, 'Not given, and taken to be 3840×2160 RDD 36 high 25p: kelp, title.');
      // What was read before does not stand for what cannot be read.
      await giveFiles(broken);
      await waitForText(page, 'broken.mp4: is no clip that can be read');
      expect(await page.$$eval('[role="dialog"] [data-material]', (all) => all.length)).toBe(0);
      const canAdd = await page.$$eval('[role="dialog"] button', (all) =>
        all.some((button) => button.textContent === 'Add' && !button.disabled),
      );
      expect(canAdd).toBe(false);
      await giveFiles(path);
      await waitForText(page, 'Cut 7: 2 clips from 2 media, 20 s');
      await typeInto(page, 'Clips that are not named below', '100 MB/s');
      await typeInto(page, 'title, one clip', '50 MB/s');
      await waitForText(page, /0:00 – 0:10\s+150 MB\/s/);
      await press(page, 'Play');
    });
    const item = (await own()).items.at(-1)!;
    expect(item).toMatchObject({
      action: 'play',
      essence: { kind: 'curve', seconds: [0, 10, 20], bytes: [0, 1.5e9, 2.5e9] },
    });
  });

  it('copies, orders and takes out items, and renames, copies and deletes workloads', async () => {
    const count = (await own()).items.length;
    await press(page, 'Copy item');
    await waitForText(page, /, copy/);
    await press(page, 'Up');
    await press(page, 'Take out');
    await page.waitForFunction((items) => document.querySelectorAll('main [data-item]').length === items, {}, count);
    await press(page, 'Rename');
    await typeInto(page, 'Name', 'Kelp interviews');
    await press(page, 'Keep');
    await waitForText(page, 'Kelp interviews');
    await press(page, 'Copy');
    await waitForText(page, 'Kelp interviews, copy');
    const names = async () => (await workloads()).map((one) => one.name);
    await press(page, 'Delete');
    await press(page, 'Delete for good');
    await waitForText(page, 'Kelp interviews, copy was deleted.');
    await expect.poll(names).not.toContain('Kelp interviews, copy');
    // One key takes it back, whole.
    await page.keyboard.press('u');
    await expect.poll(names).toContain('Kelp interviews, copy');
    const again = (await workloads()).find((one) => one.name === 'Kelp interviews, copy')!;
    await callApi(app, 'DELETE', `/workloads/${again.id}`);
    expect(await names()).toContain('Kelp interviews');
    expect((await workloads()).find((one) => one.name === 'Night shoot')!.example).toBe(true);
  });
});

describe('the place Fit', () => {
  let drives: { id: string; label: string }[];
  beforeAll(async () => {
    drives = (await callApi(app, 'GET', '/drives')).document as typeof drives;
  });
  const idOf = (label: string) => drives.find((drive) => drive.label.startsWith(label))!.id;

  it('gives each item its verdict on a drive, each drive its verdict on an item, and the backlog behind it', async () => {
    const ids = [idOf('Petrel 2T'), idOf('Limpet 1T')];
    await page.goto(`${app.origin}/fit?drives=${ids.join(',')}&workload=demo-night-shoot&headroom=25`);
    await page.waitForSelector('[data-row="cameras"][data-verdict="holds"]');
    expect(await textOf(page, '[data-sentence]')).toMatch(/Three cameras on Petrel 2T.*all four takes of 40 min/);
    expect(await textOf(page, '[data-answer="least buffer"]')).toMatch(/least buffer/);
    await press(page, 'By drive');
    await page.click(`[data-row="${ids[1]}"]`);
    await waitForText(page, /Drops its first frame after (at least )?1 min/);
    await page.click(`[data-row="${ids[1]}"]`);
    await page.waitForSelector('svg[aria-label^="Backlog over"]');
    await waitForText(page, /breaks after 1 min/);
  });

  it('the headroom that is dragged decides between Holds and Tight', async () => {
    await press(page, 'By item');
    await page.waitForSelector('[data-row="cameras"][data-verdict="breaks"]');
    await page.click(`[data-lane="${idOf('Petrel 2T')}"] [role="button"]`);
    await page.waitForSelector('[data-row="cameras"][data-verdict="holds"]');
    await page.waitForSelector('[role="slider"]');
    await page.$eval('[role="slider"]', (slider) => (slider as SVGElement).focus());
    for (let step = 0; step < 20; step += 1) await page.keyboard.press('ArrowUp');
    await page.waitForSelector('[data-row="cameras"][data-verdict="tight"]');
    expect(page.url()).toMatch(/headroom=125/);
  });

  it('starts the run that would prove what is not', async () => {
    await page.goto(`${app.origin}/fit?drives=${idOf('Cormorant X2')}&workload=demo-night-shoot&headroom=25`);
    await page.waitForSelector('[data-row="camera-a"][data-verdict="not-proven"]');
    await page.click('[data-row="camera-a"]');
    await press(page, 'Start that run');
    await page.waitForFunction(() => location.pathname.startsWith('/measure/runs/'));
    const id = page.url().split('/').at(-1)!;
    expect((await callApi(app, 'POST', `/runs/${id}/stop`, {})).status).toBe(202);
    expect(faults).toEqual([]);
  });
});
