import { describe, expect, it } from 'vitest';
import { NO_DETAILS, driveTexts, readDrive, type DriveDetails } from '#core/2-trade/drives/drive-details.ts';
import { DEMO_DRIVES } from '#demo/drives.ts';

const typed = (change: Record<string, string>) => readDrive({ ...driveTexts('Petrel', NO_DETAILS), ...change });

describe('the card of a drive', () => {
  it('gives every example again', () => {
    for (const [label, details] of Object.entries(DEMO_DRIVES))
      expect(readDrive(driveTexts(label, details)).card).toEqual({ label, details });
  });

  it('is typed as people write it', () => {
    const { card, errors } = typed({
      ratedWrite: '5300 MB/s',
      endurance: '1200 TB',
      price: '189.90 EUR',
      loudness: '34.5 dB(A) at 30 cm',
      hours: '1200',
      className: 'portable flash',
    });
    expect(errors).toEqual({});
    expect(card!.details).toEqual<DriveDetails>({
      ...NO_DETAILS,
      className: 'portable flash',
      ratedWriteBytesPerSecond: 5300e6,
      enduranceBytes: 1200e12,
      price: 189.9,
      currency: 'EUR',
      loudnessDecibels: 34.5,
      loudnessMetres: 0.3,
      powerOnHours: 1200,
    });
    expect(typed({ price: '62' }).card!.details).toMatchObject({ price: 62, currency: '' });
    expect(typed({ loudness: '30 dB' }).card!.details).toMatchObject({ loudnessDecibels: 30, loudnessMetres: null });
  });

  it('says what is wrong at its field, all at once', () => {
    const { card, errors } = typed({ label: ' ', price: 'cheap', loudness: 'quiet', ratedRead: '500', hours: '-3' });
    expect(card).toBeNull();
    expect(Object.keys(errors).sort()).toEqual(['hours', 'label', 'loudness', 'price', 'ratedRead']);
    expect(errors['price']).toMatch(/189 EUR/);
    expect(errors['loudness']).toMatch(/34 dB at 1 m/);
    expect(typed({ loudness: '300 dB' }).card).toBeNull();
  });
});
