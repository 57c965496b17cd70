import { existsSync, readFileSync, readdirSync, readlinkSync, realpathSync, statSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { hopOf, type Hop } from '#core/2-trade/links/connection.ts';
import type { Medium } from '#core/2-trade/drives/medium.ts';
import { isMemoryFilesystem, mountOf } from '#engine/system/filesystems.ts';
import { PCIE_GENERATION_BY_SPEED } from '#engine/system/link-speeds.ts';
import { filesystemIdOf } from '#engine/system/linux/filesystem-id.ts';
import { parseMounts } from '#engine/system/linux/mounts.ts';
import { UNKNOWN_DEVICE, type SystemDevice } from '#engine/system/system.ts';

/** What the kernel tells of the block device behind a mount; empty where it does not. */
export interface DeviceFacts extends SystemDevice {
  /** Name of the whole disk. */
  diskName: string;
  medium: Medium;
  serial: string;
  wwn: string;
  filesystemId: string;
  model: string;
  hops: Hop[];
  discardSupported: boolean | null;
}

const NO_FACTS: DeviceFacts = {
  ...UNKNOWN_DEVICE,
  diskName: '',
  medium: 'unknown',
  serial: '',
  wwn: '',
  filesystemId: '',
  model: '',
  hops: [],
  discardSupported: null,
};

function readText(...parts: string[]): string {
  try {
    return readFileSync(join(...parts), 'utf8').trim();
  } catch {
    return '';
  }
}

/** `MAJ:MIN` of a device file, which holds for btrfs too, whose mounts have a number of no device. */
function deviceNumberOf(source: string): string | null {
  try {
    const { rdev } = statSync(source);
    // The kernel's encoding of a device number in a stat result (glibc gnu_dev_major/minor).
    const major = ((rdev >> 8) & 0xfff) | (Math.floor(rdev / 2 ** 32) & ~0xfff);
    const minor = (rdev & 0xff) | (Math.floor(rdev / 2 ** 12) & ~0xff);
    return rdev > 0 ? `${major}:${minor}` : null;
  } catch {
    return null;
  }
}

/** Facts of the device file `source`, such as /dev/nvme0n1p2; all unknown when it is none. */
export function deviceFactsOf(source: string): DeviceFacts {
  const deviceNumber = source.startsWith('/dev/') ? deviceNumberOf(source) : null;
  if (deviceNumber === null) return NO_FACTS;
  const link = `/sys/dev/block/${deviceNumber}`;
  if (!existsSync(link)) return { ...NO_FACTS, deviceNumber };
  const folder = realpathSync(link);
  const diskFolder = existsSync(join(folder, 'partition')) ? dirname(folder) : folder;
  const physical = physicalDisk(diskFolder);
  return {
    deviceNumber,
    diskName: basename(physical),
    diskNumber: readText(diskFolder, 'dev') || null,
    diskFolder: physical,
    medium: mediumOf(physical),
    serial: readText(physical, 'device', 'serial') || readText(physical, 'serial'),
    wwn: readText(physical, 'wwid') || readText(physical, 'device', 'wwid'),
    filesystemId: filesystemIdOf(source),
    model: [readText(physical, 'device', 'vendor'), readText(physical, 'device', 'model')].filter(isName).join(' '),
    hops: hopsOf(physical),
    discardSupported: Number(readText(diskFolder, 'queue', 'discard_max_bytes') || 0) > 0,
  };
}

/** The links to a device as they are now. */
export const linksNow = ({ diskFolder }: SystemDevice): Hop[] => (diskFolder === null ? [] : hopsOf(diskFolder));

/** Vendor fields that name the bus and not a maker say nothing to a person. */
const isName = (text: string): boolean => text !== '' && text !== 'ATA' && !/^0x/.test(text);

/** Mapped devices (encryption, logical volumes) with exactly one disk below stand for that disk. */
function physicalDisk(diskFolder: string): string {
  try {
    const below = readdirSync(join(diskFolder, 'slaves'));
    if (below.length !== 1) return diskFolder;
    const folder = realpathSync(join(diskFolder, 'slaves', below[0]!));
    return physicalDisk(existsSync(join(folder, 'partition')) ? dirname(folder) : folder);
  } catch {
    return diskFolder;
  }
}

function mediumOf(diskFolder: string): Medium {
  if (/\/(ram|zram)\d+$/.test(diskFolder)) return 'memory';
  const image = /\/loop\d+$/.test(diskFolder) ? readText(diskFolder, 'loop', 'backing_file') : '';
  if (image !== '') return mediumOfImage(image);
  // A virtual disk passes on the default of its driver and not what lies below.
  if (/\/x?vd[a-z]+$/.test(diskFolder)) return 'unknown';
  const rotational = readText(diskFolder, 'queue', 'rotational');
  return rotational === '1' ? 'spinning' : rotational === '0' ? 'flash' : 'unknown';
}

/** A device that is a file on another volume is what that volume is. */
function mediumOfImage(image: string): Medium {
  const mount = mountOf(image, parseMounts(readText('/proc/self/mountinfo')));
  if (!mount) return 'unknown';
  return isMemoryFilesystem(mount.filesystem) ? 'memory' : deviceFactsOf(mount.source).medium;
}

const USB_LINK_BY_MEGABITS: Record<string, string> = {
  '480': 'usb-480',
  '5000': 'usb-5',
  '10000': 'usb-10',
  '20000': 'usb-20',
};
const SATA_LINK_BY_SPEED: Record<string, string> = { '3.0 Gbps': 'sata-3', '6.0 Gbps': 'sata-6' };

/** The links between a disk and the machine, as far as /sys tells them, medium first. */
function hopsOf(diskFolder: string): Hop[] {
  const hops: (Hop | undefined)[] = [];
  for (
    let folder = diskFolder;
    folder.startsWith('/sys/devices/') && folder !== '/sys/devices';
    folder = dirname(folder)
  ) {
    const usb = usbHop(folder, hops.length > 0);
    if (usb) hops.push(usb);
    if (/^ata\d+$/.test(basename(folder))) hops.push(sataHop(folder));
    if (/^nvme\d+$/.test(basename(folder))) {
      hops.push(pcieHop(join(folder, 'device')));
      break;
    }
  }
  return hops.filter(isHop);
}

const isHop = (hop: Hop | undefined): hop is Hop => hop !== undefined;

/** A USB device, or a hub on the way to it, which others may share. The root hub is the machine itself. */
function usbHop(folder: string, isHub: boolean): Hop | undefined {
  const name = basename(folder);
  const link = USB_LINK_BY_MEGABITS[existsSync(join(folder, 'idVendor')) ? readText(folder, 'speed') : ''];
  const hop = link === undefined || name.startsWith('usb') ? undefined : hopOf(link);
  return hop && { ...hop, label: isHub ? `${hop.label}, hub` : hop.label, at: `USB ${name}` };
}

function sataHop(ataFolder: string): Hop | undefined {
  const port = basename(ataFolder).slice(3);
  const speed = readText(`/sys/class/ata_link/link${port}/sata_spd`);
  return hopOf(SATA_LINK_BY_SPEED[speed] ?? '');
}

function pcieHop(pciFolder: string): Hop | undefined {
  const link = (which: 'current' | 'max') => {
    const speed = /^([\d.]+) GT\/s/.exec(readText(pciFolder, `${which}_link_speed`))?.[1] ?? '';
    return { id: `pcie-${PCIE_GENERATION_BY_SPEED[speed]}`, lanes: Number(readText(pciFolder, `${which}_link_width`)) };
  };
  const [current, most] = [link('current'), link('max')];
  return current.lanes > 0 ? hopOf(current.id, current.lanes, most.lanes || current.lanes, most.id) : undefined;
}

/** The network link towards a share, where the machine has just one that is up. */
export function networkHops(): Hop[] {
  try {
    const [port, another] = readdirSync('/sys/class/net')
      .filter((name) => name !== 'lo' && readText('/sys/class/net', name, 'operstate') === 'up')
      .filter((name) => readlinkSync(join('/sys/class/net', name)).includes('/pci'));
    if (port === undefined || another !== undefined) return [];
    const hop = hopOf(`ethernet-${Number(readText('/sys/class/net', port, 'speed')) / 1000}`);
    // Every share goes over this port.
    return hop ? [{ ...hop, at: `network port ${port}` }] : [];
  } catch {
    return [];
  }
}
