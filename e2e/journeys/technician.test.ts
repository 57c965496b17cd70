import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { callApi } from '../support/app.ts';
import { textOf, waitForText } from '../support/browser.ts';
import { TRIED_AGAIN, printFurtherTries } from '../support/tried-again.ts';
import { canHold, makeThrottledDevice } from '../support/throttled-device.ts';
import { addDrive, beginWalk, chooseDrive, forgetRuns, plain, type Walk } from './walk.ts';

/**
 * A games technician in a small window: six loads, a share from its box, one drive that the kernel holds, a memory disk,
 * and one of the loads replayed.
 */
const RATE = 100e6;
const LOADS: Record<string, string> = {
  // Computing, then reading in no order or as one stream.
  Editor: 'Open: 4 s processor, 400 MB in 1 MiB x8, within 20 s',
  Level: 'Level: 2 s processor, 600 MB in 256 KiB x4, within 10 s',
  Shaders: 'Compile: 30 s processor, 50 MB in 64 KiB x4, within 40 s',
  Textures: 'Stream: 50 MB/s all the time for 2 min',
  Build: 'Build: 12 s processor, 300 MB in 1 MiB x8, 200 MB written',
  Start: 'Start: 1 s processor, 100 MB in 1 MiB x8',
};

describe.skipIf(!canHold)('the games technician', () => {
  printFurtherTries();
  let walk: Walk;
  let page: Walk['page'];
  let disk: ReturnType<typeof makeThrottledDevice>;
  let memory: string;
  beforeAll(async () => {
    disk = makeThrottledDevice('bench');
    disk.limit(RATE);
    memory = mkdtempSync('/dev/shm/tavrox-ram-');
    walk = await beginWalk({
      name: 'technician',
      width: 900,
      height: 600,
      onServer: (app) => disk.hold(app.process.pid!),
    });
    ({ page } = walk);
    mkdirSync(join(disk.mountPoint, 'games'));
  });
  afterAll(async () => {
    await walk.end();
    disk.remove();
    rmSync(memory, { recursive: true, force: true });
  });

  it('types six loads, and each says what it comes to', async () => {
    walk.count.begin();
    await walk.press('Workloads');
    await walk.press('New workload');
    await walk.look('empty');
    for (const [at, [name, phases]] of Object.entries(LOADS).entries()) {
      await walk.press('Add load');
      await walk.type({ 'Phases, one a line': phases, Name: name });
      await walk.press('Add');
      if (at === 0) expect(walk.count).toMatchObject({ presses: 4, fields: 2 });
      await page.waitForFunction(() => document.querySelector('[role="dialog"]') === null);
    }
    await walk.look('loads');
    const words = plain(await page.evaluate(() => document.body.innerText));
    for (const name of Object.keys(LOADS)) expect(words).toContain(name);
  });

  it('adds the share from its box and measures a drive and a memory disk', async () => {
    await walk.press('Drives');
    await addDrive(walk, 'Studio share: 20 TB share, 110 MB/s, Ethernet 1 Gb/s');
    for (const [mountPoint, folder] of [
      [disk.mountPoint, join(disk.mountPoint, 'games')],
      ['/dev/shm', memory],
    ] as const) {
      await walk.press('Measure');
      await chooseDrive(walk, mountPoint, folder);
      await walk.press('Options');
      await walk.type({ Passes: '2', 'Amount of a pass': '400 MB' });
      await walk.press('Use this');
      await walk.press('Start');
      await page.waitForFunction(() => location.pathname.startsWith('/measure/runs/'));
      await page.waitForSelector('::-p-aria([name="Start"])', { timeout: 100_000 });
      await page.waitForSelector('[data-figures="read"]');
    }
    await walk.look('measured');
  });

  const heldId = async (): Promise<string> => {
    const drives = (await callApi(walk.app, 'GET', '/drives')).document as { id: string; label: string }[];
    return drives.find(({ label }) => label.includes('ext4'))!.id;
  };

  /** What Fit says of each load on the drive that is looked at, by the loads’ names. */
  async function fitRows(): Promise<Record<string, { id: string; verdict: string; words: string }>> {
    await page.waitForSelector('[data-row][data-verdict]');
    const rows = await page.$$eval('[data-row][data-verdict]', (all) =>
      all.map((row) => ({
        id: row.getAttribute('data-row')!,
        verdict: row.getAttribute('data-verdict')!,
        words: row.getAttribute('aria-label') ?? row.textContent,
      })),
    );
    const names = Object.keys(LOADS);
    return Object.fromEntries(rows.map((row) => [names.find((name) => row.words.includes(name)) ?? row.words, row]));
  }

  it('is told for each load what the drives take, within what arithmetic says', async () => {
    await walk.press('Workloads');
    await page.waitForSelector('[data-load-row="memory"]');
    await walk.look('judged');
    const aside = await textOf(page, 'main');
    expect(aside).toContain('Studio share');
    await walk.press('Fit');
    await page.waitForSelector('[data-row][data-verdict]');
    await walk.look('fit');
    const rows = await page.$$eval('[data-row][data-verdict]', (all) =>
      all.map((row) => `${row.getAttribute('aria-label')} ${row.getAttribute('data-verdict')}`),
    );
    expect(rows.length).toBeGreaterThanOrEqual(6);
  });

  it(
    'has the requests of all loads measured by one press, which is offered with any of them',
    TRIED_AGAIN,
    async ({ task }) => {
      await forgetRuns(walk, task, 'block-ladder');
      await page.goto(`${walk.app.origin}/fit`);
      const rows = await fitRows();
      // On the held drive, the first that was measured.
      await walk.pressAt(`[data-row="${rows.Editor!.id}"]`);
      await walk.press('By drive');
      await walk.pressAt(`[data-row="${await heldId()}"]`);
      await waitForText(
        page,
        /Block ladder: requests of 4.KiB, 64.KiB, 256.KiB and 1.MiB, 1, 4 and 8 at a time, in a stretch of 2.GB/,
      );
      await waitForText(page, 'That measures what 6 loads of the workload ask for.');
      await walk.press('Start that run');
      await page.waitForFunction(() => location.pathname.startsWith('/measure/runs/'));
      await page.waitForSelector('::-p-aria([name="Start"])', { timeout: 200_000 });
      await walk.press('Fit');
      await page.waitForSelector('[data-row][data-verdict="holds"]');
      await walk.look('fit-after-ladder');
      const told = await fitRows();
      const verdicts = Object.fromEntries(Object.entries(told).map(([name, { verdict }]) => [name, verdict]));
      // At 100 MB/s, and with a quarter more of what the drive does: 9 of 20 s, 9.5 of 10, 30.6 of 40. Where no limit was
      // typed there is nothing to hold it against.
      expect(verdicts).toMatchObject({ Editor: 'holds', Level: 'holds', Shaders: 'holds' });
      expect(verdicts).toMatchObject({ Build: 'not-proven', Start: 'not-proven' });
      expect(told.Build!.words).toContain('no limit given');
      // Half of what it gives, all the time: each chunk has half a second to spare.
      expect(told.Textures!.words).toMatch(/^Textures: (Tight|Holds): streams in time$/);
      const seconds = { Editor: 4 + 4, Level: 2 + 6, Shaders: 30 + 0.5, Build: 12 + 3 + 2, Start: 1 + 1 };
      for (const [name, truth] of Object.entries(seconds)) {
        const said = Number(/([\d.]+) s/.exec(told[name]!.words)?.[1]);
        expect(Math.abs(said / truth - 1), told[name]!.words).toBeLessThan(0.06);
      }
    },
  );

  it('replays one of them on the held drive, and is told what it took against what was predicted', async () => {
    await page.goto(`${walk.app.origin}/workloads`);
    await page.waitForSelector('[data-load-row][data-verdict]');
    await walk.pressAt(`[data-load-row="${await heldId()}"]`);
    await waitForText(page, /On ext4/);
    await walk.press('Replay it on this drive');
    await waitForText(page, /1 phase, 400.MB read/);
    await walk.press('Start');
    await page.waitForFunction(() => location.pathname.startsWith('/measure/runs/'));
    await waitForText(page, /% (quicker|slower)/);
    await walk.look('replayed');
    // 4 s of computing and 400 MB at 100 MB/s: 8 s.
    const said = await textOf(page, '[data-words]');
    expect(Math.abs(Number(/([\d.]+) s in all/.exec(said)?.[1]) / 8 - 1), said).toBeLessThan(0.15);
    expect(walk.faults).toEqual([]);
  });
});
