import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Browser, Page } from 'puppeteer-core';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { heardIn } from '#core/4-runs/run/loudness.ts';
import { movedSecondsOf, type RunDocument } from '#core/4-runs/run/run-document.ts';
import type { RunListEntry } from '#core/6-exchange/api/wire.ts';
import { callApi, removeFolder, startApp, type App } from '../support/app.ts';
import { launchBrowser, openPage, press, textOf, typeInto, waitForText } from '../support/browser.ts';

/** A microphone that plays a made file: its levels are known, so are those that the page must keep. */
const SAMPLE_RATE = 48_000;
/** A run begins after some 3 s of it; on a slow machine as long after as the room is still most of what was heard. */
const QUIET_SECONDS = 15;
const LOUD_SECONDS = 240;
/** A quiet tone of 1 kHz, which the curve leaves as it is; then a hum of 100 Hz, which it lessens by 19.1 dB. */
const QUIET_DECIBELS = -60;
const [HUM_DECIBELS, HUM_WEIGHT] = [-20, -19.1];

/** A sound file of tones of whole hertz, of which every second is alike; levels by their mean square. */
function soundFile(tones: readonly { hertz: number; decibels: number; seconds: number }[]): Buffer {
  const seconds = tones.flatMap(({ hertz, decibels, seconds }) => {
    const second = Int16Array.from({ length: SAMPLE_RATE }, (_, at) =>
      Math.round(32_767 * Math.SQRT2 * 10 ** (decibels / 20) * Math.sin((2 * Math.PI * hertz * at) / SAMPLE_RATE)),
    );
    return Array.from({ length: seconds }, () => Buffer.from(second.buffer));
  });
  const samples = Buffer.concat(seconds);
  const head = Buffer.alloc(44);
  head.write('RIFF', 0);
  head.writeUInt32LE(36 + samples.length, 4);
  head.write('WAVEfmt ', 8);
  head.writeUInt32LE(16, 16);
  head.writeUInt16LE(1, 20);
  head.writeUInt16LE(1, 22);
  head.writeUInt32LE(SAMPLE_RATE, 24);
  head.writeUInt32LE(SAMPLE_RATE * 2, 28);
  head.writeUInt16LE(2, 32);
  head.writeUInt16LE(16, 34);
  head.write('data', 36);
  head.writeUInt32LE(samples.length, 40);
  return Buffer.concat([head, samples]);
}

let app: App;
let browser: Browser;
let page: Page;
let faults: string[];
beforeAll(async () => {
  app = await startApp();
  const file = join(app.dataFolder, 'room-and-hum.wav');
  writeFileSync(
    file,
    soundFile([
      { hertz: 1000, decibels: QUIET_DECIBELS, seconds: QUIET_SECONDS },
      { hertz: 100, decibels: HUM_DECIBELS, seconds: LOUD_SECONDS },
    ]),
  );
  browser = await launchBrowser(1280, 800, [
    '--use-fake-ui-for-media-stream',
    '--use-fake-device-for-media-stream',
    `--use-file-for-fake-audio-capture=${file}`,
  ]);
  ({ page, faults } = await openPage(browser, app));
});
afterAll(async () => {
  await browser.close();
  await app.stop();
  removeFolder(app.dataFolder);
});

const newestRun = async (): Promise<RunDocument> => {
  const [newest] = (await callApi(app, 'GET', '/runs')).document as RunListEntry[];
  return (await callApi(app, 'GET', `/runs/${newest!.run.id}`)).document as RunDocument;
};

it('keeps with a run how loud it was before it and under load, and shows it', async () => {
  await page.goto(`${app.origin}/measure`);
  await page.locator('::-p-text(Petrel 2T, simulated)').click();
  await page.locator('::-p-xpath(//*[@role="radio"][contains(., "Anchor 16T")])').click();
  await press(page, 'Measure here');
  await press(page, 'Listen');
  await waitForText(page, /Listening by .*: [−-]60\.\d.dB of full scale/);
  await waitForText(page, 'a run may begin');
  await press(page, 'Start');
  await waitForText(page, 'Stop, keep result');
  await waitForText(page, /Listening by .*: [−-]39\.\d.dB of full scale/);
  await page.waitForSelector('[data-heard]');
  await page.waitForSelector('[data-pass]');
  await waitForText(page, /Under load 2\d\.\d.dB louder than before it began/);
  // Whether it is stopped or comes to its end: both keep what was heard.
  await expect.poll(async () => (await newestRun()).loudness?.levels.length ?? 0).toBeGreaterThan(0);
  await press(page, 'Stop listening');

  const run = await newestRun();
  const { loudness } = run;
  const heard = heardIn(loudness!, movedSecondsOf(run))!;
  expect(Math.abs(heard.before! - QUIET_DECIBELS)).toBeLessThan(0.5);
  expect(Math.abs(heard.underLoad - (HUM_DECIBELS + HUM_WEIGHT))).toBeLessThan(0.5);
  const levels = loudness!.levels.filter((level) => level !== null);
  expect(loudness!.fromSeconds).toBeLessThan(0);
  expect(levels[0]).toBeCloseTo(QUIET_DECIBELS, 0);
  expect(levels.at(-1)).toBeCloseTo(HUM_DECIBELS + HUM_WEIGHT, 0);
  // Quiet, then one that holds the moment between, then the hum: nothing else was to be heard.
  expect(
    levels.filter((level) => level > QUIET_DECIBELS + 0.5 && level < HUM_DECIBELS + HUM_WEIGHT - 0.5).length,
  ).toBeLessThan(3);
  expect(await page.$('[aria-label^="How loud it was over the time of the run"]')).not.toBeNull();
  // Levels only: two a second or fewer, and nothing from which a sound could be had.
  expect(loudness!.stepSeconds).toBeGreaterThan(0.4);
});

it('becomes a sound level once one is known, in every number', async () => {
  const run = await newestRun();
  const heard = heardIn(run.loudness!, movedSecondsOf(run))!;
  await typeInto(page, 'It was before the run', 'loud');
  await press(page, 'Take it');
  await waitForText(page, /“loud” is no level/);
  expect((await newestRun()).loudness!.offsetDecibels).toBeNull();
  await typeInto(page, 'It was before the run', '31,5 dB(A)');
  await press(page, 'Take it');
  await waitForText(page, /before it began 31\.5.dB\(A\)/);
  const { loudness } = await newestRun();
  expect(loudness!.offsetDecibels).toBeCloseTo(31.5 - heard.before!, 6);
  await page.reload();
  await page.waitForSelector('[data-heard]');
  // 31.5 + 20.9, and by itself 10 lg(10^5.24 − 10^3.15).
  expect(await textOf(page, '[data-heard]')).toMatch(/^Under load 52\.\d.dB\(A\).*by themselves: 52\.\d.dB\(A\)/);
});

it('is forgotten when asked', async () => {
  await press(page, 'Forget what was heard');
  await expect.poll(async () => (await newestRun()).loudness).toBeNull();
  await page.waitForFunction(() => document.querySelector('[data-heard]') === null);
  expect(faults).toEqual([]);
});

it('says what to do where the browser may not listen', async () => {
  const other = await launchBrowser();
  try {
    const { page: denied } = await openPage(other, app);
    await denied.browserContext().overridePermissions(app.origin, []);
    await press(denied, 'Listen');
    await waitForText(denied, /Allow it for this page|Plug one in/);
    expect(await denied.evaluate(() => document.body.innerText)).not.toMatch(/Listening by/);
  } finally {
    await other.close();
  }
});
