import { afterAll, beforeAll, expect, it } from 'vitest';
import type { DriveCard, RunListEntry, VolumeEntry } from '#core/6-exchange/api/wire.ts';
import { plain } from '../journeys/walk.ts';
import { callApi } from '../support/app.ts';
import { press, textOf, typeInto, waitForText } from '../support/browser.ts';
import { tavrox } from '../support/cli.ts';
import { openApp, type OpenedApp } from './opened.ts';

/** Drives that are not here, from an empty workspace: typed in the page and on the command line, judged as promises. */
let app: OpenedApp['app'];
let page: OpenedApp['page'];
let faults: OpenedApp['faults'];
let close: OpenedApp['close'];
beforeAll(async () => {
  ({ app, page, faults, close } = await openApp({ empty: true }));
});
afterAll(async () => {
  await close();
});
const cards = async () => (await callApi(app, 'GET', '/drives')).document as DriveCard[];

it('a line as it stands on a box makes a card, and says meanwhile what it is taken for', async () => {
  await page.goto(`${app.origin}/drives`);
  await press(page, 'Add a drive by hand');
  await typeInto(page, 'As it stands on its box', '20 TB spinning, 265 MB/s, dear');
  await waitForText(page, '“dear” is no size, rate, time, link or price');
  await typeInto(page, 'As it stands on its box', '20 TB spinning, 265 MB/s, 12 ms, SATA, 530 EUR');
  await page.waitForSelector('[data-taken-for]');
  expect(await textOf(page, '[data-taken-for]')).toMatch(
    /133.MB\/s assumed on its inner tracks, access in 12.ms, behind SATA 6 Gb\/s, 530 EUR/,
  );
  await press(page, 'Keep');
  await waitForText(page, 'What the box of 20 TB spinning promises');
  expect(await cards()).toMatchObject([{ label: '20 TB spinning', medium: 'spinning', identityKind: 'typed' }]);
});

it('another comes by the command line, and both are marked wherever they stand', async () => {
  const line = 'Shuttle: 2 TB flash, writes 2000 MB/s, then 500 MB/s after 100 GB, reads 3000 MB/s, 189 EUR';
  const added = await tavrox(app.dataFolder, 'drive', 'add', line);
  expect([added.code, added.stdout]).toEqual([0, expect.stringMatching(/then 500.MB\/s after 100.GB/)]);
  const listed = await tavrox(app.dataFolder, 'drive', 'list');
  expect(listed.stdout.split('\n').filter((one) => one.includes('from its box'))).toHaveLength(2);
  const wrong = await tavrox(app.dataFolder, 'drive', 'add', '2 TB flash');
  expect(wrong.code).toBe(2);
  expect(wrong.stderr).toMatch(/say how fast it is/);
});

it('is asked about in Measure as a folder is, and the command line says the same', async () => {
  const question = '150 MB/s for 1 h';
  await page.goto(`${app.origin}/measure`);
  await page.waitForSelector('[aria-label="Drive or folder: 20 TB spinning"]');
  await typeInto(page, 'What', question);
  await waitForText(page, 'what is known of it answers, and nothing is measured');
  await press(page, 'Ask');
  await page.waitForSelector('[data-answer]');
  const said = plain(await textOf(page, '[data-answer]'));
  // It begins at 265 MB/s, and 540 GB of 20 TB are all on its outer tracks; 36 h 17 min of it fit.
  expect(said).toContain('Can 20 TB spinning record 150 MB/s for 1 h?');
  expect(said).toContain('Would record 150 MB/s for the whole 1 h');
  const { code, stdout } = await tavrox(app.dataFolder, 'check', '20 TB spinning', question);
  expect(code).toBe(0);
  expect(said).toContain(plain(stdout.split('\n')[1]!));
  expect(((await callApi(app, 'GET', '/runs')).document as RunListEntry[]).length).toBe(0);
});

it('its verdicts are promises, by arithmetic', async () => {
  const item = (id: string, bytesPerSecond: number) => ({
    kind: 'footage',
    id,
    name: id,
    action: 'record',
    streams: 1,
    essence: { kind: 'own', label: id, bytesPerSecond },
    takes: { seconds: 2400, count: 1, gapSeconds: 0, between: 'stay', takeOffSeconds: null },
    buffer: { unit: 'seconds', amount: 1 },
  });
  // A simulation that waits for the drive: 240 times 11 s and 1.03 GB at 265 MB/s, 26 % of the whole.
  const smoke = {
    kind: 'series',
    id: 'smoke',
    name: 'Smoke',
    frames: { kind: 'size', frameBytes: 1.03e9 },
    frameCount: 240,
    versions: 2,
    computeSeconds: [11],
    queueFrames: 0,
    mostDriveShare: 0.1,
    playback: null,
    observed: [],
  };
  const workload = { tavrox: 'workload/1', id: 'film', name: 'Film', note: '', example: false };
  const items = [item('Slow', 150e6), item('Quick', 220e6), smoke];
  expect((await callApi(app, 'PUT', '/workloads/film', { ...workload, items })).status).toBe(204);
  await page.goto(`${app.origin}/fit`);
  await page.waitForSelector('[data-row="Slow"]');
  const row = (id: string) => page.$eval(`[data-row="${id}"]`, (one) => one.textContent);
  expect(await row('Slow')).toMatch(/Would hold/);
  expect(await row('Quick')).toMatch(/Would just hold/);
  expect(await row('smoke')).toMatch(/26\.\d.%/);
  await waitForText(page, 'Nothing of this was measured: it is what its box promises, while it is empty.');
  expect(await textOf(page, '[data-lane]')).toContain('from its box');
});

it('that is measured later is one drive: its runs take over, and its promise stays beside them', async () => {
  const [volume] = ((await callApi(app, 'GET', '/volumes')).document as VolumeEntry[]).filter(
    ({ kind }) => kind === 'stand-in',
  );
  const options = { passes: 1, seconds: 0.2, sizeBytes: 5e8, blockBytes: 8_388_608, depth: 4 };
  const start = { volumeId: volume!.id, folder: '', recipeId: 'short-passes', options };
  expect((await callApi(app, 'POST', '/runs', start)).status).toBe(201);
  await expect.poll(async () => (await cards()).filter(({ identityKind }) => identityKind !== 'typed').length).toBe(1);
  const measured = (await cards()).find(({ identityKind }) => identityKind !== 'typed')!;
  await expect
    .poll(async () => ((await callApi(app, 'GET', '/runs')).document as RunListEntry[])[0]!.run.state, {
      timeout: 60_000,
    })
    .toBe('finished');
  const typed = (await cards()).find(({ label }) => label === 'Shuttle')!;
  await page.goto(`${app.origin}/drives/${typed.id}`);
  await press(page, `It is ${measured.label}`);
  await waitForText(page, 'Measured against its box');
  await waitForText(page, /of 2,000.MB\/s/);
  expect((await cards()).filter(({ label }) => label === 'Shuttle')).toMatchObject([
    { id: measured.id, details: { ratedWriteBytesPerSecond: 2e9, price: 189 } },
  ]);
  const again = await tavrox(app.dataFolder, 'drive', 'join', 'Shuttle', '20 TB spinning');
  expect(again.code).toBe(2);
  expect(again.stderr).toMatch(/no drive that was typed is called “Shuttle”. There is: 20 TB spinning/);
});

it('is deleted, and comes back by one key', async () => {
  const typed = (await cards()).find(({ identityKind }) => identityKind === 'typed')!;
  await page.goto(`${app.origin}/drives/${typed.id}`);
  await press(page, 'Delete');
  await expect.poll(async () => (await cards()).length).toBe(1);
  await waitForText(page, '20 TB spinning was deleted.');
  await page.keyboard.press('u');
  await expect.poll(async () => (await cards()).length).toBe(2);
  expect(faults).toEqual([]);
});
