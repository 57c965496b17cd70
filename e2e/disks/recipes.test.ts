import type { Browser, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { RunListEntry } from '#core/6-exchange/api/wire.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { callApi, removeFolder, startApp, type App } from '../support/app.ts';
import { activate, launchBrowser, openPage, press, textOf, typeInto, waitForText } from '../support/browser.ts';

/** Every recipe from the interface, and what can be done with a run. */
let app: App;
let browser: Browser;
let page: Page;
let faults: string[];
beforeAll(async () => {
  app = await startApp({ standInSpeed: 30 });
  browser = await launchBrowser();
  ({ page, faults } = await openPage(browser, app));
  await page.waitForSelector('[data-pass]');
});
afterAll(async () => {
  await browser.close();
  await app.stop();
  removeFolder(app.dataFolder);
});

async function chooseStandIn(name: string): Promise<void> {
  await activate(page, '//aside//button[contains(., ", simulated")]');
  await activate(page, `//*[@role="radio"][contains(., "${name}")]`);
  await press(page, 'Measure here');
  await waitForText(page, `${name}, simulated`);
}

async function chooseRecipe(label: string, fields: Record<string, string> = {}, choices: string[] = []): Promise<void> {
  await press(page, 'Options');
  await activate(page, `//*[@role="dialog"]//*[@role="radio"][contains(., "${label}")]`);
  for (const [name, value] of Object.entries(fields)) await typeInto(page, name, value);
  for (const choice of choices) await press(page, choice);
  await press(page, 'Use this');
  await page.waitForFunction(() => !document.querySelector('[role="dialog"]'));
}

/** Starts what is set up and waits until it is over. */
async function carryOut(): Promise<void> {
  const before = page.url();
  await press(page, 'Start');
  await page.waitForFunction((address) => location.href !== address, {}, before);
  const id = page.url().split('/').at(-1)!;
  const ended = async () => ((await callApi(app, 'GET', `/runs/${id}`)).document as RunDocument).endedAt !== null;
  await expect.poll(ended, { timeout: 100_000 }).toBe(true);
  await page.waitForSelector('::-p-aria([name="Start"])');
}

describe('each recipe from the interface', () => {
  it('explains itself and says what it takes before it starts', async () => {
    await press(page, 'Options');
    const sheet = () => textOf(page, '[role="dialog"]');
    for (const label of ['Long fill', 'Paced frames', 'Block ladder', 'File scatter', 'Existing material']) {
      await activate(page, `//*[@role="dialog"]//*[@role="radio"][contains(., "${label}")]`);
      await waitForText(page, /leaves .* free|Changes nothing/);
    }
    expect(await sheet()).toMatch(/Changes nothing, reads up to 64.GB, takes at most/);
    await page.keyboard.press('Escape');
    await page.waitForFunction(() => !document.querySelector('[role="dialog"]'));
  });

  it('a long fill shows knee and floor on the trace', async () => {
    await chooseStandIn('Skerry 512');
    await chooseRecipe('Long fill', { Amount: '60 GB' });
    await carryOut();
    await page.waitForSelector('[data-mark="knee"]');
    await waitForText(page, /opening 2,[89]\d\d.MB\/s · knee at 32\.\d.GB · floor 3[01]\d.MB\/s/);
  });

  it('paced frames are set up from the workload and show every stream', async () => {
    await press(page, 'Options');
    await activate(page, '//*[@role="dialog"]//*[@role="radio"][contains(., "Paced frames")]');
    await press(page, 'Three cameras');
    await typeInto(page, 'Time', '20 s');
    await press(page, 'Use this');
    await carryOut();
    await page.waitForSelector('[data-lane]');
    expect(await page.$$eval('[data-lane]', (lanes) => lanes.length)).toBe(3);
    await waitForText(page, /No frame was dropped\. All 1,500 went through/);
  });

  it('a block ladder draws its lines, a file scatter its dots, and existing material its trace', async () => {
    await chooseRecipe('Block ladder', {
      'Block sizes': '4 KiB, 1 MiB',
      'Queue depths': '1, 8',
      'Seconds of a rung': '1',
    });
    await carryOut();
    await page.waitForSelector('[data-panel="random"] [data-line="read 8"]');
    await chooseRecipe('File scatter', { 'Number of files': '300' });
    await carryOut();
    await page.waitForSelector('[data-dots="create"]');
    expect(await page.$$eval('[data-action]', (rows) => rows.length)).toBe(4);
    await chooseRecipe('Existing material', { Amount: '20 GB' });
    await carryOut();
    await page.waitForSelector('[data-pass][data-direction="read"]');
    expect(await page.$('[data-pass][data-direction="write"]')).toBeNull();
  });
});

describe('a run', () => {
  it('is held and goes on, while the page may be closed; on return the trace is whole', async () => {
    await chooseStandIn('Anchor 16T');
    await chooseRecipe('Long fill', { Amount: '300 GB' });
    await press(page, 'Start');
    await waitForText(page, /filling, \d+:\d\d elapsed/);
    await press(page, 'Hold');
    await waitForText(page, /held: filling/);
    await press(page, 'Go on');
    await page.waitForSelector('::-p-aria([name="Hold"])');
    const address = page.url();
    await page.goto('about:blank');
    await page.goto(address);
    await page.waitForSelector('[data-pass]');
    await press(page, 'Stop, keep result');
    await page.waitForSelector('::-p-aria([name="Start"])');
    await page.waitForSelector('[data-levels], [data-figures="write"]');
    await page.keyboard.press('x');
    await page.waitForSelector('[data-mark="pause"]');
    await page.keyboard.press('x');
  });

  it('keeps a note and tags, gives its options, and is deleted when asked twice', async () => {
    await press(page, 'Add a note');
    await typeInto(page, 'Note', 'Held to cool.');
    await typeInto(page, 'Tags', 'lobby, night');
    await press(page, 'Keep');
    await waitForText(page, 'Held to cool.');
    const id = page.url().split('/').at(-1)!;
    const listed = async () =>
      ((await callApi(app, 'GET', '/runs')).document as RunListEntry[]).find((entry) => entry.run.id === id)?.run;
    expect(await listed()).toMatchObject({ note: 'Held to cool.', tags: ['lobby', 'night'] });
    await press(page, 'Take its options');
    await waitForText(page, '300 GB, or a minute of the floor');
    await press(page, 'Leave this run out');
    await page.waitForSelector('[data-left-out]');
    expect(await listed()).toMatchObject({ leftOut: true });
    await press(page, 'Count this run again');
    await page.waitForSelector('[data-left-out]', { hidden: true });
    await press(page, 'Delete');
    await press(page, 'Yes, delete');
    await page.waitForFunction((gone) => !location.href.includes(gone), {}, id);
    expect(await listed()).toBeUndefined();
  });

  it('waits for its device in the queue, and is taken back from there', async () => {
    // A fill that lasts for minutes, however slow the machine is with the rest.
    await chooseStandIn('Anchor 16T');
    await chooseRecipe('Long fill', { Amount: '3 TB' });
    await press(page, 'Start');
    await waitForText(page, /filling, \d+:\d\d elapsed/);
    const volumeId = 'stand-in-anchor-16t';
    const request = { volumeId, folder: '', recipeId: 'file-scatter', options: {} };
    const answer = await callApi(app, 'POST', '/runs', request);
    expect(answer.status, JSON.stringify(answer.document)).toBe(201);
    await page.waitForFunction(() => /Running.*1 more/s.test(document.querySelector('header')!.innerText));
    await activate(page, '//header//button[contains(., "Running")]');
    await waitForText(page, /File scatter on Anchor 16T\s*waits until the device is free/);
    await activate(page, '//*[@role="menu"]//*[text()="do not start"]');
    await page.waitForFunction(() => !document.body.innerText.includes('waits until the device is free'));
    await page.keyboard.press('Escape');
    await page.waitForFunction(() => !document.querySelector('[role="menu"]'));
    await press(page, 'Stop, keep result');
    await page.waitForSelector('::-p-aria([name="Start"])');
  });

  it('on a stand-in that is unplugged says so and keeps what was measured', async () => {
    await chooseStandIn('Limpet 1T');
    await chooseRecipe('Short passes', { Passes: '3' });
    await press(page, 'Settings');
    await activate(page, '//*[@role="dialog"]//*[contains(., "Limpet 1T")]/button[text()="Faults"]');
    await activate(page, '//label[contains(., "Unplugged")]//input');
    await waitForText(page, '1 fault on');
    await page.keyboard.press('Escape');
    await page.waitForFunction(() => !document.querySelector('[role="dialog"]'));
    await carryOut();
    await waitForText(page, 'The drive is gone. What was measured before is kept');
    await page.waitForSelector('[data-pass]');
    expect(faults).toEqual([]);
  });
});
