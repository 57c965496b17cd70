import { randomBytes } from 'node:crypto';
import { mkdirSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it, onTestFinished } from 'vitest';
import { madeClip } from '#core/testing/made-clips.ts';
import { madeMxf } from '#core/testing/made-mxf.ts';
import { textOf, waitForText } from '../support/browser.ts';
import { canHold, makeThrottledDevice } from '../support/throttled-device.ts';
import { TRIED_AGAIN, printFurtherTries } from '../support/tried-again.ts';
import { beginWalk, chooseDrive, forgetRuns, plain, type Walk } from './walk.ts';

/**
 * An editor on the evening before a shoot, with clips of her own, one drive that is as good as it looks and one that
 * breaks behind its cache. Both are devices that the kernel holds, so that every number has its truth.
 */
const MB = 1e6;
const GOOD_RATE = 150 * MB;
/** The other takes 250 MB/s until it has been given 1 GB, and 40 MB/s behind. */
const [FAST, SLOW, KNEE] = [250 * MB, 40 * MB, 1000 * MB];
/** RDD 36 high at UHD and 25 frames a second, as published. */
const CAMERA = 91.7 * MB;

describe.skipIf(!canHold)('the editor', () => {
  printFurtherTries();
  let walk: Walk;
  let good: ReturnType<typeof makeThrottledDevice>;
  let other: ReturnType<typeof makeThrottledDevice>;
  beforeAll(async () => {
    good = makeThrottledDevice('harbour');
    other = makeThrottledDevice('shuttle');
    good.limit(GOOD_RATE);
    walk = await beginWalk({ name: 'editor', onServer: (app) => good.hold(app.process.pid!) });
    for (const place of [good.mountPoint, other.mountPoint]) mkdirSync(join(place, 'shoot'));
  });
  afterAll(async () => {
    await walk.end();
    other.remove();
    good.remove();
  });

  /** The second drive becomes slow once, so many bytes from now. */
  function turnsSlow(): () => void {
    const { deviceNumber } = other.device;
    good.limitOther(deviceNumber, FAST);
    const begin = other.writtenBytes();
    const timer = setInterval(() => {
      if (other.writtenBytes() - begin < KNEE) return;
      good.limitOther(deviceNumber, SLOW);
      clearInterval(timer);
    }, 10);
    return () => clearInterval(timer);
  }

  async function answered(): Promise<string> {
    await walk.press('Ask');
    await walk.page.waitForSelector('[data-answer]', { timeout: 200_000 });
    return await textOf(walk.page, '[data-answer]');
  }

  it('asks whether the good drive records one camera, and is told in four presses', TRIED_AGAIN, async ({ task }) => {
    await forgetRuns(walk, task);
    await walk.page.waitForSelector('form[aria-label="Question"]');
    await walk.look('first');
    walk.count.begin();
    await walk.type({ What: 'UHD ProRes 422 HQ 25p for 40 s' });
    await chooseDrive(walk, good.mountPoint, join(good.mountPoint, 'shoot'));
    // 40 s are 3.67 GB; of 5.38 GB free 2 GB stay so.
    expect(await answered()).toMatch(
      /No\. Is full at the latest after 36\.8 s: the take needs 3\.67 GB and 3\.38 GB can be used\..* 2 GB more are free and stay so\.$/,
    );
    expect(walk.count).toMatchObject({ presses: 4, fields: 2 });
    await walk.look('too-long');
    await walk.press('Put away');
    await walk.type({ 'Length of a take': '30 s' });
    const said = await answered();
    await walk.look('good');
    expect(said).toMatch(/Yes\. Records one stream of .* for the whole 30 s/);
    // 150 of 91.7 MB/s.
    const spare = Number(/with ([\d.]+) % to spare/.exec(said)?.[1]);
    expect(Math.abs(spare / 100 - (GOOD_RATE / CAMERA - 1))).toBeLessThan(0.08);
  });

  it('the other drive is told to break when arithmetic says so', TRIED_AGAIN, async ({ task }) => {
    await forgetRuns(walk, task);
    await walk.type({ What: 'UHD ProRes 422 HQ 25p', 'Length of a take': '30 s' });
    await chooseDrive(walk, other.mountPoint, join(other.mountPoint, 'shoot'));
    onTestFinished(turnsSlow());
    const said = await answered();
    await walk.look('breaks');
    expect(said).toMatch(/No\. Drops its first frame after/);
    // 1 GB at 91.7 MB/s, then 51.7 MB/s more than it does fill one second of buffer.
    const truth = KNEE / CAMERA + CAMERA / (CAMERA - SLOW);
    const seconds = Number(/first frame after (?:at least )?([\d.]+) s/.exec(said)?.[1]);
    expect(Math.abs(seconds / truth - 1), said).toBeLessThan(0.08);
  });

  // Clips of her own. A pulse of 60 to 140 kB and a key frame that is dearer every half second.
  const pulse = (frame: number): number =>
    800_000 + 400_000 * (Math.floor(frame / 50) % 2) + (frame % 12 === 0 ? 300_000 : 0);
  const sizes = Array.from({ length: 250 }, (_, frame) => pulse(frame));
  const bytesOf = (all: readonly number[]): number => all.reduce((sum, size) => sum + size, 0);
  /** The most of any 25 frames in a row. */
  const worstSecond = Math.max(...sizes.slice(0, -24).map((_, from) => bytesOf(sizes.slice(from, from + 25))));

  async function addFootage(fill: () => Promise<void>, action: 'record' | 'play' = 'record'): Promise<void> {
    await walk.press('Add footage');
    await walk.press('From a file');
    await fill();
    if (action === 'play') await walk.press('Play');
    await walk.press('Add');
    await walk.page.waitForFunction(() => document.querySelector('[role="dialog"]') === null);
  }

  it('her own clips become the job: a clip, one with long groups, MXF, numbered files with a gap, a timeline', async () => {
    const { page, own, give } = walk;
    await walk.press('Workloads');
    await walk.press('New workload');
    const name = (file: string) => join(own, file);
    writeFileSync(name('A001.mov'), await madeClip('mov', sizes, 25));
    await addFootage(async () => {
      await give('Material files', name('A001.mov'));
      await waitForText(page, '250 at 25, 10 s');
      await waitForText(page, new RegExp(`worst second\\s+${(worstSecond / MB).toFixed(1)}`));
      await walk.look('clip');
    });
    // Groups of twelve: one frame of 360 kB, eleven of 40 kB: 16.67 kB a frame more or less, 1.667 MB/s at 25.
    const long = Array.from({ length: 240 }, (_, frame) => (frame % 12 === 0 ? 360_000 : 40_000));
    writeFileSync(name('B007.mp4'), await madeClip('mp4', long, 25));
    await addFootage(async () => {
      await give('Material files', name('B007.mp4'));
      // 800 kB a group of 0.48 s.
      await waitForText(page, /on average\s+1\.67 MB\/s/);
    });
    const mxf = madeMxf({ picture: Array.from({ length: 100 }, () => 20_000), sound: 7680 });
    writeFileSync(name('C003.mxf'), mxf.bytes);
    await addFootage(async () => {
      await give('Material files', name('C003.mxf'));
      await waitForText(page, '100 at 25, 4 s');
      await walk.look('mxf');
    });
    const frames = [101, 102, 103, 106, 107, 108].map((number) => name(`plate.0${number}.dpx`));
    for (const path of frames) writeFileSync(path, new Uint8Array(3_000_000));
    await addFootage(async () => {
      await give('Material files', ...frames);
      await waitForText(page, '2 of its numbers are missing: 104–105.');
      await walk.type({ 'Frames per second': '24' });
      // 3 MB at 24.
      await waitForText(page, /on average\s+72 MB\/s/);
      await walk.look('sequence');
    });
    const time = (value: number) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate: 25 });
    const range = (start: number, frames: number) => ({
      OTIO_SCHEMA: 'TimeRange.1',
      start_time: time(start),
      duration: time(frames),
    });
    const clip = (title: string, frames: number) => ({
      OTIO_SCHEMA: 'Clip.1',
      name: title,
      source_range: range(0, frames),
    });
    const track = (children: object[]) => ({ OTIO_SCHEMA: 'Track.1', kind: 'Video', children });
    // A nested stack of two layers for its middle 200 of 300 frames, then one clip; a title over the first 100 of all.
    const nested = {
      OTIO_SCHEMA: 'Stack.1',
      name: 'Opening',
      source_range: range(50, 200),
      children: [track([clip('water', 300)]), track([clip('fog', 300)])],
    };
    const cut = {
      OTIO_SCHEMA: 'Timeline.1',
      name: 'Reel 2',
      tracks: { OTIO_SCHEMA: 'Stack.1', children: [track([nested, clip('pier', 150)]), track([clip('title', 100)])] },
    };
    writeFileSync(name('reel-2.otio'), JSON.stringify(cut));
    await addFootage(async () => {
      await give('Material files', name('reel-2.otio'));
      await waitForText(page, 'Reel 2: 4 clips from 4 media, 14 s');
      await walk.type({ 'Clips that are not named below': '40 MB/s', 'title, one clip': '10 MB/s' });
      // Water, fog and title for 4 s, water and fog for 4 s more, the pier for 6 s.
      await waitForText(page, /0:00 – 0:04\s+90 MB\/s/);
      await waitForText(page, /0:04 – 0:08\s+80 MB\/s/);
      await waitForText(page, /0:08 – 0:14\s+40 MB\/s/);
      await walk.look('timeline');
    }, 'play');
    await walk.look('workload');
    // Records 24.6, 1.67, 0.69 and 72 MB/s; the same numbers stand in Fit.
    await walk.press('Fit');
    await page.waitForSelector('[data-row]');
    await walk.look('fit');
  });

  it('what was shot is copied to two places, kept with its hash list, and found alike later', async () => {
    const { page } = walk;
    const day = join(good.mountPoint, 'shoot', 'day-1');
    mkdirSync(day);
    const reels = ['A001', 'A002', 'B001'].map((reel) => join(day, `${reel}.mov`));
    for (const path of reels) writeFileSync(path, randomBytes(60 * MB));
    const second = join(walk.own, 'office');
    mkdirSync(second);
    good.limitOther(other.device.deviceNumber, 100 * MB);
    await walk.press('Copies');
    await walk.press('Copy now');
    await walk.look('copy-sheet');
    await walk.press('One target more');
    await chooseEnd('From', good.mountPoint, day);
    await chooseEnd('To, 1', other.mountPoint, join(other.mountPoint, 'shoot'));
    await chooseEnd('To, 2', '/', second);
    await walk.look('copy-ready');
    await walk.press('Copy');
    await page.waitForFunction(() => location.pathname.startsWith('/measure/runs/'));
    await waitForText(page, /What lies in it is kept|kept in/i, 120_000);
    await walk.look('copied');
    for (const place of [join(other.mountPoint, 'shoot'), second]) {
      const [kept] = readdirSync(place).filter((entry) => !entry.startsWith('tavrox-scratch'));
      expect(readdirSync(join(place, kept!)).filter((entry) => entry.endsWith('.mov'))).toHaveLength(3);
    }
    // A bit that turns over months later.
    const turned = join(second, 'day-1', 'B001.mov');
    const bytes = readFileSync(turned);
    bytes[31 * MB]! ^= 4;
    writeFileSync(turned, bytes);
    expect(await verified('/', join(second, 'day-1'))).toMatch(/1 file differs from the list\..*B001\.mov: differs/);
    expect(await verified(other.mountPoint, join(other.mountPoint, 'shoot', 'day-1'))).toMatch(
      /All 3 files of the list are there and alike\. 180 MB read/,
    );
    await walk.look('verified');
    await walk.page.keyboard.press('Escape');
  });

  async function verified(mountPoint: string, folder: string): Promise<string> {
    const { page } = walk;
    if (!(await page.$('[role="dialog"]'))) {
      await walk.press('Copies');
      await walk.press('Verify a hash list');
    }
    await chooseEnd('Volume', mountPoint, folder);
    await walk.press('Verify');
    await page.waitForSelector('[data-verified]');
    return await textOf(page, '[data-verified]');
  }

  it('the answer for tomorrow leaves as a report that says the same', async () => {
    const { page } = walk;
    await walk.press('Fit');
    await page.waitForSelector('[data-put-into-report]');
    await walk.press('Put into the report');
    await waitForText(page, 'it is in: open the report');
    await walk.press('Report');
    await page.waitForSelector('svg[data-page="1"]');
    await walk.look('report');
    const words = plain(
      (await page.$$eval('svg[data-page] text', (all) => all.map((one) => one.textContent).join(' '))) ?? '',
    );
    // What Fit says of its five items, on paper.
    for (const item of ['A001.mov', 'B007.mp4', 'C003.mxf', 'plate', 'Reel 2']) expect(words).toContain(item);
    expect(walk.faults).toEqual([]);
  });

  async function chooseEnd(label: string, mountPoint: string, folder: string): Promise<void> {
    const { page } = walk;
    await walk.pressAt(`::-p-xpath(//*[@role="combobox"][@aria-label="${label}"])`);
    await walk.pressAt(`::-p-xpath(//*[@role="option"][contains(., "${mountPoint}")])`);
    await page.waitForSelector('[role="option"]', { hidden: true });
    await walk.type({ [`Folder of ${label}`]: folder });
  }
});
