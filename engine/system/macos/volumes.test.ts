import { build } from 'plist';
import { describe, expect, it } from 'vitest';
import { diskBytesIn, onBatteryIn } from '#engine/system/macos/documents.ts';
import { heldUntilMountsChange } from '#engine/system/macos/held-answers.ts';
import { readVolumes } from '#engine/system/macos/volumes.ts';

/** Shapes of macOS’s answers, made up after their public descriptions: a machine with four drives and a share. */
const MOUNTS = `/dev/disk3s1s1 on / (apfs, sealed, local, read-only, journaled)
devfs on /dev (devfs, local, nobrowse)
/dev/disk3s6 on /System/Volumes/VM (apfs, local, noexec, journaled, noatime, nobrowse)
/dev/disk3s5 on /System/Volumes/Data (apfs, local, journaled, nobrowse)
map auto_home on /System/Volumes/Data/home (autofs, automounted, nobrowse)
/dev/disk5s1 on /Volumes/Shuttle (one) (apfs, local, nodev, nosuid, journaled, noowners)
/dev/disk6s2 on /Volumes/Archive (hfs, local, nodev, nosuid, journaled, noowners)
/dev/disk7s1 on /Volumes/CARD (exfat, local, nodev, nosuid, read-only, noowners)
//anna@jetty/reels on /Volumes/reels (smbfs, nodev, nosuid, mounted by anna)
`;
const INFO: Record<string, object> = {
  disk3s1s1: {
    VolumeName: 'Macintosh HD',
    ParentWholeDisk: 'disk3',
    APFSPhysicalStores: [{ APFSPhysicalStore: 'disk0s2' }],
    APFSContainerReference: 'disk3',
    VolumeUUID: 'A-1',
    SolidState: true,
    BusProtocol: 'Apple Fabric',
    WritableVolume: false,
  },
  disk3s5: {
    VolumeName: 'Data',
    ParentWholeDisk: 'disk3',
    APFSPhysicalStores: [{ APFSPhysicalStore: 'disk0s2' }],
    APFSContainerReference: 'disk3',
    VolumeUUID: 'A-5',
    SolidState: true,
    WritableVolume: true,
  },
  disk0: { MediaName: 'INTERNAL 1024', SolidState: true, BusProtocol: 'Apple Fabric' },
  disk5s1: {
    VolumeName: 'Shuttle (one)',
    ParentWholeDisk: 'disk5',
    APFSPhysicalStores: [{ APFSPhysicalStore: 'disk4s2' }],
    APFSContainerReference: 'disk5',
    VolumeUUID: 'B-1',
    SolidState: true,
    WritableVolume: true,
  },
  disk4: { MediaName: 'Falcon 2T', SolidState: true, BusProtocol: 'USB' },
  disk6s2: { VolumeName: 'Archive', ParentWholeDisk: 'disk6', DiskUUID: 'C-2', SolidState: false, Writable: true },
  disk7s1: { VolumeName: 'CARD', ParentWholeDisk: 'disk7', VolumeUUID: 'D-1', Writable: false },
};
const PROFILED = {
  SPNVMeDataType: [
    {
      _name: 'Controller',
      _items: [
        {
          _name: 'INTERNAL 1024',
          bsd_name: 'disk0',
          device_serial: 'N-0',
          device_model: 'INTERNAL 1024',
          spnvme_trim_support: 'Yes',
          spnvme_linkspeed: '16.0 GT/s',
          spnvme_linkwidth: 'x4',
        },
      ],
    },
  ],
  SPUSBDataType: [
    {
      _name: 'USB31Bus',
      _items: [
        {
          _name: 'Hub',
          device_speed: 'super_speed',
          _items: [
            { _name: 'Falcon 2T', serial_num: 'U-4', device_speed: 'super_speed_plus', Media: [{ bsd_name: 'disk4' }] },
          ],
        },
      ],
    },
  ],
  SPSerialATADataType: [
    {
      _items: [{ _name: 'Anchor 16T', bsd_name: 'disk6', spsata_negotiatedlinkspeed: '6 Gigabit', device_serial: '' }],
    },
  ],
};
const ask = (program: string, ...args: string[]): Promise<string> =>
  Promise.resolve(
    program === 'mount'
      ? MOUNTS
      : program === 'system_profiler'
        ? JSON.stringify(PROFILED)
        : program === 'diskutil' && INFO[args[2]!]
          ? build(INFO[args[2]!] as never)
          : '',
  );
const space = (mountPoint: string) =>
  mountPoint === '/Volumes/CARD'
    ? Promise.reject(new Error('EPERM'))
    : Promise.resolve({ bsize: 4096, blocks: 2e8, bavail: 5e7 });

describe('volumes of macOS', () => {
  it('are those that footage could be kept on, with the drive below their containers', async () => {
    const found = await readVolumes(ask, space);
    expect(found.map(({ mountPoint }) => mountPoint)).toEqual([
      '/',
      '/Volumes/Shuttle (one)',
      '/Volumes/Archive',
      '/Volumes/reels',
    ]);
    const [data, shuttle, archive, share] = found;
    // The sealed system and the data over it are one.
    expect(data).toMatchObject({
      label: 'Macintosh HD',
      isSystem: true,
      readOnly: false,
      medium: 'flash',
      filesystem: 'apfs',
      totalBytes: 4096 * 2e8,
      freeBytes: 4096 * 5e7,
      identity: { kind: 'serial', value: 'N-0' },
      driveLabel: 'INTERNAL 1024',
      deviceKey: 'disk0',
      spaceKey: 'disk3',
      discardSupported: true,
      device: { diskNumber: 'disk0' },
      told: { link: 'system_profiler', medium: 'diskutil', counters: 'ioreg' },
    });
    expect(data!.hops.map(({ label }) => label)).toEqual(['PCIe 4.0 ×4']);
    expect(shuttle).toMatchObject({
      label: 'Shuttle (one)',
      identity: { kind: 'serial', value: 'U-4' },
      deviceKey: 'disk4',
    });
    // The nearest tells its speed, and not the hub.
    expect(shuttle!.hops.map(({ label }) => label)).toEqual(['USB 10 Gb/s']);
    expect(archive).toMatchObject({
      medium: 'spinning',
      identity: { kind: 'filesystem', value: 'C-2' },
      driveLabel: 'Anchor 16T',
      discardSupported: null,
    });
    expect(archive!.hops.map(({ label }) => label)).toEqual(['SATA 6 Gb/s']);
    expect(share).toMatchObject({
      medium: 'network',
      identity: { kind: 'share', value: '//jetty/reels' },
      label: 'reels',
      hops: [],
      told: { link: null, counters: null },
    });
  });

  it('are told of as far as its programs answer', async () => {
    const silent = await readVolumes((program) => Promise.resolve(program === 'mount' ? MOUNTS : ''), space);
    expect(silent[1]).toMatchObject({
      medium: 'unknown',
      hops: [],
      identity: { kind: 'mount' },
      driveLabel: 'Shuttle (one)',
      told: { identity: null, medium: null, link: null, counters: null },
    });
    expect(await readVolumes(() => Promise.resolve(''), space)).toEqual([]);
  });
});

it('what takes long is asked once until something is mounted or goes', async () => {
  const asked: string[] = [];
  let mounts = MOUNTS;
  const held = heldUntilMountsChange((program, ...args) => {
    asked.push(program);
    return program === 'mount' ? Promise.resolve(mounts) : ask(program, ...args);
  });
  const times = (program: string) => asked.filter((one) => one === program).length;
  const first = await readVolumes(held, space);
  expect(await readVolumes(held, space)).toEqual(first);
  expect([times('mount'), times('system_profiler')]).toEqual([2, 1]);
  mounts = MOUNTS.split('\n')
    .filter((line) => !line.includes('Archive'))
    .join('\n');
  expect(await readVolumes(held, space)).toHaveLength(first.length - 1);
  expect(times('system_profiler')).toBe(2);
  // What was not answered is not held.
  const before = asked.length;
  expect(await held('diskutil', 'info', '-plist', 'none')).toBe('');
  await held('diskutil', 'info', '-plist', 'none');
  expect(asked.length).toBe(before + 2);
});

describe('what macOS counts and says', () => {
  it('of bytes that a disk moved', () => {
    const registry = [
      { Statistics: { 'Bytes (Read)': 1, 'Bytes (Write)': 2 }, IORegistryEntryChildren: [{ 'BSD Name': 'disk1' }] },
      {
        Statistics: { 'Bytes (Read)': 5e9, 'Bytes (Write)': 7e9 },
        IORegistryEntryChildren: [{ IORegistryEntryChildren: [{ 'BSD Name': 'disk0' }] }],
      },
    ];
    expect(diskBytesIn(registry, 'disk0')).toEqual({ readBytes: 5e9, writeBytes: 7e9 });
    expect(diskBytesIn(registry, 'disk9')).toBeNull();
    expect(diskBytesIn('', 'disk0')).toBeNull();
  });

  it('of its battery', () => {
    const status = (source: string) => `Now drawing from '${source}'\n -InternalBattery-0 (id=1)\t80%; discharging`;
    expect(onBatteryIn(status('Battery Power'))).toBe(true);
    expect(onBatteryIn(status('AC Power'))).toBe(false);
    expect(onBatteryIn("Now drawing from 'AC Power'\n")).toBeNull();
    expect(onBatteryIn('')).toBeNull();
  });
});
