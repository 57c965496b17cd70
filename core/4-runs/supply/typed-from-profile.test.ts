import { describe, expect, it } from 'vitest';
import { readNewDrive } from '#core/2-trade/drives/new-drive.ts';
import { profileRunOf, profilesOf } from '#core/4-runs/supply/profile.ts';
import { textsOfProfile } from '#core/4-runs/supply/typed-from-profile.ts';
import { MB } from '#core/testing/curves.ts';
import { runOf } from '#core/testing/run-of.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';

const steady = (rate: number, seconds: number) => Array<number>(seconds).fill(rate);
const profileOfRuns = (...runs: RunDocument[]) =>
  profilesOf(
    { id: 'd', label: 'Shuttle', medium: 'flash' },
    runs.map((run) => ({
      connection: {
        hops: [
          {
            linkId: 'usb-10',
            label: 'USB 10 Gb/s',
            lanes: 1,
            ceilingBytesPerSecond: 1050 * MB,
            capableBytesPerSecond: null,
          },
        ],
      },
      adds: profileRunOf(run),
    })),
  )[0]!;
const filled = (fast: number, seconds: number) =>
  runOf([{ direction: 'write', phase: 'allocating', rates: [...steady(fast * MB, seconds), ...steady(400 * MB, 90)] }]);

describe('a drive typed from a colleague’s profile', () => {
  it('is promised the least that its runs saw: opening, floor, and where it falls', () => {
    const texts = textsOfProfile(profileOfRuns(filled(1000, 60), filled(900, 50)));
    const { kept, errors } = readNewDrive({ ...texts, capacity: '2 TB', price: '189 EUR' });
    expect(errors).toEqual({});
    const { details } = kept!;
    expect(kept).toMatchObject({ label: 'Shuttle', medium: 'flash', capacityBytes: 2e12 });
    expect(details.ratedWriteBytesPerSecond! / MB).toBeCloseTo(900, -1);
    expect(details.ratedFloorBytesPerSecond! / MB).toBeCloseTo(400, -1);
    // 50 s at 900 MB/s.
    expect(details.ratedFallBytes! / 1e9).toBeCloseTo(45, 0);
    expect(details.ratedReadBytesPerSecond).toBeNull();
    expect(details.price).toBe(189);
    expect(details.hops).toHaveLength(1);
    expect(details.note).toMatch(/^From a profile: 2 runs on another machine, the last on \d{4}-\d\d-\d\d\.$/);
  });

  it('says how far it was seen where no fall was', () => {
    const run = runOf([
      { direction: 'write', rates: steady(800 * MB, 10) },
      { direction: 'read', rates: steady(900 * MB, 10) },
    ]);
    const { kept } = readNewDrive({ ...textsOfProfile(profileOfRuns(run)), capacity: '2 TB' });
    expect(kept!.details.ratedWriteBytesPerSecond! / MB).toBeCloseTo(800, -1);
    expect(kept!.details.ratedReadBytesPerSecond! / MB).toBeCloseTo(900, -1);
    expect(kept!.details.ratedFloorBytesPerSecond).toBeUndefined();
    expect(kept!.details.note).toContain('No fall was seen within 8');
  });

  it('leaves open how large it is, which no profile says', () => {
    expect(readNewDrive(textsOfProfile(profileOfRuns(filled(1000, 60)))).errors).toEqual({
      capacity: 'capacity: say how large it is, such as 20 TB.',
    });
  });
});
