import { readFile, readdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Browser, ElementHandle, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import type { Project, Sizing } from '#core/5-answers/sizing/project.ts';
import { callApi, removeFolder, startApp, temporaryFolder, type App } from '../support/app.ts';
import {
  activate,
  kept,
  launchBrowser,
  openPage,
  press,
  textOf,
  typeInto,
  waitForCount,
  waitForText,
} from '../support/browser.ts';
import { chooseOfProject } from './opened.ts';

/** The place Sizing: what a project needs, and why the cheap build fails. */
let app: App;
let browser: Browser;
let page: Page;
let faults: string[];
const downloads = temporaryFolder('downloads');
beforeAll(async () => {
  app = await startApp({ standInSpeed: 50 });
  browser = await launchBrowser();
  ({ page, faults } = await openPage(browser, app));
  const client = await browser.target().createCDPSession();
  await client.send('Browser.setDownloadBehavior', { behavior: 'allow', downloadPath: downloads });
});
afterAll(async () => {
  await browser.close();
  await app.stop();
  removeFolder(app.dataFolder);
  removeFolder(downloads);
});

const projects = async () => {
  await kept(page);
  return (await callApi(app, 'GET', '/projects')).document as Project[];
};
const param = (name: string) => new URL(page.url()).searchParams.get(name);
/** What is said of the chosen build. */
const buildWords = () => textOf(page, '[data-build]');
const WAITING = { timeout: 100_000, interval: 50 };
const searched = () => page.waitForSelector('main [role="status"][aria-busy="false"]');

/** A file that the page hands over, once it is there whole. */
const downloaded = (ending: string): Promise<string> =>
  vi.waitFor(async () => {
    const name = (await readdir(downloads)).find((one) => one.endsWith(ending));
    if (!name) throw new Error(`no file that ends in ${ending} came`);
    return readFile(join(downloads, name), 'utf8');
  }, WAITING);

describe('the place Sizing', () => {
  it('shows the cheapest build, when each is full, and why the tempting one fails', async () => {
    await page.goto(`${app.origin}/sizing`);
    await page.waitForSelector('[data-material="Kelp cache"]');
    await waitForText(page, /builds do what is asked for room and Night shoot/);
    const chosen = await textOf(page, '[data-build]');
    expect(chosen).toMatch(/Anchor 16T.*usable \(.*TiB\) for .* EUR.*% of the room/);
    await waitForCount(page, '[data-held]', 3);
    await page.waitForSelector('[data-held="writing"]');
    await waitForText(page, /full on day \d+ \(\d+ \w+\)/);
    await page.$eval('[data-tempting="writing"]', (button) => (button as HTMLElement).click());
    await waitForText(page, /held there by Ethernet 1 Gb\/s.*Ruled out: it does not hold what is recorded/s);
  });

  it('tells what to buy, and sizes the copies elsewhere with it', async () => {
    await searched();
    expect(await textOf(page, '[data-to-buy]')).toMatch(/Anchor 16T 7 × 290 = 2,030/);
    const together = await textOf(page, '[data-together]');
    expect(together).toMatch(/Working.*Second copy.*Away.*Together/);
    // The tempting build is still chosen, and its link is what the copies wait for.
    expect(together).toMatch(
      /Second copy: a day is copied and read back in 6 h \d+ min, held back by reading the working storage\./,
    );
    await press(page, 'Second copy');
    await waitForText(page, /The fullest day’s 1\.71 TB are copied and read back in 4 h \d+ min of the 8 h allowed/);
    await page.waitForFunction(() => document.querySelector('[data-material="Kelp cache"]') === null);
    expect(param('store')).toBe('second');
    await press(page, 'Working');
    await page.waitForSelector('[data-material="Kelp cache"]');
  });

  it('draws cost against margin, and of all stores together, and keeps the choice in its address', async () => {
    await press(page, 'Cost and margin');
    await page.waitForSelector('[data-front]');
    const dots = await page.$$eval('[data-front]', (all) => all.map((dot) => dot.getAttribute('data-front')!));
    expect(dots.length).toBeGreaterThan(3);
    await page.$eval(`[data-front="${dots[1]}"]`, (dot) =>
      dot.dispatchEvent(new MouseEvent('click', { bubbles: true })),
    );
    await page.waitForSelector(`[data-front="${dots[1]}"][aria-pressed="true"]`);
    expect(param('working')).toBe(dots[1]);
    const words = await textOf(page, '[data-build]');
    await page.reload();
    await page.waitForSelector('[data-front]');
    await searched();
    expect(await textOf(page, '[data-build]')).toBe(words);

    // What is ruled out is there too, under those that may be built, and says why.
    await page.$eval('[data-ruled-out]', (mark) => mark.dispatchEvent(new MouseEvent('click', { bubbles: true })));
    await waitForText(page, 'Ruled out: it');

    await press(page, 'Together');
    await waitForText(page, 'efficient ways to build all stores together');
    await page.$eval('[data-front]', (dot) => dot.dispatchEvent(new MouseEvent('click', { bubbles: true })));
    await waitForCount(page, '[data-to-buy]', 3);
    await waitForCount(page, '[data-held]', 3);
    expect(param('working')).not.toBeNull();
    expect(param('away')).not.toBeNull();
    await press(page, 'Working');
    await press(page, 'Over the days');
  });

  it('holds a build beside others by a key, and lets it go', async () => {
    await page.waitForSelector('[data-build-line]');
    await page.keyboard.press('p');
    await waitForText(page, 'Compared: remove');
    const pinned = param('beside')!;
    const other = await page.$$eval('[data-held] button', (buttons) =>
      buttons.findIndex((one) => one.ariaPressed === 'false'),
    );
    const names = await page.$$('[data-held] button');
    await names[other]!.click();
    await waitForText(page, /Compare(?!d)/);
    expect(param('beside')).toBe(pinned);
    expect(
      await page.$$eval('[data-build-line]', (lines) => lines.map((line) => line.getAttribute('data-build-line'))),
    ).toContain(pinned);
    await press(page, 'Compare');
    await waitForText(page, 'Compared: remove');
    expect(param('beside')!.split(',')).toHaveLength(2);
    await press(page, 'Compared: remove');
    await page.waitForFunction((code) => new URL(location.href).searchParams.get('beside') === code, {}, pinned);
    // A build that the link names and the search did not explain is explained all the same.
    await page.goto(`${app.origin}/sizing?working=0.4.stripe.0.3.2`);
    await waitForText(page, /4 × Petrel 2T, stripe, rack shelf, 40 Gb\/s, direct/);
    await waitForText(page, 'Ruled out: it may not lose as many drives as asked.');
    await page.goto(`${app.origin}/sizing?working=nonsense`);
    await waitForText(page, /“nonsense” is none of this project/);
    await page.goto(`${app.origin}/sizing`);
    await page.waitForSelector('[data-build]');
  });

  it('searches again while a policy is moved', async () => {
    await searched();
    const before = await buildWords();
    await page.focus('input[aria-label="Filled at most"]');
    for (let steps = 0; steps < 6; steps += 1) await page.keyboard.press('ArrowLeft');
    await vi.waitFor(async () => expect(await buildWords()).not.toBe(before), WAITING);
    await press(page, 'As planned');
    await vi.waitFor(async () => expect(await buildWords()).toBe(before), WAITING);
    expect(faults).toEqual([]);
  });

  it('takes how full storage may get from the strip too, and keeps what was changed on the way to other places', async () => {
    const limit = async () => {
      const slots = await page.$$eval('header button', (all) => all.map((one) => one.textContent ?? ''));
      return slots.find((text) => text.startsWith('Filled at most'))?.replace(/\D+/g, '');
    };
    await searched();
    expect(await limit()).toBe('80');
    const before = await buildWords();
    await activate(page, '//header//button[starts-with(., "Filled at most")]');
    await activate(page, '//li[starts-with(., "100")]');
    await waitForText(page, /6 × Anchor 16T, single parity.*78\.4 TB usable/s);
    expect(await limit()).toBe('100');
    await press(page, 'Fit');
    await page.waitForSelector('[data-lane]');
    await press(page, 'Sizing');
    await waitForText(page, 'Keep these');
    expect(await limit()).toBe('100');
    // The plan is typed on from what was changed.
    await press(page, 'Change the plan');
    await page.waitForFunction(() =>
      [...document.querySelectorAll('input')].some((field) => /^100\s?%$/.test(field.value)),
    );
    await press(page, 'Close');
    await press(page, 'As planned');
    await vi.waitFor(async () => expect(await buildWords()).toBe(before), WAITING);
  });

  it('moves on the picture when a material comes and how long it is kept, and takes it back', async () => {
    await page.waitForSelector('[data-keep="Three cameras"]');
    const move = async (handle: string, key: 'ArrowLeft' | 'ArrowRight', times: number) => {
      await page.$eval(`[data-keep="${handle}"]`, (one) => (one as SVGElement).focus());
      for (let steps = 0; steps < times; steps += 1) await page.keyboard.press(key);
    };
    const dayOf = (handle: string) => page.$eval(`[data-keep="${handle}"]`, (one) => one.getAttribute('aria-valuenow'));
    await move('Three cameras', 'ArrowLeft', 30);
    await waitForText(page, 'Three cameras, kept 26 days');
    await waitForText(page, /The fullest day is day (?!64)\d+/);
    await move('to Three cameras', 'ArrowRight', 5);
    await page.waitForFunction(() => document.querySelector('[data-keep="to Three cameras"]')?.ariaValueNow === '35');
    await move('from Kelp cache', 'ArrowRight', 3);
    expect(await dayOf('from Kelp cache')).toBe('34');
    await move('once Reef Keeper builds', 'ArrowLeft', 10);
    expect(await dayOf('once Reef Keeper builds')).toBe('40');
    await press(page, 'As planned');
    await waitForText(page, 'Three cameras, kept to the end');
    expect(await dayOf('to Three cameras')).toBe('30');
    expect((await projects())[0]!.example).toBe(true);
  });

  it('hands over all efficient builds as a table, and the sizing whole', async () => {
    await searched();
    await press(page, 'Builds as CSV');
    const [head, ...lines] = (await downloaded('.csv')).trim().split('\n');
    expect(head).toMatch(/^store,build,cost,/);
    expect(new Set(lines.map((line) => line.split(',')[0]))).toEqual(new Set(['working', 'second', 'away']));
    await press(page, 'Export');
    const sizing = JSON.parse(await downloaded('.sizing.json')) as Sizing;
    expect(sizing).toMatchObject({ tavrox: 'sizing/1', name: 'Tidal Atlas' });
    expect(sizing.drives.map(({ label }) => label)).toContain('Anchor 16T');
  });

  it('takes a sizing in as a project with drives that have no card here, and refuses what is none', async () => {
    const sizing = JSON.parse(await downloaded('.sizing.json')) as Sizing;
    const own = {
      ...sizing,
      name: 'From afar',
      drives: sizing.drives.map((one) => ({ ...one, label: `Far ${one.label}` })),
    };
    const [good, bad] = [join(downloads, 'good.in'), join(downloads, 'bad.in')];
    await writeFile(good, JSON.stringify(own));
    await writeFile(bad, JSON.stringify({ ...own, days: 0 }));
    const file = async () => {
      await page.$eval('h1', (name) => name.closest('button')!.click());
      await waitForText(page, 'Import a sizing');
      return (await page.$('input[aria-label="Sizing file"]')) as ElementHandle<HTMLInputElement>;
    };
    await (await file()).uploadFile(bad);
    await waitForText(page, /bad\.in was not taken: .*days/);
    expect(await projects()).toHaveLength(1);
    await (await file()).uploadFile(good);
    await waitForText(page, /\d+ × Far Anchor 16T/);
    expect((await projects()).map(({ plan }) => plan.name)).toContain('From afar');
  });

  it('has several projects: a new one is typed at once, a copy and the deleting of it are two presses', async () => {
    const menu = (item: string) => chooseOfProject(page, item);
    await menu('New project');
    await waitForText(page, 'Change the plan');
    await typeInto(page, 'Name', 'Short job');
    await typeInto(page, 'Calendar', 'Shooting: 2 weeks, 5 days a week');
    await press(page, 'Add what Night shoot leaves');
    await page.waitForFunction(() =>
      [...document.querySelectorAll('textarea')].some((area) => area.value.includes('Three cameras: 4 takes × 40 min')),
    );
    await typeInto(page, 'Material', 'Cameras: 400 GB a day, during Shooting, away');
    await press(page, 'Keep');
    await page.waitForFunction(() => document.querySelector('[role="dialog"]') === null);
    await page.waitForSelector('[data-phase="Shooting"]');
    const short = (await projects()).find(({ plan }) => plan.name === 'Short job')!;
    expect(short.plan.materials).toMatchObject([
      { fromDay: 1, toDay: 14, daysAWeek: 5, elsewhere: [{ store: 'away' }] },
    ]);
    // Two weekends off: ten days of 400 GB, with what is not foreseen.
    await waitForText(page, /The fullest day is day 12 with 4\.4 TB/);
    expect(new URL(page.url()).pathname).toBe(`/sizing/${short.id}`);
    await menu('Copy this one');
    await page.waitForFunction(() => document.querySelector('h1')?.textContent === 'Short job, copy');
    await menu('Delete this one');
    await press(page, 'Delete this one for good');
    await page.waitForFunction(() => document.querySelector('h1')?.textContent !== 'Short job, copy');
    expect((await projects()).map(({ plan }) => plan.name).sort()).toEqual(['From afar', 'Short job', 'Tidal Atlas']);
    await page.goto(`${app.origin}/sizing/nobody`);
    await waitForText(page, 'This project is not here');
  });

  it('keeps a plan that was typed, and says what is wrong with it', async () => {
    await page.goto(`${app.origin}/sizing/demo-tidal-atlas`);
    await press(page, 'Change the plan');
    await typeInto(page, 'Days', '0');
    await waitForText(page, 'Something above cannot be used yet.');
    await typeInto(page, 'Days', '60');
    await typeInto(page, 'Material', 'Cameras');
    await waitForText(page, 'has no name or no amount');
    await typeInto(page, 'Material', 'Cameras: 400 GB a day, days 1–20, keep 10 days');
    await typeInto(page, 'Drives', 'Gannet');
    await waitForText(page, /No drive is called “Gannet”. There is: .*Anchor 16T/);
    await typeInto(page, 'Drives', 'Anchor 16T: 4 there, 1 there for away');
    await press(page, 'Keep');
    await page.waitForFunction(() => document.querySelector('[role="dialog"]') === null);
    await page.waitForSelector('[data-material="Cameras"]');
    await waitForText(page, 'Anchor 16T, 4 there');
    const kept = (await projects()).find(({ id }) => id === 'demo-tidal-atlas')!;
    expect(kept).toMatchObject({
      example: false,
      plan: {
        days: 60,
        materials: [{ bytesPerDay: 400e9, keepDays: 10 }],
        choice: [{ label: 'Anchor 16T', there: 4, thereFor: [{ store: 'away', count: 1 }] }],
      },
    });
    expect(faults).toEqual([]);
  });

  it('refuses a project that is none, and changes nothing', async () => {
    const before = await projects();
    const broken = { ...before[0]!, plan: { ...before[0]!.plan, days: -3 } };
    const { status, document } = await callApi(app, 'PUT', `/projects/${broken.id}`, broken);
    expect(status).toBe(422);
    expect((document as { detail: string }).detail).toMatch(/days/);
    expect(await projects()).toEqual(before);
    expect((await callApi(app, 'DELETE', '/projects/nobody')).status).toBe(404);
  });
});
