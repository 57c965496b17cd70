import { existsSync } from 'node:fs';
import { newAddress, type App } from './app.ts';
import { launch, type Browser, type HTTPRequest, type Page } from 'puppeteer-core';

const PLACES = ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'];

/** What waits for a condition may wait long where the machine has more to do, milliseconds. */
const PATIENCE = 100_000;

export function chromiumPath(): string | undefined {
  return process.env['CHROMIUM'] ?? PLACES.find((path) => existsSync(path));
}

/** @param more arguments of the browser */
export function launchBrowser(width = 1280, height = 800, more: readonly string[] = []): Promise<Browser> {
  const executablePath = chromiumPath();
  if (executablePath === undefined)
    throw new Error('Chromium is not installed. Install it, or set CHROMIUM to its path.');
  return launch({
    executablePath,
    headless: true,
    args: [
      '--no-sandbox',
      '--disable-dev-shm-usage',
      '--disable-background-networking',
      '--disable-sync',
      '--force-color-profile=srgb',
      ...more,
    ],
    defaultViewport: { width, height },
  });
}

/** The application in a page of its own, let in by its address. */
export async function openPage(browser: Browser, app: App): Promise<{ page: Page; faults: string[] }> {
  const { page, faults } = await blankPage(browser);
  await page.goto(await newAddress(app));
  await page.waitForSelector('nav[aria-label="Places"]');
  await page.evaluate(() => document.fonts.ready.then(() => undefined));
  return { page, faults };
}

/** Requests of pages that change something and are not answered yet. */
const changing = new WeakMap<Page, Set<HTTPRequest>>();

/** Waits until the server has answered all that a page changed: pages show a change before it is kept. */
export async function kept(page: Page): Promise<void> {
  // What the page sent before this answer has been told of.
  await page.evaluate(() => undefined);
  const end = Date.now() + PATIENCE;
  while (changing.get(page)!.size > 0) {
    if (Date.now() > end) throw new Error('The page’s changes were not answered.');
    await new Promise((resolve) => setTimeout(resolve, 10));
  }
}

/** A page before it goes anywhere; what it will complain of is gathered. */
export async function blankPage(browser: Browser): Promise<{ page: Page; faults: string[] }> {
  const page = await browser.newPage();
  page.setDefaultTimeout(PATIENCE);
  // Loaders that keep the names of functions call this helper, which a page does not have.
  await page.evaluateOnNewDocument('globalThis.__name = (it) => it');
  const faults: string[] = [];
  const changes = new Set<HTTPRequest>();
  changing.set(page, changes);
  page.on('request', (request) => request.method() !== 'GET' && changes.add(request));
  page.on('requestfinished', (request) => changes.delete(request));
  page.on('requestfailed', (request) => changes.delete(request));
  page.on('pageerror', (error) => faults.push(String(error)));
  page.on('console', (message) => {
    // A network of this machine that comes or goes, as in other tests, is no fault of the page; what it asked it asks again.
    if (message.type() === 'error' && !message.text().includes('ERR_NETWORK_CHANGED')) faults.push(message.text());
  });
  return { page, faults };
}

/**
 * Clicks the button, link or choice that reads exactly so once it stands still; again when it was drawn anew or moved
 * away from under the pointer between the look and the click.
 */
export async function press(page: Page, name: string): Promise<void> {
  const locator = page.locator(`::-p-aria([name="${name}"])`).setTimeout(PATIENCE);
  for (let tries = 1; ; tries += 1) {
    try {
      const element = await locator.waitHandle();
      const felt = await element.evaluateHandle((one) => {
        const state = { pointer: false };
        one.addEventListener('pointerdown', () => (state.pointer = true), { once: true, capture: true });
        return state;
      });
      await locator.click();
      // One that is gone went with what was pressed.
      const missed = await element.evaluate((one, { pointer }) => one.isConnected && !pointer, felt).catch(() => false);
      if (!missed) return;
      if (tries === 6) throw new Error(`“${name}” stays under something else`);
    } catch (error) {
      if (tries === 6 || !/detached|not clickable/.test(String(error))) throw error;
    }
  }
}

/** Activates the first element that an XPath finds, wherever it is on the page and whatever moves over it. */
export async function activate(page: Page, xpath: string): Promise<void> {
  await page.waitForFunction(
    (path) => {
      const found = document.evaluate(path, document, null, XPathResult.FIRST_ORDERED_NODE_TYPE, null).singleNodeValue;
      if (found) (found as HTMLElement).click();
      return found !== null;
    },
    {},
    xpath,
  );
}

/** Waits until the page's words contain a text or match a pattern. */
export async function waitForText(page: Page, text: string | RegExp, timeout = PATIENCE): Promise<void> {
  const pattern = text instanceof RegExp ? text : new RegExp(text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'));
  await page.waitForFunction(
    (source, flags) => new RegExp(source, flags).test(document.body.innerText.replace(/\u202f/g, ' ')),
    { timeout, polling: 100 },
    pattern.source,
    pattern.flags,
  );
}

/**
 * Replaces what a field holds: all but the last letter at once, as pasted, and that one by its key.
 * @param isClicked false where the field has the focus already
 */
export async function typeInto(page: Page, name: string, value: string, isClicked = true): Promise<void> {
  const field = (await page.waitForSelector(`::-p-aria([name="${name}"][role="textbox"])`))!;
  if (isClicked) await field.click();
  // All lines of it, of which a triple click would take but one.
  await page.keyboard.down('Control');
  await page.keyboard.press('a');
  await page.keyboard.up('Control');
  await page.keyboard.press('Backspace');
  await page.keyboard.sendCharacter(value.slice(0, -1));
  if (value !== '') await page.keyboard.type(value.slice(-1));
}

/** Waits until there are so many of what a selector finds: what is drawn later than the words beside it. */
export const waitForCount = (page: Page, selector: string, count: number) =>
  page.waitForFunction((what, many) => document.querySelectorAll(what).length === many, {}, selector, count);

/** Words of an element once it is there, spaces made plain. */
export async function textOf(page: Page, selector: string): Promise<string> {
  await page.waitForSelector(selector);
  const text = await page.$eval(selector, (element) => (element as HTMLElement).innerText ?? element.textContent ?? '');
  return text.replace(/[\s\u202f]+/g, ' ').trim();
}
