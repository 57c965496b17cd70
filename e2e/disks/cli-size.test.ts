import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { TB, materialOf, shoot, sizingOf } from '#core/testing/sizing-of.ts';
import { removeFolder, temporaryFolder } from '../support/app.ts';
import { tavrox } from '../support/cli.ts';

describe('tavrox size', () => {
  const elsewhere = [{ store: 'second' as const, keepDays: null }];
  const sizing = sizingOf({ materials: [materialOf({ bytesPerDay: 0.9 * TB, elsewhere })], workload: shoot('1') });
  let plans: string;
  beforeAll(() => (plans = temporaryFolder('size')));
  afterAll(() => removeFolder(plans));
  const document = () => {
    const path = join(plans, 'project.sizing.json');
    writeFileSync(path, JSON.stringify(sizing));
    return path;
  };

  it('prints the cheapest set with what to buy, and why others fail', async () => {
    const { code, stdout } = await tavrox(plans, 'size', document(), '--json');
    expect(code).toBe(0);
    const found = JSON.parse(stdout) as {
      cheapest: { cost: number; builds: { store: string; cost: number; shopping: { sum: number }[] }[] };
      front: { cost: number }[];
      stores: { store: string; builds: number; ruledOut: { constraint: string }[] }[];
    };
    const { cheapest, front, stores } = found;
    expect(cheapest.builds.map(({ store }) => store)).toEqual(['working', 'second']);
    expect(cheapest.builds.reduce((sum, { cost }) => sum + cost, 0)).toBe(cheapest.cost);
    for (const { cost, shopping } of cheapest.builds) {
      expect(shopping.reduce((sum, line) => sum + line.sum, 0)).toBe(cost);
    }
    expect(front[0]!.cost).toBe(cheapest.cost);
    expect(stores[0]!.ruledOut.map(({ constraint }) => constraint)).toContain('writing');
  });

  it('says the same in words and as a table', async () => {
    const words = (await tavrox(plans, 'size', document())).stdout;
    expect(words).toMatch(/^Cheapest together: [\d,]+ EUR$/m);
    expect(words).toMatch(/^Second copy: \d+ × Disc/m);
    expect(words).toMatch(/^Second copy: a day is copied and read back in \d+ h/m);
    expect(words).toMatch(/: it does not hold what is recorded, among them /);
    const [head, ...lines] = (await tavrox(plans, 'size', document(), '--csv')).stdout.trim().split('\n');
    expect(head).toContain('full_on_day');
    expect(lines.some((line) => line.startsWith('second,'))).toBe(true);
  });

  it.each([
    [{ days: 0 }, /days/],
    [{ materials: [materialOf({ fromDay: 9, toDay: 3 })] }, /ends before it begins/],
  ])('refuses %j with one line and exit code 2', async (change, message) => {
    const path = join(plans, 'bad.sizing.json');
    writeFileSync(path, JSON.stringify({ ...sizing, ...change }));
    const { code, stdout, stderr } = await tavrox(plans, 'size', path);
    expect({ code, stdout }).toEqual({ code: 2, stdout: '' });
    expect(stderr).toMatch(message);
    expect(stderr.trim().split('\n')).toHaveLength(1);
  });

  it('takes a plan as it is said, from nothing', async () => {
    const plan = {
      days: '8 weeks',
      drive: 'Tern 20TB HDD 7200rpm 285MB/s SATA 6G 12 ms 429€',
      enclosure: '12 bay NAS, 1,299 EUR',
      connection: '10GbE card: 190 EUR',
      calendar: ['Shooting 18 days', 'Edit: days 19 to the end'],
      material: [
        'Cameras: 3 cameras ProRes 422 HQ UHD 25p, 6 hours a day, 18 days',
        'Proxies: 5% of Cameras',
        'Renders: 300 GB a day from day 40 to the end, keep for 10 days',
      ],
    };
    const flags = Object.entries(plan).flatMap(([flag, lines]) =>
      [lines].flat().flatMap((line) => [`--${flag}`, line]),
    );
    const { code, stdout } = await tavrox(plans, 'size', ...flags);
    expect(code).toBe(0);
    // 3 × 91.77 MB/s × 6 h × 18 are 107.05 TB, a twentieth of it and 11 days of renders 115.7, with a tenth more 127.3 TB.
    // A drive takes 20 × 0.98 × 0.8 = 15.68 TB: nine hold it, and one more may fail.
    expect(stdout).toMatch(/^Cheapest: 10 × Tern, single parity, 12 bay NAS, 10GbE card$/m);
    expect(stdout).toMatch(new RegExp(`for ${(10 * 429 + 1299 + 190).toLocaleString('en-GB')} EUR`));
    expect(stdout).toMatch(/The fullest day is day 50 with 127.TB/);
  });
});
