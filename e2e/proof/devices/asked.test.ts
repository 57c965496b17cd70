import { mkdirSync } from 'node:fs';
import { setPriority } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it, onTestFinished } from 'vitest';
import { TRIED_AGAIN, printFurtherTries } from '../../support/tried-again.ts';
import { startApp } from '../../support/app.ts';
import { launchBrowser, openPage, press, textOf, typeInto } from '../../support/browser.ts';
import { canHold, makeThrottledDevice } from '../../support/throttled-device.ts';

/** A moment in which a shared machine stands still leaves less to spare, and no less that is carried. */
const CARRIED = ['holds', 'tight'];

/** One question, one answer, on devices whose truth is known: held to a rate, with a knee, and one that breaks. */
describe.skipIf(!canHold)('a question about a device that the kernel holds', TRIED_AGAIN, () => {
  printFurtherTries();
  let rig: ReturnType<typeof makeThrottledDevice>;
  beforeAll(() => {
    rig = makeThrottledDevice('asked');
  });
  afterAll(() => rig.remove());

  /** What an earlier run left to be written has gone to the device. */
  async function settled(): Promise<void> {
    for (let before = -1; before !== rig.writtenBytes();) {
      before = rig.writtenBytes();
      await wait(1500);
    }
  }

  /** Turns it down once after so many bytes. */
  async function turnDown(fast: number, slow: number, after: number): Promise<() => void> {
    rig.limit(fast);
    await settled();
    const begin = rig.writtenBytes();
    let over = false;
    void (async () => {
      while (!over && rig.writtenBytes() - begin < after) await wait(5);
      rig.limit(slow);
    })();
    return () => {
      over = true;
    };
  }

  it('held to a rate is answered by one command, within a minute and the bytes of the job', async () => {
    rig.limit(100e6);
    // 40 MB/s for 30 s are 1.2 GB: twelve seconds of the device, then 50 MB/s until a minute is over.
    const held = await rig.check('40 MB/s', '--for', '30s');
    expect(CARRIED, held.sentence).toContain(held.verdict);
    expect(held.sentence).toMatch(/^Yes/);
    expect(held.seconds).toBeGreaterThan(58);
    expect(held.seconds).toBeLessThan(64);
    expect(held.bytesMoved / 1e9).toBeGreaterThan(1.15);
    expect(held.bytesMoved / 1e9).toBeLessThan(1.5);
  });

  it('that becomes slower than the job is told to break when it does', async () => {
    const over = await turnDown(200e6, 60e6, 900e6);
    onTestFinished(over);
    const broken = await rig.check('140 MB/s', '--for', '20s', '--buffer', '1.5s');
    expect(broken).toMatchObject({ verdict: 'breaks' });
    // 900 MB at 140 MB/s, then 80 MB/s more than it does fill 210 MB.
    const truth = 900 / 140 + 210 / 80;
    expect(Math.abs(broken.breaksAtSeconds! / truth - 1), broken.sentence).toBeLessThan(0.06);
    // It ends when it is decided, and not with the job’s bytes.
    expect(broken.bytesMoved).toBeLessThan(0.8 * 140e6 * 20);
  });

  it('that becomes slower, and stays quicker than the job, holds', async () => {
    const over = await turnDown(200e6, 60e6, 600e6);
    onTestFinished(over);
    const held = await rig.check('30 MB/s', '--for', '40s');
    expect(CARRIED, held.sentence).toContain(held.verdict);
  });

  it('is answered in the page with four presses', async () => {
    rig.limit(100e6);
    const app = await startApp({ empty: true });
    const browser = await launchBrowser();
    onTestFinished(async () => {
      await browser.close();
      await app.stop();
    });
    rig.hold(app.process.pid!);
    // A browser that draws beside it on two processors must not hold up what measures.
    setPriority(app.process.pid!, -10);
    const { page } = await openPage(browser, app);
    await page.waitForSelector('form[aria-label="Question"]');
    await typeInto(page, 'What', '40 MB/s');
    await typeInto(page, 'Length of a take', '30 s');
    const folder = join(rig.mountPoint, 'shoot');
    mkdirSync(folder, { recursive: true });
    const volume = rig.mountPoint.split('/').at(-1)!;
    await page
      .locator('::-p-xpath(//form[@aria-label="Question"]//button[starts-with(@aria-label, "Drive or folder")])')
      .click();
    await page.locator(`::-p-xpath(//*[@role="radio"][contains(., "${volume}")])`).click();
    await typeInto(page, 'Folder', folder);
    await press(page, 'Measure here');
    await press(page, 'Ask');
    await page.waitForSelector('[data-answer="holds"], [data-answer="tight"]', { timeout: 200_000 });
    expect(await textOf(page, '[data-answer]')).toMatch(/Yes.*Records 40 MB\/s for the whole 30 s/s);
  });
});
