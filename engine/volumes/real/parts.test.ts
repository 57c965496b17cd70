import { mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { F_GETFD, bypassCache, loadFcntl } from '#engine/volumes/real/cache-bypass.ts';
import { connectionNow, UNKNOWN_DEVICE } from '#engine/volumes/real/device-facts.ts';
import { fileSizesIn, findExisting } from '#engine/volumes/real/existing.ts';
import { transferFailure } from '#engine/volumes/real/failures.ts';
import { volumesFromLists } from '#engine/volumes/real/other-systems.ts';
import { paceOf } from '#engine/volumes/real/worker-transfer.ts';
import { permutation } from '#engine/volumes/real/permutation.ts';
import { onBattery } from '#engine/watch/power.ts';
import { readTemperature, temperatureSensor } from '#engine/watch/watcher.ts';

let home: string;
beforeEach(() => {
  home = mkdtempSync(join(tmpdir(), 'parts-test-'));
});
afterEach(() => rmSync(home, { recursive: true, force: true }));

describe('random order', () => {
  it('takes every block exactly once, and no two runs of neighbours', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 3000 }), fc.integer(), (count, seed) => {
        const place = permutation(count, seed);
        const taken = Array.from({ length: count }, (_, index) => place(index));
        expect(new Set(taken).size).toBe(count);
        expect(Math.max(...taken)).toBe(count - 1);
      }),
      { numRuns: 60 },
    );
    const place = permutation(100_000, 7);
    const steps = Array.from({ length: 1000 }, (_, index) => place(index + 1) - place(index));
    expect(steps.filter((step) => step === 1).length).toBeLessThan(3);
  });
});

describe('blocks at a rate', () => {
  it('come when their bytes would have come, part blocks at the ends of files and repeated ones too', () => {
    const sizes = fc.array(fc.integer({ min: 1, max: 40 }), { minLength: 1, maxLength: 6 });
    fc.assert(
      fc.property(sizes, fc.integer({ min: 1, max: 9 }), (pages, blockPages) => {
        const blockBytes = blockPages * 4096;
        let firstBlock = 0;
        const extents = pages.map((count, descriptor) => {
          const extent = { descriptor, firstBlock, bytes: count * 4096 };
          firstBlock += Math.ceil(count / blockPages);
          return extent;
        });
        const lengths = pages.flatMap((count) =>
          Array.from({ length: Math.ceil(count / blockPages) }, (_, at) =>
            Math.min(blockBytes, (count - at * blockPages) * 4096),
          ),
        );
        const due = paceOf({ extents, fromBlock: 0, blocks: lengths.length, blockBytes, pacedBytesPerSecond: 1000 })!;
        let bytes = 0;
        for (const [taken, length] of [...lengths, ...lengths].entries()) {
          bytes += length;
          expect(due(taken)).toBeCloseTo(bytes / 1000, 6);
        }
      }),
    );
    expect(paceOf({ extents: [], fromBlock: 0, blocks: 1, blockBytes: 4096, pacedBytesPerSecond: null })).toBeNull();
  });
});

describe('calling the C library', () => {
  it.skipIf(process.platform === 'win32')('asks for the flags of a descriptor, variadic, without harm', () => {
    const fcntl = loadFcntl();
    expect(fcntl).not.toBeNull();
    expect(fcntl!(0, F_GETFD, 0)).toBeGreaterThanOrEqual(0);
    expect(fcntl!(9999, F_GETFD, 0)).toBe(-1);
  });
  it.skipIf(process.platform !== 'linux')('is not needed where opening has a flag', () => {
    expect(bypassCache(0)).toBe(true);
  });
});

describe('existing files', () => {
  it('are found largest first, in whole pages, up to the amount; links and empty ones are not', async () => {
    mkdirSync(join(home, 'deep', 'er'), { recursive: true });
    writeFileSync(join(home, 'small'), Buffer.alloc(10_000, 1));
    writeFileSync(join(home, 'deep', 'er', 'large'), Buffer.alloc(50_000, 1));
    writeFileSync(join(home, 'tiny'), 'x');
    symlinkSync('/etc/passwd', join(home, 'link'));
    const found = await findExisting(home, null);
    expect(found.files.map((file) => file.bytes)).toEqual([49_152, 8192]);
    expect(found.skippedFiles).toBe(0);
    expect((await findExisting(home, 20_000)).files).toMatchObject([{ bytes: 20_480 }]);
    expect(await fileSizesIn(home)).toEqual([1, 10_000, 50_000]);
  });
});

it('failures say what, where and what to do', () => {
  expect(transferFailure({ code: 'ENOSPC', fileOffset: 4096 }, 'write', '/mnt/a').detail).toBe(
    'The volume is full while writing at byte 4096 on /mnt/a. What was measured before is kept; free some space, or measure less.',
  );
  expect(transferFailure({ code: 'EWEIRD', fileOffset: 0 }, 'read', '/mnt/a').detail).toMatch(
    /A request failed \(EWEIRD\)/,
  );
});

it('a connection that is as it was is not another', () => {
  expect(connectionNow({ device: UNKNOWN_DEVICE, connection: { hops: [] } })).toBeNull();
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

describe('volumes of other systems', () => {
  const size = {
    fs: '/dev/disk3s5',
    type: 'APFS',
    size: 994e9,
    available: 220e9,
    mount: '/System/Volumes/Data',
    rw: true,
  };
  const device = {
    name: 'disk3s5',
    identifier: '',
    mount: '/System/Volumes/Data',
    physical: 'SSD',
    uuid: 'A1',
    label: 'Macintosh HD',
    model: 'Internal',
    serial: '',
    protocol: 'PCI-Express',
    device: 'disk3',
  };
  it('come from what the library lists', () => {
    const share = { ...size, fs: '//user@jetty/reels', type: 'smbfs', mount: '/Volumes/reels' };
    const hidden = { ...size, mount: '/System/Volumes/VM' };
    const [inner, network, ...rest] = volumesFromLists({ sizes: [size, share, hidden], devices: [device] });
    expect(rest).toEqual([]);
    expect(inner).toMatchObject({
      label: 'Macintosh HD',
      medium: 'flash',
      readOnly: false,
      freeBytes: 220e9,
      identity: { kind: 'filesystem', value: 'A1' },
      deviceKey: 'disk3',
    });
    expect(network).toMatchObject({ medium: 'network', identity: { kind: 'share' }, label: 'reels' });
  });
});
