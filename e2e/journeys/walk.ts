import { join } from 'node:path';
import type { TestContext } from 'vitest';
import type { Browser, ElementHandle, Page } from 'puppeteer-core';
import { callApi, removeFolder, startApp, temporaryFolder, type App } from '../support/app.ts';
import { launchBrowser, openPage, press, typeInto } from '../support/browser.ts';
import { pressByKeys, reach } from '../support/keyboard.ts';

/**
 * A person who never saw Tavrox before, on an empty data folder. What is pressed and typed is counted; with TAVROX_LOOK
 * set to a folder, each step leaves its picture there. With TAVROX_WALK a walk is gone in another window, in the other
 * theme or without a mouse: `900x600`, `light` or `dark`, `keyboard` or `mouse`, several of them with commas.
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
  /** Presses what has no name of its own. */
  pressAt: (selector: string) => Promise<void>;
  type: (fields: Record<string, string>) => Promise<void>;
  /** Gives files to the field that is so called. */
  give: (field: string, ...paths: string[]) => Promise<void>;
  /** Presses and fields since the count was begun. */
  count: { presses: number; fields: number; begin: () => void };
  look: (step: string) => Promise<void>;
  end: () => Promise<void>;
}

/** What TAVROX_WALK asks for instead of a walk's own window, theme and mouse. */
function askedSetting(own: Omit<Setting, 'name' | 'onServer'>) {
  const words = (process.env['TAVROX_WALK'] ?? '').split(',');
  const size = words.map((word) => /^(\d+)x(\d+)$/.exec(word)).find((found) => found !== null);
  const [width, height] = size ? [Number(size[1]), Number(size[2])] : [own.width ?? 1280, own.height ?? 800];
  const isLight = words.includes('light') || (own.isLight === true && !words.includes('dark'));
  const byKeys = words.includes('keyboard') || (own.byKeys === true && !words.includes('mouse'));
  return { width, height, isLight, byKeys };
}

interface Setting {
  name: string;
  width?: number;
  height?: number;
  isLight?: boolean;
  /** Whether it is gone without a mouse. */
  byKeys?: boolean;
  /** Called with the server before the page is opened. */
  onServer?: (app: App) => void;
}

export async function beginWalk({ name, onServer, ...setting }: Setting): Promise<Walk> {
  const { width, height, isLight, byKeys } = askedSetting(setting);
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
      if (byKeys) await pressByKeys(page, `::-p-aria([name="${label}"])`);
      else await press(page, label);
    },
    async pressAt(selector) {
      count.presses += 1;
      if (byKeys) await pressByKeys(page, selector);
      else await page.locator(selector).click();
    },
    async type(fields) {
      for (const [label, value] of Object.entries(fields)) {
        count.fields += 1;
        if (byKeys) await reach(page, `::-p-aria([name="${label}"][role="textbox"])`);
        await typeInto(page, label, value, !byKeys);
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
export async function chooseDrive({ press, pressAt, type }: Walk, mountPoint: string, folder: string): Promise<void> {
  await pressAt('::-p-xpath(//form[@aria-label="Question"]//button[starts-with(@aria-label, "Drive or folder")])');
  await pressAt(`::-p-xpath(//*[@role="radio"][contains(., "${mountPoint}")])`);
  await type({ Folder: folder });
  await press('Measure here');
}

/** What a program printed, in one line and with plain spaces. */
export const plain = (text: string): string => text.replaceAll(/[\s\u00a0\u202f]+/g, ' ').trim();

/**
 * At a further try of what a shared machine spoilt takes away all runs, or those of a recipe, and comes back to the
 * question.
 */
export async function forgetRuns(
  { app, page }: Walk,
  { result }: TestContext['task'],
  recipe: string | null = null,
): Promise<void> {
  if ((result?.retryCount ?? 0) === 0) return;
  const runs = (await callApi(app, 'GET', '/runs')).document as { run: { id: string; recipe: string } }[];
  for (const { run } of runs)
    if (recipe === null || run.recipe === recipe) await callApi(app, 'DELETE', `/runs/${run.id}`);
  await page.goto(`${app.origin}/measure`);
  await page.waitForSelector('form[aria-label="Question"]');
}
