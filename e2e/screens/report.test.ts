import { execFileSync } from 'node:child_process';
import { existsSync, writeFileSync } from 'node:fs';
import { readFile, readdir } from 'node:fs/promises';
import { join } from 'node:path';
import type { Browser, ElementHandle, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ReportEntry, RunListEntry } from '#core/6-exchange/api/wire.ts';
import { callApi, removeFolder, startApp, temporaryFolder, type App } from '../support/app.ts';
import { tavrox } from '../support/cli.ts';
import { kept, launchBrowser, openPage, press, textOf, waitForText } from '../support/browser.ts';
import { IS_ON_SERVER } from '../support/store.ts';

/** The evening's question, answered on pages that one would send; and a fresh Tavrox that opens them. */
const downloads = temporaryFolder('downloads');
let app: App;
let fresh: App;
let browser: Browser;
let page: Page;
let faults: string[];
beforeAll(async () => {
  app = await startApp({ standInSpeed: 50 });
  fresh = await startApp({ empty: true });
  browser = await launchBrowser();
  const client = await browser.target().createCDPSession();
  await client.send('Browser.setDownloadBehavior', { behavior: 'allow', downloadPath: downloads });
  ({ page, faults } = await openPage(browser, app));
});
afterAll(async () => {
  await browser.close();
  await app.stop();
  await fresh.stop();
  for (const folder of [app.dataFolder, fresh.dataFolder, downloads]) removeFolder(folder);
});

/** The file of an ending that was saved, once it is whole. */
const saved = (ending: string): Promise<string> =>
  expect
    .poll(async () => (await readdir(downloads)).find((name) => name.endsWith(ending)) ?? null)
    .not.toBeNull()
    .then(async () =>
      join(
        downloads,
        (await readdir(downloads)).find((name) => name.endsWith(ending))!,
      ),
    );

/** Words of the pages as they are drawn, in their order. */
const pageWords = (on: Page): Promise<string> =>
  on.$$eval('svg[data-page] text', (all) =>
    all
      .map((one) => one.textContent)
      .join(' ')
      .replaceAll(/\s+/g, ' '),
  );

const reports = async (of = app) => (await callApi(of, 'GET', '/reports')).document as ReportEntry[];
const own = async () => (await reports()).find(({ outline }) => !outline.example)!;
const inPages = (words: string) =>
  page.waitForFunction(
    (sought) =>
      [...document.querySelectorAll('svg[data-page] text')]
        .map((one) => one.textContent)
        .join(' ')
        .replaceAll(/\s+/g, ' ')
        .includes(sought),
    {},
    words,
  );

const hasPoppler = existsSync('/usr/bin/pdftotext');
const pdfText = (file: string) =>
  execFileSync('pdftotext', ['-layout', file, '-'], { encoding: 'utf8' }).replaceAll(/[\s\u00a0]+/g, ' ');

const run = (...args: string[]) => tavrox(app.dataFolder, ...args);

describe('the place Report', () => {
  let pdf: string;

  it('answers the evening’s question from Fit in three presses, on two pages', async () => {
    await page.goto(`${app.origin}/fit`);
    await page.waitForSelector('[data-put-into-report]');
    const sentence = await page.$eval('[data-sentence]', (one) => one.textContent.trim());
    await page.keyboard.press('e');
    await waitForText(page, 'it is in: open the report');
    await page.keyboard.press('r');
    await inPages('page 2 of 2');
    const words = await pageWords(page);
    expect(words).toContain('Does Petrel 2T carry Night shoot?');
    // The pages say of an item what the place says of it.
    const [, own = ''] = /Petrel 2T\.\s*(.*)$/.exec(sentence) ?? [];
    const plain = (text: string) => text.replaceAll(/[\s\u00a0\u202f]+/g, '');
    expect(own.length).toBeGreaterThan(20);
    expect(plain(words)).toContain(plain(own));
    await press(page, 'PDF');
    pdf = await saved('.pdf');
  });

  it.skipIf(!hasPoppler)('writes a PDF whose text can be selected and whose typeface is in it', () => {
    const text = pdfText(pdf);
    expect(text).toContain('Does Petrel 2T carry Night shoot?');
    expect(text).toContain('page 2 of 2');
    expect(text).toMatch(/knee at 190 GB/);
    const [, , ...fonts] = execFileSync('pdffonts', [pdf], { encoding: 'utf8' }).trim().split('\n');
    expect(fonts.length).toBeGreaterThanOrEqual(2);
    for (const font of fonts) expect(font).toMatch(/Atkinson.*yes yes yes/);
    expect(execFileSync('pdfdetach', ['-list', pdf], { encoding: 'utf8' })).toContain('tavrox-report.json');
  });

  it('is made alike from the command line, from any of its forms', async () => {
    const out = join(downloads, 'again.html');
    expect((await run('report', pdf, '--out', out)).code).toBe(0);
    const printed = await run('report', out);
    expect(printed.stdout).toContain('Does Petrel 2T carry Night shoot?');
    const words = (await pageWords(page)).replaceAll(/[\s\u00a0\u202f]+/g, '');
    const [, , , answer] = printed.stdout.split('\n');
    expect(words).toContain(answer!.replaceAll(/[\s\u00a0\u202f]+/g, ''));
    const csv = join(downloads, 'again.csv');
    await run('report', pdf, '--out', csv);
    expect(await readFile(csv, 'utf8')).toContain('part,of,figure,value,unit');
    const wrong = await run('report', pdf, '--out', join(downloads, 'x.docx'));
    expect([wrong.code, wrong.stderr]).toEqual([2, expect.stringContaining('.pdf, .html, .csv and .json')]);
  });

  it('is opened by a fresh Tavrox, which says the same', async () => {
    const { page: other, faults: otherFaults } = await openPage(browser, fresh);
    await other.goto(`${fresh.origin}/report`);
    await waitForText(other, 'No report yet');
    const input = (await other.waitForSelector('input[aria-label="Report file"]')) as ElementHandle<HTMLInputElement>;
    await input.uploadFile(pdf);
    await other.waitForSelector('svg[data-page="2"]');
    expect(await pageWords(other)).toBe(await pageWords(page));
    expect(otherFaults).toEqual([]);
    await other.close();
  });

  it('takes remarks, another order and another title, and keeps them', async () => {
    await page.keyboard.press('j');
    const remark = await page.waitForSelector('textarea[aria-label="Remark under the part"]');
    await remark!.click();
    await remark!.type('Measured after the heat of the day.');
    await page.$eval('textarea[aria-label="Remark under the part"]', (one) => one.blur());
    await inPages('Measured after the heat of the day.');
    await press(page, 'Down');
    await expect
      .poll(async () => (await own()).outline.parts.map(({ kind }) => kind).slice(0, 3))
      .toEqual(['answer', 'not-proven', 'run']);
    await press(page, 'Leave out');
    await page.waitForFunction(() => !document.body.textContent.includes('knee at 190 GB'));
    await press(page, 'Show');
    await inPages('knee at 190 GB');
    await press(page, 'Title and paper');
    await page.locator('input[aria-label="For"]').fill('the production office');
    await press(page, 'Letter');
    await press(page, 'Keep');
    await inPages('for the production office');
    await kept(page);
    const { outline } = await own();
    expect(outline).toMatchObject({ paper: 'letter', forWhom: 'the production office' });
    const box = await page.$eval('svg[data-page]', (one) => one.getAttribute('viewBox'));
    expect(box).toBe('0 0 612 792');
  });

  it('says what changed since: a run that was deleted', async () => {
    const { outline } = await own();
    const shown = outline.parts.find((part) => part.kind === 'run')!;
    await callApi(app, 'DELETE', `/runs/${shown.runId}`);
    await page.reload();
    await waitForText(page, 'This run is not among those that are kept here');
    // The report holds it all the same.
    await inPages('knee at 190 GB');
  });

  it('copies and deletes reports, and has an address for each', async () => {
    const { outline } = await own();
    expect(page.url()).toContain('/report');
    await page.goto(`${app.origin}/report/${outline.id}`);
    await page.waitForSelector('svg[data-page]');
    const open = () => page.locator('button[aria-haspopup="menu"]::-p-text(Does Petrel 2T carry Night shoot?)').click();
    await open();
    await page.locator('[role="menuitem"]::-p-text(Copy this one)').click();
    await waitForText(page, 'Does Petrel 2T carry Night shoot?, copy');
    expect(await reports()).toHaveLength(3);
    await open();
    await page.locator('[role="menuitem"]::-p-text(Delete this one)').click();
    await page.locator('[role="menuitem"]::-p-text(Delete this one for good)').click();
    await expect.poll(async () => (await reports()).length).toBe(2);
  });
});

describe('what is put in', () => {
  it('comes from every place by one key, and stands in the order of a note', async () => {
    await callApi(app, 'POST', '/reports', { date: '2026-03-12' });
    await page.evaluate(() => {
      const kept = JSON.parse(localStorage.getItem('tavrox-context')!) as { state: object };
      localStorage.setItem('tavrox-context', JSON.stringify({ ...kept, state: { ...kept.state, reportId: null } }));
    });
    const places: [path: string, ready: string][] = [
      ['/sizing', '[data-build]'],
      ['/workloads/demo-reef-keeper', '[data-load-row][data-verdict]'],
      ['/workloads/demo-kelp-sim', '[data-item-facts]'],
      ['/copies', '[data-measured]'],
      ['/drives', '[data-put-into-report]'],
      ['/measure/runs/demo-petrel-take', '[data-pass]'],
      ['/fit', '[data-sentence]'],
    ];
    for (const [path, ready] of places) {
      await page.goto(app.origin + path);
      await page.waitForSelector(ready);
      await page.waitForSelector('[data-put-into-report]');
      await page.keyboard.press('e');
      await waitForText(page, 'it is in: open the report').catch((cause: unknown) => {
        throw new Error(`nothing was put in from ${path}`, { cause });
      });
    }
    const { outline } = await own();
    const kinds = outline.parts.map(({ kind }) => kind);
    const order = [
      'answer',
      'run',
      'not-proven',
      'verdicts',
      'comparison',
      'copy',
      'series',
      'load',
      'build',
      'conditions',
    ];
    expect([...new Set(kinds)]).toEqual(order);
    await page.keyboard.press('r');
    await page.waitForSelector('svg[data-page="3"]');
    const titles = await textOf(page, 'aside');
    expect(titles).toContain('Cache series Kelp in the current');
    expect(titles).toMatch(/What to buy/);
    const file = await callApi(app, 'GET', `/reports/${outline.id}/file?form=json`);
    expect(JSON.stringify(file.document)).not.toContain(app.dataFolder);
  });
});

describe('what is passed on', () => {
  // A database server keeps backups of its own.
  it.skipIf(IS_ON_SERVER)('is backed up and restored in the page, while it is open', async () => {
    const before = (await reports()).length;
    await page.goto(`${app.origin}/measure`);
    await page.locator('button[aria-label="Settings"]').click();
    await press(page, 'Back up now');
    await waitForText(page, /Backed up to/);
    await callApi(app, 'DELETE', '/workloads/demo-edit');
    await press(page, 'Restore the newest');
    await press(page, 'Yes, put the newest in the place of everything');
    await waitForText(page, /documents are here again/);
    expect((await reports()).length).toBe(before);
    const workloads = (await callApi(app, 'GET', '/workloads')).document as { id: string }[];
    expect(workloads.map(({ id }) => id)).toContain('demo-edit');
  });

  it('goes from one Tavrox to another as an archive, is previewed, and is there afterwards', async () => {
    await page.goto(`${app.origin}/measure`);
    await page.locator('button[aria-label="Settings"]').click();
    await press(page, 'Save an archive');
    const archive = await saved('.zip');
    const { page: other, faults: otherFaults } = await openPage(browser, fresh);
    await other.goto(`${fresh.origin}/measure`);
    await other.locator('button[aria-label="Settings"]').click();
    const input = (await other.waitForSelector(
      'input[aria-label="File to take in"]',
    )) as ElementHandle<HTMLInputElement>;
    await input.uploadFile(archive);
    await waitForText(other, /documents are new/);
    const runs = async (of: App) =>
      ((await callApi(of, 'GET', '/runs')).document as RunListEntry[]).map(({ run }) => run.id).sort();
    expect(await runs(fresh)).toEqual([]);
    await press(other, 'Take it in');
    await waitForText(other, /Taken in/);
    expect(await runs(fresh)).toEqual(await runs(app));
    const again = await run('import', archive, '--dry-run', '--json', '--data', fresh.dataFolder);
    expect((JSON.parse(again.stdout) as { counts: object }).counts).toMatchObject({ kept: 0, replaced: 0, left: 0 });
    expect(otherFaults).toEqual([]);
    await other.close();
  });

  it('asks of a table what it does not say, and keeps the trace as a run that says where it is from', async () => {
    const table = join(downloads, 'camera log.csv');
    const rows = Array.from({ length: 120 }, (_, row) => `${row + 1};${row < 60 ? 900 : 450}`);
    writeFileSync(table, ['time;write mb/s', ...rows].join('\n'));
    await page.reload();
    await page.locator('button[aria-label="Settings"]').click();
    const input = (await page.waitForSelector(
      'input[aria-label="File to take in"]',
    )) as ElementHandle<HTMLInputElement>;
    await input.uploadFile(table);
    await waitForText(page, 'Not known yet: in which unit the time is; in which unit that is.');
    await page.select('select[aria-label="Time in"]', 's');
    await page.select('select[aria-label="In"]', 'MB');
    // 60 × 900 and 60 × 450 MB.
    await waitForText(page, '81 GB in 2 min, a mean of 675 MB/s');
    await press(page, 'Take it in');
    await waitForText(page, 'It was read from a table');
    expect(await textOf(page, 'body')).not.toContain('system cache bypassed');
    const cli = await run(
      'fit',
      '--trace',
      table,
      '--columns',
      'time in s; write mb/s in MB/s',
      '--direction',
      'write',
      '--demand',
      '400MB/s',
      '--duration',
      '150s',
      '--json',
    );
    expect(JSON.parse(cli.stdout)).toMatchObject({ verdict: 'tight' });
    const unsaid = await run(
      'fit',
      '--trace',
      table,
      '--direction',
      'write',
      '--demand',
      '400MB/s',
      '--duration',
      '100s',
    );
    expect([unsaid.code, unsaid.stderr]).toEqual([2, expect.stringContaining('--columns')]);
  });

  it('leaves nothing in the pages’ consoles', () => {
    expect(faults).toEqual([]);
  });
});
