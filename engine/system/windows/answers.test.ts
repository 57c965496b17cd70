import { describe, expect, it } from 'vitest';
import {
  celsiusIn,
  describedIn,
  discardIn,
  diskBytesIn,
  diskNumbersIn,
  mediumIn,
  onBatteryIn,
  timesIn,
} from '#engine/system/windows/answers.ts';

/** Numbers at their places in an answer of so many bytes. */
function answer(bytes: number, ...numbers: [at: number, value: number | bigint, size: 1 | 2 | 4 | 8][]): Buffer {
  const buffer = Buffer.alloc(bytes);
  for (const [at, value, size] of numbers) {
    if (size === 8) buffer.writeBigInt64LE(BigInt(value), at);
    else if (size === 2) buffer.writeInt16LE(Number(value), at);
    else buffer.writeUIntLE(Number(value), at, size);
  }
  return buffer;
}

describe('what Windows answers', () => {
  it('of the disks that a volume lies on', () => {
    expect(diskNumbersIn(answer(32, [0, 1, 4], [8, 3, 4], [16, 1_048_576, 8], [24, 2e12, 8]))).toEqual([3]);
    // Two pieces on one disk, one on another.
    expect(diskNumbersIn(answer(80, [0, 3, 4], [8, 2, 4], [32, 2, 4], [56, 5, 4]))).toEqual([2, 5]);
    expect(diskNumbersIn(answer(32, [0, 2, 4]))).toBeNull();
    expect(diskNumbersIn(Buffer.alloc(4))).toBeNull();
  });

  it('of a device: its names and its bus', () => {
    const whole = answer(100, [12, 40, 4], [16, 50, 4], [24, 70, 4], [28, 17, 4]);
    whole.write('Vendor  \0', 40, 'latin1');
    whole.write('Falcon  2T  \0', 50, 'latin1');
    whole.write('  S-00 1\0', 70, 'latin1');
    expect(describedIn(whole)).toEqual({ name: 'Vendor Falcon 2T', serial: 'S-00 1', bus: 'NVMe' });
    // Nothing told, and a place behind the end.
    expect(describedIn(answer(40, [16, 4000, 4], [28, 99, 4]))).toEqual({ name: '', serial: '', bus: null });
    expect(describedIn(Buffer.alloc(20))).toBeNull();
  });

  it('of its medium, of discarding and of its temperature', () => {
    expect([mediumIn(answer(12, [8, 1, 1])), mediumIn(answer(12)), mediumIn(Buffer.alloc(8))]).toEqual([
      'spinning',
      'flash',
      null,
    ]);
    expect([discardIn(answer(12, [8, 1, 1])), discardIn(answer(12)), discardIn(Buffer.alloc(0))]).toEqual([
      true,
      false,
      null,
    ]);
    expect(celsiusIn(answer(40, [12, 1, 2], [26, 47, 2]))).toBe(47);
    expect(celsiusIn(answer(40, [12, 1, 2], [26, -12, 2]))).toBe(-12);
    expect(celsiusIn(answer(40, [12, 1, 2], [26, -0x8000, 2]))).toBeNull();
    expect(celsiusIn(answer(40))).toBeNull();
  });

  it('of what was moved, of its processors and of its battery', () => {
    expect(diskBytesIn(answer(88, [0, 5_000_000_000, 8], [8, 7, 8]))).toEqual({ readBytes: 5e9, writeBytes: 7 });
    expect(diskBytesIn(Buffer.alloc(8))).toBeNull();
    const time = (value: number) => answer(8, [0, value, 8]);
    // The time of the kernel holds that of doing nothing.
    expect(timesIn(time(700), time(800), time(200))).toEqual({ busy: 300, total: 1000 });
    expect(onBatteryIn(Buffer.from([0, 1]))).toBe(true);
    expect(onBatteryIn(Buffer.from([1, 8]))).toBe(false);
    for (const status of [[1, 128], [0, 255], [255, 1], []]) expect(onBatteryIn(Buffer.from(status))).toBeNull();
  });
});
