import { spawn } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { textOf, waitForText } from '../support/browser.ts';
import { callApi } from '../support/app.ts';
import { tavrox } from '../support/cli.ts';
import { canHold, makeThrottledDevice } from '../support/throttled-device.ts';
import { TRIED_AGAIN, printFurtherTries } from '../support/tried-again.ts';
import { addDrive, beginWalk, forgetRuns, plain, type Walk } from './walk.ts';

/**
 * A simulation artist before buying: drives as they stand on their boxes, one that is measured, a program of his own that
 * writes, what he saw on a stopwatch, and what to buy.
 */
let walk: Walk;
let app: Walk['app'];
let page: Walk['page'];
beforeAll(async () => {
  walk = await beginWalk({ name: 'artist' });
  ({ app, page } = walk);
});
afterAll(async () => {
  await walk.end();
  expect(walk.faults).toEqual([]);
});

describe('a simulation artist before buying', () => {
  // 240 frames of 1 GB, 10 s each: 2,400 s of computing. At 2 GB/s up to 100 GB and 500 MB/s behind, 50 + 280 s of
  // writing where the cache never empties: 330 of 2,730 s, 12.1 %; where it always does 120 of 2,520, 4.76 %.
  const RAPID = 'Rapid: 2 TB flash, writes 2000 MB/s, then 500 MB/s after 100 GB, reads 3000 MB/s, 200 EUR';
  // At 250 MB/s: 960 of 3,360 s, 28.6 %.
  const PLAIN = 'Plain: 1 TB flash, 250 MB/s, 60 EUR';

  it('asks by one command what a drive costs a simulation, and how many versions it holds', async () => {
    const ask = (drive: string) =>
      tavrox(app.dataFolder, 'check', drive, '1 GB', '--simulate', '--for', '1001–1240', '--computing', '10s');
    const plainly = await ask(PLAIN);
    expect(plainly.code).toBe(3);
    expect(plain(plainly.stdout)).toContain(
      'Of 56 min for 240 frames the drive takes 28.6 %, more than the 10 % it may',
    );
    // 0.98 TB can be used.
    expect(plain(plainly.stdout)).toContain('It comes to 240 GB: 4 versions fit in the 980 GB that can be used');
    const rapid = await ask(RAPID);
    expect(rapid.code).toBe(4);
    expect(plain(rapid.stdout)).toMatch(/Of 45 min 30 s for 240 frames the drive takes 4\.76 to 12\.1 %/);
  });

  it('holds a drive against a processor by one command', async () => {
    const { code, stdout } = await tavrox(
      app.dataFolder,
      ...['check', PLAIN, '1 GB', '--simulate', '--for', '240 frames', '--computing', '10s'],
      ...['--against', RAPID, '--processor', '2 times, €800'],
    );
    expect(code).toBe(3);
    // 3,360 − 2,730 s = 10 min 30 s for 200 EUR; a processor twice as fast 1,200 s for 800.
    expect(plain(stdout)).toMatch(
      /Rapid would save 10 min 30 s of 56 min, by rates that were typed and not measured: 5\.25 minutes for each 100 EUR\. A processor 2 times as fast would save 20 min of 56 min, by rates that were typed and not measured: 2\.5 minutes for each 100 EUR\./,
    );
  });

  it('holds a drive against a processor in the page, and sees how it is looked at', async () => {
    await page.goto(`${app.origin}/drives`);
    await addDrive(walk, RAPID);
    await addDrive(walk, PLAIN);
    await page.goto(`${app.origin}/workloads`);
    await walk.press('New workload');
    await walk.press('Add cache series');
    await walk.type({
      'Size of a frame': '1 GB',
      Frames: '1001–1240',
      'Versions kept': '2',
      'Computing a frame': '10 s',
      'A faster processor': '2 times, €800',
      'Processor time to show a frame': '50 ms',
      'Previews you have seen': 'Plain: 240 frames in 16:12\nRapid: 0.8 a second',
    });
    await walk.press('Add');
    await page.waitForSelector('[data-series-sentence]');
    const column = () => textOf(page, 'aside');
    const { document } = await callApi(app, 'GET', '/drives');
    const id = (document as { id: string; label: string }[]).find(({ label }) => label === 'Plain')!.id;
    await walk.pressAt(`[data-series-row="${id}"]`);
    // From Plain to Rapid 3,360 − 2,730 s = 10 min 30 s for 200 EUR: 5.25 for each hundred; a processor twice as fast
    // 1,200 s for 800: 2.5 for each hundred.
    await waitForText(page, 'What helps, written to Plain now');
    expect(await column()).toMatch(
      /Rapid would save 10 min 30 s of 56 min, by rates that were typed and not measured: 5\.25 minutes for each 100 EUR/,
    );
    expect(await column()).toMatch(
      /A processor 2 times as fast would save 20 min of 56 min, by rates that were typed and not measured: 2\.5 minutes for each 100 EUR/,
    );
    expect(await column()).toMatch(/Rapid 8 in 1\.96 TB/);
    await walk.press('For the money');
    await page.waitForSelector('[data-beside]');
    const table = await page.$$eval('[data-beside]', (rows) =>
      rows.map((row) => [...row.querySelectorAll('td')].map((cell) => cell.textContent)),
    );
    expect(table.map((cells) => cells.map(plain))).toEqual([
      ['Plain, now, from its box', '60 EUR', '56 min', '', '', '4'],
      ['Rapid, from its box', '200 EUR', '45 min 30 s', '10 min 30 s', '5.25 min', '8'],
      ['A processor 2 times as fast', '800 EUR', '36 min', '20 min', '2.5 min', '4'],
    ]);
    // 240 frames: 50 ms to show and 4 s to read of 250 MB/s.
    expect(await column()).toContain('16 min 12 s cold, 16 min reading ahead, 12 s from memory');
    // Plain is as computed: 4.05 s a frame. Rapid reads one in 333 ms: 2.61 a second, and 1.25 s were seen.
    expect(await column()).toContain('0.25 a second seen cold, 0.25 computed');
    expect(await column()).toContain('0.8 a second seen cold, 2.61 computed');
    // 50 ms on one, 917 ms on the other: the middle of both is offered.
    expect(await column()).toContain('Typed are 50 ms for showing a frame, and by what you have seen it takes 483 ms.');
    await page.goto(`${app.origin}/fit`);
    await walk.pressAt('[data-row$="#play"]');
    await waitForText(page, /No drive plays it at 24: showing a frame takes 50.ms, which makes 20 a second at most/);
  });
});

describe.skipIf(!canHold)('with a drive that is here', () => {
  printFurtherTries();
  let disk: ReturnType<typeof makeThrottledDevice>;
  let solver: ReturnType<typeof spawn>;
  /** Frames that it has written, by its own count. */
  let frames = 0;
  beforeAll(() => {
    disk = makeThrottledDevice('solver');
    disk.limit(RATE);
    disk.hold(app.process.pid!);
    mkdirSync(join(disk.mountPoint, 'cache'));
    // Two frames of 20 MB a second, as a solver writes them.
    solver = spawn(process.execPath, [
      '-e',
      `const fs = require('node:fs'); const frame = Buffer.alloc(20e6, 7); let number = 0;
       setInterval(() => {
         fs.writeFileSync(${JSON.stringify(walk.own)} + '/frame.' + (number++ % 4) + '.vdb', frame);
         process.stdout.write('.');
       }, 500);`,
    ]);
    solver.stdout!.on('data', (dots: Buffer) => (frames += dots.length));
  });
  afterAll(() => {
    solver.kill();
    disk.remove();
  });
  const RATE = 120e6;

  it('asks what it costs, and is told within the time of its frames', TRIED_AGAIN, async ({ task }) => {
    await forgetRuns(walk, task);
    await walk.look('first');
    const asked = await tavrox(
      app.dataFolder,
      ...['check', join(disk.mountPoint, 'cache'), '1.03 GB', '--simulate', '--for', '3 frames', '--computing', '11s'],
    );
    expect(asked.code, asked.stderr).toBe(3);
    // 3 × 11 s of computing and 3.09 GB at 120 MB/s: 25.75 of 58.75 s, 43.8 %.
    const share = Number(/the drive takes ([\d.]+) %/.exec(plain(asked.stdout))?.[1]);
    expect(Math.abs(share / 43.8 - 1), asked.stdout).toBeLessThan(0.06);
  });

  it('four drives from their boxes stand beside it, with what each costs the whole', async () => {
    await walk.press('Drives');
    for (const line of [
      'Rapid two: 2 TB flash, writes 2000 MB/s, then 500 MB/s after 100 GB, reads 3000 MB/s, 200 EUR',
      'Plain two: 1 TB flash, 250 MB/s, 60 EUR',
      'Spinner: 8 TB spinning, 180 MB/s, 12 ms, SATA, 190 EUR',
      'Studio share: 20 TB share, 110 MB/s, Ethernet 1 Gb/s',
    ])
      await addDrive(walk, line);
    walk.count.begin();
    await walk.press('Workloads');
    await walk.press('New');
    await walk.press('Add cache series');
    await walk.type({ 'Size of a frame': '1.03 GB', Frames: '1001–1240', 'Computing a frame': '11 s' });
    await waitForText(page, /1\.03.GB a frame, 247.GB in all, 44 min computing/);
    await walk.press('Add');
    await page.waitForSelector('[data-series-sentence]');
    await page.waitForFunction(() => document.querySelectorAll('[data-series-row]').length >= 5);
    expect(walk.count).toMatchObject({ presses: 4, fields: 3 });
    await walk.look('series');
    const drives = (await callApi(app, 'GET', '/drives')).document as { id: string; label: string }[];
    const shareOn = async (label: string): Promise<string> => {
      const { id } = drives.find((one) => one.label === label)!;
      await walk.pressAt(`[data-series-row="${id}"]`);
      await page.waitForFunction((name) => document.querySelector('aside')?.textContent?.includes(name), {}, label);
      return await textOf(page, 'aside');
    };
    // 988.8 s of writing at 250 MB/s on 2,640 s of computing; 2,247 s at 110 MB/s.
    expect(await shareOn('Plain two')).toMatch(/27\.2 %/);
    expect(await shareOn('Studio share')).toMatch(/46 %/);
    // 50 s of cache and 294.4 s behind it, or 123.6 s where it empties between frames.
    expect(await shareOn('Rapid two')).toMatch(/11\.5 %/);
  });

  it('a program of his own is recorded with what it writes', async () => {
    await walk.press('Add load');
    await walk.press('Choose a program');
    await walk.type({ Program: String(solver.pid) });
    await walk.pressAt(`::-p-xpath(//*[@data-recorder]//*[@role="radio"][contains(., "${solver.pid}")])`);
    await page.waitForSelector('[data-recording="going"]');
    const before = frames;
    await waitForText(page, /, [5-9](\.\d)? s: /);
    await walk.press('End the recording');
    await page.waitForSelector('[data-recording="ended"]');
    await walk.look('recorded');
    const words = await textOf(page, '[role="dialog"]');
    // What it says itself that it wrote meanwhile, but for a frame at either end.
    const written = Number(/([\d.]+) MB written/.exec(words)?.[1]);
    expect(frames - before).toBeGreaterThan(3);
    expect(Math.abs(written / 20 - (frames - before)), words).toBeLessThanOrEqual(2);
    await walk.type({ Name: 'The solver' });
    await walk.press('Add');
    await page.waitForFunction(() => document.querySelector('[role="dialog"]') === null);
    expect(walk.faults).toEqual([]);
  });
});
