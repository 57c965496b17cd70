import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { F_GETFD, loadFcntl } from '#engine/system/fcntl.ts';
import { onBattery } from '#engine/system/linux/power.ts';
import { parseProcessorTimes } from '#engine/system/linux/processor.ts';
import { readTemperature, temperatureSensor } from '#engine/system/linux/temperature.ts';
import { system } from '#engine/system/this-system.ts';
import { busyShare } from '#engine/watch/processor-load.ts';

let home: string;
beforeEach(() => {
  home = mkdtempSync(join(tmpdir(), 'linux-test-'));
});
afterEach(() => rmSync(home, { recursive: true, force: true }));

describe('calling the C library', () => {
  it.skipIf(system.name !== 'Linux')('asks for the flags of a descriptor, variadic, without harm', () => {
    const fcntl = loadFcntl('libc.so.6');
    expect(fcntl).not.toBeNull();
    expect(fcntl!(0, F_GETFD, 0)).toBeGreaterThanOrEqual(0);
    expect(fcntl!(9999, F_GETFD, 0)).toBe(-1);
    expect(loadFcntl('libnone.so.0')).toBeNull();
  });
});

describe('what the system tells', () => {
  it('of batteries: on one, plugged in, or none', () => {
    const supply = (name: string, files: Record<string, string>) => {
      mkdirSync(join(home, name));
      for (const [file, text] of Object.entries(files)) writeFileSync(join(home, name, file), `${text}\n`);
    };
    expect(onBattery(home)).toBeNull();
    supply('BAT0', { type: 'Battery' });
    expect(onBattery(home)).toBe(true);
    supply('AC', { type: 'Mains', online: '1' });
    expect(onBattery(home)).toBe(false);
    expect(onBattery(join(home, 'nowhere'))).toBeNull();
  });

  it('of temperature: in thousandths, where the kernel keeps it, and nothing where it does not', () => {
    mkdirSync(join(home, 'device', 'hwmon', 'hwmon3'), { recursive: true });
    const sensor = join(home, 'device', 'hwmon', 'hwmon3', 'temp1_input');
    writeFileSync(sensor, '41850\n');
    expect(temperatureSensor(home)).toBe(sensor);
    expect(readTemperature(sensor)).toBe(41.85);
    writeFileSync(sensor, '');
    expect(readTemperature(sensor)).toBeNull();
    expect(temperatureSensor(join(home, 'nowhere'))).toBeNull();
  });
});

describe('processor load', () => {
  it('takes a processor that waits for a drive for a free one, and one given to another machine for a busy one', () => {
    const text = (fields: string) => `cpu  ${fields}\ncpu0 1 1 1 1 1 1 1 1 0 0\nintr 5\n`;
    const before = parseProcessorTimes(text('1000 0 300 5000 2000 0 30 50 0 0'))!;
    const waiting = parseProcessorTimes(text('1010 0 310 5000 2980 0 30 50 0 0'))!;
    const stolen = parseProcessorTimes(text('1010 0 310 5000 2000 0 30 1030 0 0'))!;
    expect(busyShare(before, waiting)).toBeCloseTo(0.02, 12);
    expect(busyShare(before, stolen)).toBe(1);
    // Kernels before 2.6.11 kept no stolen time; another text is none of this.
    expect(parseProcessorTimes(text('10 0 10 70 10 0 0'))).toEqual({ busy: 20, total: 100 });
    expect(parseProcessorTimes('cpu  a b c d e f g')).toBeNull();
    expect(parseProcessorTimes('')).toBeNull();
  });
});
