import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Project } from '#core/5-answers/sizing/project.ts';
import { callApi } from '../support/app.ts';
import { textOf, waitForText } from '../support/browser.ts';
import { tavrox } from '../support/cli.ts';
import { chooseOfProject } from '../screens/opened.ts';
import { addDrive, beginWalk, plain, type Walk } from './walk.ts';

/**
 * A storage buyer who owns nothing yet, in the light theme: three projects in the page and by the command line, against
 * figures that were worked out by hand.
 */
let walk: Walk;
let app: Walk['app'];
let page: Walk['page'];
beforeAll(async () => {
  walk = await beginWalk({ name: 'buyer', isLight: true, byKeys: true });
  ({ app, page } = walk);
});
afterAll(async () => {
  await walk.end();
  // The browser itself writes down that a change was refused.
  expect(walk.faults.filter((one) => !one.includes('409'))).toEqual([]);
});

const projects = async () => (await callApi(app, 'GET', '/projects')).document as Project[];

/** A plan of its own, whose sheet is open. */
async function newProject(): Promise<void> {
  await chooseOfProject(page, 'New project');
  await waitForText(page, 'Change the plan');
}

/** Keeps the plan, and gives what is said of its cheapest build once that is this one. */
async function kept(build: string): Promise<string> {
  await walk.press('Keep');
  return waitForBuild(build);
}

async function waitForBuild(build: string): Promise<string> {
  await page.waitForFunction(
    (name) => (document.querySelector('[data-build]')?.textContent ?? '').startsWith(name),
    {},
    build,
  );
  return await textOf(page, '[data-build]');
}

const FILM_DRIVE = 'Falcon: 20 TB spinning, 260 MB/s, 12 ms, SATA, 530 EUR';
const CALENDAR = ['Shooting: 8 weeks, 5 days a week', 'Finishing: 6 weeks'];
const FILM = ['Cameras: 3 × 180 MB/s × 4 h a shooting day', 'Proxies: 5 % of Cameras'];
const SHELF = 'Shelf: 12 slots, €900, at most 3';
const TEN = '10 Gb/s: card 120 + cable 40 over Ethernet 10 Gb/s';
const FILM_PLAN = [
  ...['size', '--days', '14 weeks', '--drive', FILM_DRIVE, '--enclosure', SHELF, '--connection', TEN],
  ...CALENDAR.flatMap((line) => ['--calendar', line]),
  ...FILM.flatMap((line) => ['--material', line]),
  ...['--drives-at-most', '36', '--may-fail', '2'],
];

describe('a feature film on 20 TB drives', () => {
  // 3 × 180 MB/s × 4 h are 7.776 TB on each of 40 days, 311.04 TB, and a twentieth of it: 326.592 TB, with a tenth
  // more 359.25 TB. A drive takes 20 × 0.98 × 0.8 = 15.68 TB: 23 hold it, and two more may fail: 25 in three shelves.
  const cost = 25 * 530 + 3 * 900 + 160;

  it('in the page', async () => {
    await page.goto(`${app.origin}/sizing`);
    walk.count.begin();
    await addDrive(walk, FILM_DRIVE);
    await walk.press('Change the plan');
    await walk.type({
      Name: 'Long Water',
      Days: '14 weeks',
      Calendar: CALENDAR.join('\n'),
      Material: FILM.join('\n'),
      Enclosures: SHELF,
      Connections: TEN,
      'Drives at most': '36',
      'Failed drives it survives': '2',
    });
    expect(await textOf(page, '[data-answers="phases"]')).toContain('40 of these 56 days worked, 16 off');
    expect(await textOf(page, '[data-answers="materials"]')).toMatch(
      /Cameras: 40 of these 56 days worked, 16 off, 7\.78 TB a day, 311 TB in all\..*Proxies: .* 389 GB a day, 15\.6 TB in all/s,
    );
    expect(await textOf(page, '[data-answers="choice"]')).toMatch(/writes 130 MB\/s sustained, from its box/);
    const said = await kept('25 × Falcon, double parity, 3 × Shelf, 10 Gb/s');
    expect(walk.count).toMatchObject({ presses: 4, fields: 9 });
    expect(said).toContain(`361 TB usable (328 TiB) for ${cost.toLocaleString('en-GB')} EUR`);
    expect(said).toContain(
      'The fullest day is day 54 with 359 TB: 1.39 TB of its 361 TB are left, 0.39 % of the room.',
    );
    // A project that was none before has an address of its own.
    expect(new URL(page.url()).pathname).toBe('/sizing/project');
  });

  it('goes on paper with what is to be bought', async () => {
    await walk.press('Put into the report');
    await waitForText(page, 'it is in: open the report');
    await walk.press('Report');
    await page.waitForSelector('svg[data-page="1"]');
    await walk.look('report');
    const words = plain(await page.$$eval('svg[data-page] text', (all) => all.map((one) => one.textContent).join(' ')));
    expect(words).toContain('Long Water');
    expect(words).toMatch(/25 × Falcon/);
    // 13,250 for drives, 2,700 for shelves, 160 for the link.
    for (const sum of ['13,250', '2,700', cost.toLocaleString('en-GB')]) expect(words).toContain(sum);
    await walk.press('Sizing');
    await waitForBuild('25 × Falcon, double parity, 3 × Shelf, 10 Gb/s');
  });

  it('answers what comes next: more days, one more camera, half of it', async () => {
    await page.waitForSelector('[data-move]');
    const moves = await page.$$eval('[data-move]', (all) => all.map((one) => one.textContent ?? ''));
    // Five days more are 45 of work: 404.2 TB, 26 drives and two, 1,590 more; 25 drives are full on the 45th of 40 … 56.
    expect(plain(moves[0]!)).toMatch(/^Five more days of Shooting: \+1,590 EUR; \+44\.9 TB on the fullest day\./);
    // Rates alone are no cameras.
    expect(moves.some((one) => one.startsWith('One more camera'))).toBe(false);
    // 179.6 TB: 12 and two, in two shelves.
    expect(plain(moves[1]!)).toMatch(/^Everything half the size: −6,730 EUR; −180 TB/);
    expect(25 * 530 + 3 * 900 - (14 * 530 + 2 * 900)).toBe(6730);
  });

  it('takes one of them over by a press, and back', async () => {
    await walk.press('Take over: five more days of Shooting');
    // 26 hold it, and two more.
    const said = await waitForBuild('28 × Falcon, double parity, 3 × Shelf, 10 Gb/s');
    expect(said).toContain(`for ${(cost + 1590).toLocaleString('en-GB')} EUR`);
    await walk.press('As planned');
    await waitForBuild('25 × Falcon, double parity, 3 × Shelf, 10 Gb/s');
    expect((await projects()).map(({ plan: kept }) => kept.days)).toEqual([98]);
  });

  // After four weeks half of it is there: 179.63 TB in 12 drives and two, in two shelves; 11 more and a shelf later.
  const [now, later] = [14 * 530 + 2 * 900 + 160, 11 * 477 + 900];

  it('buys half of it later, for what drives cost then', async () => {
    await walk.press('Change the plan');
    await walk.type({ 'Buy on': 'week 5, 10 % less' });
    await walk.press('Keep');
    await page.waitForSelector('[data-staged]');
    const staged = await textOf(page, '[data-staged]');
    expect(staged).toContain(
      `At the beginning: 14 × Falcon at 530, 2 × Shelf at 900, 1 × 10 Gb/s: card at 120, 1 × 10 Gb/s: cable at 40: ${now.toLocaleString('en-GB')} EUR.`,
    );
    expect(staged).toContain(
      `By day 29: 11 × Falcon at 477, 1 × Shelf at 900, drives at 10 % less than today: ${later.toLocaleString('en-GB')} EUR.`,
    );
    expect(staged).toContain(
      `In all ${(now + later).toLocaleString('en-GB')} EUR, 583 EUR less than the cheapest bought all at once.`,
    );
  });

  it('on the command line the same, by which day as a table', async () => {
    const { code, stdout } = await tavrox(app.dataFolder, ...FILM_PLAN, '--buy-on', 'week 5, −10 %', '--to-buy');
    expect(code).toBe(0);
    expect(stdout).toContain('29,,Working,Falcon,11,477,5247,EUR');
    expect(stdout).toContain(`,,in all,,,,${now + later},EUR`);
  });

  it('has what is recorded in it, in the page', async () => {
    await page.goto(`${app.origin}/workloads`);
    await walk.press('New workload');
    await walk.press('Add footage');
    await walk.type({ Format: '180 MB/s', Streams: '3', 'Length of a take': '1 h 45', Name: 'Cameras' });
    await walk.press('Add');
    await page.waitForSelector('[data-item]');
    await page.goto(`${app.origin}/sizing`);
    const said = await waitForBuild('25 × Falcon, double parity, 3 × Shelf, 10 Gb/s');
    expect(said).toMatch(
      /Would record three streams of 180 MB\/s for the whole 1 h 45 min, with 111 % to spare\. Nothing of this was measured: it is what its box promises/,
    );
  });

  it('on the command line, without a file', async () => {
    const { code, stdout } = await tavrox(
      app.dataFolder,
      ...FILM_PLAN,
      ...['--record', '3 × 180 MB/s', '--for', '1 h 45'],
    );
    expect(code).toBe(0);
    expect(plain(stdout)).toContain('Cheapest: 25 × Falcon, double parity, 3 × Shelf, 10 Gb/s');
    expect(plain(stdout)).toContain(`for ${cost.toLocaleString('en-GB')} EUR`);
    expect(plain(stdout)).toMatch(/Would record .*Nothing of this was measured: it is what its box promises/);
  });

  it('says what would make it fit where the budget does not, with exit code 3', async () => {
    const { code, stdout } = await tavrox(app.dataFolder, ...FILM_PLAN, ...['--budget', '€15,000']);
    expect(code).toBe(3);
    expect(plain(stdout)).toContain(
      `With a budget of ${cost.toLocaleString('en-GB')} EUR, ${(cost - 15_000).toLocaleString('en-GB')} more`,
    );
  });
});

describe('a film of eighteen days, by one command', () => {
  // 7.776 TB a day and a twentieth of it: 146.97 TB, with a tenth more 161.66. Eleven drives of 15.68 TB hold it, and two
  // more may fail: thirteen in two shelves. Of 23 days it is 206.57 TB: fourteen and two.
  const cost = 13 * 530 + 2 * 900 + 160;
  const plan = [
    ...['size', '--days', '18 days', '--drive', FILM_DRIVE, '--enclosure', SHELF, '--connection', TEN],
    ...['--material', 'Cameras: 3 × 180 MB/s × 4 h a day, days 1–18', '--material', 'Proxies: 5 % of Cameras'],
    ...['--drives-at-most', '36', '--may-fail', '2', '--what-if'],
  ];

  it('says what to buy, and what five more days ask for', async () => {
    const { code, stdout } = await tavrox(app.dataFolder, ...plan);
    const words = plain(stdout);
    expect(code).toBe(0);
    expect(words).toContain('Cheapest: 13 × Falcon, double parity, 2 × Shelf, 10 Gb/s');
    expect(words).toContain(`172 TB usable (157 TiB) for ${cost.toLocaleString('en-GB')} EUR`);
    expect(words).toContain('The fullest day is day 18 with 162 TB: 10.8 TB of its 172 TB are left');
    expect(words).toMatch(/Five more days \+1,590 EUR; \+44\.9 TB on the fullest day/);
  });

  it('says for 8,000 EUR that nothing fits, what is nearest, and what by itself would make it fit', async () => {
    const { code, stdout } = await tavrox(app.dataFolder, ...plan, '--budget', '€8,000');
    const words = plain(stdout);
    expect(code).toBe(3);
    // Twelve in one shelf are ten that hold 156.8 TB.
    expect(words).toContain(
      'Nearest: 12 × Falcon, double parity, Shelf, 10 Gb/s for 7,420 EUR. It is full on day 18 of 18: 4.86 TB are missing',
    );
    expect(words).toContain(`With a budget of ${cost.toLocaleString('en-GB')} EUR, 850 more`);
  });

  it('asks on which days where that was not said', async () => {
    const { code, stderr } = await tavrox(
      app.dataFolder,
      'size',
      '--days',
      '18',
      '--material',
      'Cameras: 2 TB a day',
      '--drive',
      FILM_DRIVE,
    );
    expect([code, plain(stderr)]).toEqual([
      2,
      expect.stringMatching(/comes every day, but on which\? Add them, such as days 1–18/),
    ]);
  });
});

describe('a series on flash, with a second copy on spinning drives', () => {
  const SHUTTLE = 'Shuttle: 4 TB flash, writes 2,800 MB/s, then 900 MB/s after 120 GB, reads 3 GB/s, €189';
  const MATERIAL = 'Cameras: 2 × 60 MB/s × 2:30 h a day, days 1–45, 5 days a week, keep 1 week, second copy';
  // 1.08 TB a day. What came on the seven days before is there too: six of eight days are days of work, 6.48 TB, with a
  // tenth more 7.13 TB. A Shuttle takes 3.136 TB: three in a stripe; that one may fail takes a fourth.
  // The copy keeps all 33 days of work, 35.64 TB, 39.2 TB with a tenth more: three Falcons of 15.68 TB.
  const working = 4 * 189 + 100;
  const copy = 3 * 530 + 100;

  it('in the page', async () => {
    await page.goto(`${app.origin}/sizing`);
    await newProject();
    await walk.type({
      Name: 'Harbour',
      Days: '60',
      Material: MATERIAL,
      Drives: 'Shuttle\nFalcon',
      Enclosures: 'Box: 4 slots, 100',
      Connections: 'in it: 0 over nothing',
    });
    // It is not known here yet: the field says so, and the button under it adds it.
    await waitForText(page, 'No drive is called “Shuttle”');
    await addDrive(walk, SHUTTLE);
    await waitForText(page, /Shuttle: 4.TB flash, writes 900.MB\/s sustained/);
    const said = await kept('4 × Shuttle, single parity, Box, in it');
    expect(said).toMatch(new RegExp(`for ${working} EUR`));
    expect(await textOf(page, '[data-together]')).toMatch(
      new RegExp(`Together ${(working + copy).toLocaleString('en-GB')} EUR`),
    );
  });

  it('on the command line', async () => {
    const { code, stdout } = await tavrox(
      app.dataFolder,
      ...['size', '--days', '60', '--material', MATERIAL, '--drive', SHUTTLE, '--drive', FILM_DRIVE],
      ...['--enclosure', 'Box: 4 slots, 100', '--connection', 'in it: 0 over nothing', '--json'],
    );
    expect(code).toBe(0);
    const { cheapest } = JSON.parse(stdout) as { cheapest: { cost: number; builds: { name: string }[] } };
    expect(cheapest.cost).toBe(working + copy);
    expect(cheapest.builds.map(({ name }) => name)).toEqual([
      '4 × Shuttle, single parity, Box, in it',
      expect.stringMatching(/^3 × Falcon, /),
    ]);
  });

  it('leaves as a table of what is to be bought', async () => {
    const { stdout } = await tavrox(
      app.dataFolder,
      ...['size', '--days', '60', '--material', MATERIAL, '--drive', SHUTTLE, '--drive', FILM_DRIVE, '--to-buy'],
      ...['--enclosure', 'Box: 4 slots, 100', '--connection', 'in it: 0 over nothing'],
    );
    expect(stdout.trim().split('\n')).toEqual([
      'store,what,needed,there,to_buy,price,sum,currency',
      'Working,Shuttle,4,0,4,189,756,EUR',
      'Working,Box,1,0,1,100,100,EUR',
      'Second copy,Falcon,3,0,3,530,1590,EUR',
      'Second copy,Box,1,0,1,100,100,EUR',
      `in all,,,,,,${working + copy},EUR`,
    ]);
  });
});

describe('a one-day event on a share that is there', () => {
  const SHARE = 'House share: 10 TB share, 110 MB/s, Ethernet 1 Gb/s';
  // Three streams of 25 MB/s for 6 h: 1.62 TB, with a tenth more 1.782 TB, in 7.84 TB; 75 of 110 MB/s with a quarter of
  // headroom 93.75. Four take 125: that is more than the share promises.
  const size = (streams: number) => [
    ...['size', '--days', '1', '--material', `Cameras: ${streams} × 25 MB/s × 6 h, last day`],
    ...['--drive', `${SHARE}, 1 there`, '--may-fail', '0', '--record', `${streams} × 25 MB/s`, '--for', '6 h'],
  ];

  it('in the page, where a share is no drive to build with, and costs nothing', async () => {
    await newProject();
    await addDrive(walk, SHARE);
    await walk.type({
      Name: 'Gala',
      Days: '1',
      Material: 'Cameras: 3 × 25 MB/s × 6 h, last day',
      Drives: 'House share: 1 there',
      'Failed drives it survives': '0',
    });
    const said = await kept('1 × House share, no link that binds');
    expect(said).toContain('7.84 TB usable (7.13 TiB) for 0 EUR');
    expect(said).toContain('1.78 TB: 6.06 TB of its 7.84 TB are left, 77.3 % of the room');
    expect(said).toContain('What it survives is its own affair, and not known here.');
    expect((await projects()).find(({ plan: one }) => one.name === 'Gala')).toMatchObject({
      plan: { choice: [{ label: 'House share', there: 1 }], materials: [{ fromDay: 1, toDay: 1 }] },
    });
  });

  it('on the command line, and one camera more than it promises', async () => {
    const three = await tavrox(app.dataFolder, ...size(3));
    expect(three.code).toBe(0);
    expect(plain(three.stdout)).toContain('Cheapest: 1 × House share');
    const four = await tavrox(app.dataFolder, ...size(4));
    expect(four.code).toBe(3);
    expect(plain(four.stdout)).toMatch(/carries 110 MB\/s of the 125 MB\/s that recording needs with 25 % headroom/);
    expect(plain(four.stdout)).toContain('Without the 25 % of headroom: 1 × House share');
  });

  it('leaving and coming back finds the project, and two who change it do not write over each other', async () => {
    const { pathname } = new URL(page.url());
    await walk.press('Measure');
    await walk.press('Sizing');
    await waitForText(page, 'Gala');
    expect(new URL(page.url()).pathname).toBe(pathname);
    await walk.press('Change the plan');
    await walk.type({ Name: 'Gala, mine' });
    const theirs = (await projects()).find(({ plan: one }) => one.name === 'Gala')!;
    const changed = { ...theirs, plan: { ...theirs.plan, name: 'Gala, theirs' } };
    expect((await callApi(app, 'PUT', `/projects/${theirs.id}`, changed)).status).toBe(200);
    await walk.press('Keep');
    await waitForText(page, 'changed meanwhile');
    expect(await textOf(page, '[data-conflict]')).toMatch(/Name.*theirs: Gala, theirs.*yours: Gala, mine/s);
    await walk.press('Keep mine as a copy');
    await page.waitForSelector('[data-conflict]', { hidden: true });
    const names = (await projects()).map(({ plan: one }) => one.name);
    expect(names).toEqual(expect.arrayContaining(['Gala, theirs', expect.stringMatching(/^Gala, mine/)]));
  });
});
