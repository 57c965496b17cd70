import { join } from 'node:path';
import type { TestContext } from 'vitest';
import type { Browser, ElementHandle, Page } from 'puppeteer-core';
import { callApi, removeFolder, startApp, temporaryFolder, type App } from '../support/app.ts';
import { launchBrowser, openPage, press, typeInto } from '../support/browser.ts';

/**
 * A person who never saw Tavrox before, on an empty data folder. What is pressed and typed is counted; with TAVROX_LOOK
 * set to a folder, each step leaves its picture there.
 */
export interface Walk {
  app: App;
  browser: Browser;
  page: Page;
  /** What went wrong in the page so far. */
  faults: string[];
  /** A folder for what the person brings. */
  own: string;
  press: (name: string) => Promise<void>;
  type: (fields: Record<string, string>) => Promise<void>;
  /** Gives files to the field that is so called. */
  give: (field: string, ...paths: string[]) => Promise<void>;
  /** Presses and fields since the count was begun. */
  count: { presses: number; fields: number; begin: () => void };
  look: (step: string) => Promise<void>;
  end: () => Promise<void>;
}

interface Setting {
  name: string;
  width?: number;
  height?: number;
  isLight?: boolean;
  /** Called with the server before the page is opened. */
  onServer?: (app: App) => void;
}

export async function beginWalk({
  name,
  width = 1280,
  height = 800,
  isLight = false,
  onServer,
}: Setting): Promise<Walk> {
  const app = await startApp({ empty: true });
  onServer?.(app);
  const own = temporaryFolder(name);
  const browser = await launchBrowser(width, height);
  const { page, faults } = await openPage(browser, app);
  if (isLight) await press(page, 'Use the light theme');
  const count = {
    presses: 0,
    fields: 0,
    begin() {
      [count.presses, count.fields] = [0, 0];
    },
  };
  let steps = 0;
  return {
    app,
    browser,
    page,
    faults,
    own,
    count,
    async press(label) {
      count.presses += 1;
      await press(page, label);
    },
    async type(fields) {
      for (const [label, value] of Object.entries(fields)) {
        count.fields += 1;
        await typeInto(page, label, value);
      }
    },
    async give(field, ...paths) {
      const selector = `input[aria-label="${field}"]`;
      const input = (await page.waitForSelector(selector)) as ElementHandle<HTMLInputElement>;
      await input.uploadFile(...paths);
    },
    async look(step) {
      steps += 1;
      const folder = process.env['TAVROX_LOOK'];
      if (folder === undefined) return;
      await page.screenshot({ path: join(folder, `${name}-${String(steps).padStart(2, '0')}-${step}.png`) });
    },
    async end() {
      await browser.close();
      await app.stop();
      removeFolder(app.dataFolder);
      removeFolder(own);
    },
  };
}

/** A drive as it stands on its box, by the button that is nearest; in a place without any it says so. */
export async function addDrive({ page, press, type }: Walk, line: string): Promise<void> {
  await page.waitForFunction(() => document.body.innerText.includes('Add a drive'));
  const isFirst = await page.evaluate(() => document.body.innerText.includes('Add a drive by hand'));
  await press(isFirst ? 'Add a drive by hand' : 'Add a drive');
  await type({ 'As it stands on its box': line });
  await page.waitForSelector('[data-taken-for]');
  await press('Keep');
  await page.waitForSelector('[data-taken-for]', { hidden: true });
}

/** Chooses the volume of a mount point and a folder on it, where the question names its drive. */
export async function chooseDrive(
  { page, press, type, count }: Walk,
  mountPoint: string,
  folder: string,
): Promise<void> {
  await page
    .locator('::-p-xpath(//form[@aria-label="Question"]//button[starts-with(@aria-label, "Drive or folder")])')
    .click();
  await page.locator(`::-p-xpath(//*[@role="radio"][contains(., "${mountPoint}")])`).click();
  count.presses += 2;
  await type({ Folder: folder });
  await press('Measure here');
}

/** What a program printed, in one line and with plain spaces. */
export const plain = (text: string): string => text.replaceAll(/[\s\u00a0\u202f]+/g, ' ').trim();

/** At a further try of what a shared machine spoilt takes away all runs, and comes back to the question. */
export async function forgetRuns({ app, page }: Walk, { result }: TestContext['task']): Promise<void> {
  if ((result?.retryCount ?? 0) === 0) return;
  const runs = (await callApi(app, 'GET', '/runs')).document as { run: { id: string } }[];
  for (const { run } of runs) await callApi(app, 'DELETE', `/runs/${run.id}`);
  await page.goto(`${app.origin}/measure`);
  await page.waitForSelector('form[aria-label="Question"]');
}
