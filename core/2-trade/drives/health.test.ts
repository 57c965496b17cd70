import { describe, expect, it } from 'vitest';
import { enduranceByItsCount, healthFacts, healthIn } from '#core/2-trade/drives/health.ts';

describe('what a drive says of itself', () => {
  it('tells what it may be written in all, as closely as whole percent allow', () => {
    const counts = (wornShare: number | null, writtenBytes: number | null) =>
      enduranceByItsCount({ ...healthIn({ smart_status: { passed: true } })!, wornShare, writtenBytes });
    const { least, most } = counts(0.07, 40e12)!;
    expect([least / 1e12, most / 1e12]).toEqual([expect.closeTo(500, 6), expect.closeTo(666.667, 3)]);
    expect([counts(0.01, 40e12), counts(null, 40e12), counts(0.07, null), counts(0.07, 0)]).toEqual([
      null,
      null,
      null,
      null,
    ]);
  });

  it('over NVMe, by its log page', () => {
    const health = healthIn({
      smart_status: { passed: true },
      temperature: { current: 44 },
      power_cycle_count: 210,
      power_on_time: { hours: 1831 },
      nvme_smart_health_information_log: {
        percentage_used: 7,
        // Units of a thousand sectors: 40 TB.
        data_units_written: 78_125_000,
        media_errors: 0,
        unsafe_shutdowns: 12,
      },
    })!;
    expect(health).toEqual({
      celsius: 44,
      wornShare: 0.07,
      writtenBytes: 40e12,
      hours: 1831,
      powerCycles: 210,
      mediaErrors: 0,
      unsafeShutdowns: 12,
      isFailing: false,
    });
    expect(healthFacts(health).map(({ name, text }) => `${name}: ${text}`)).toEqual(
      [
        'says of itself: nothing is failing',
        'temperature: 44 °C',
        'worn: 7 % of its rated writing',
        'written in all: 40 TB',
        'on for: 1,831 hours',
        'switched on: 210 times',
        'errors in its data: 0',
        'cut off without a word: 12 times',
      ]
        .map((text) => text.replace(/ (?=%|TB)/, '\u202f'))
        .map((text) => expect.stringMatching(new RegExp(`^${text.replace('\u202f', '.')}$`)) as string),
    );
  });

  it('over SATA, by the common numbers of its attributes', () => {
    const row = (id: number, raw: number, value = 100) => ({ id, value, raw: { value: raw } });
    expect(
      healthIn({
        smart_status: { passed: false },
        ata_smart_attributes: { table: [row(5, 8), row(197, 3), row(231, 0, 88), row(192, 31), row(241, 2e9)] },
      }),
    ).toEqual({
      celsius: null,
      wornShare: 0.12,
      writtenBytes: 2e9 * 512,
      hours: null,
      powerCycles: null,
      mediaErrors: 11,
      unsafeShutdowns: 31,
      isFailing: true,
    });
    // What readers came to call alike comes before a guess by numbers.
    expect(healthIn({ endurance_used: { current_percent: 130 } })!.wornShare).toBeCloseTo(1.3, 12);
  });

  it('is nothing where a document says nothing, or what no drive could', () => {
    for (const document of [
      null,
      7,
      'x',
      [],
      {},
      { temperature: { current: 'hot' } },
      { ata_smart_attributes: { table: {} } },
    ])
      expect(healthIn(document)).toBeNull();
    expect(healthIn({ temperature: { current: 30 }, power_on_time: { hours: -1 } })).toMatchObject({ hours: null });
  });
});
