import type { Identity } from '#core/4-runs/run/drive-and-volume.ts';
import type { Medium } from '#core/2-trade/drives/medium.ts';
import { SMALLEST_VOLUME_BYTES } from '#engine/system/filesystems.ts';
import type { SystemVolume } from '#engine/system/system.ts';
import {
  celsiusIn,
  describedIn,
  discardIn,
  diskBytesIn,
  diskNumbersIn,
  mediumIn,
  type DeviceDescription,
} from '#engine/system/windows/answers.ts';
import {
  INVALID_HANDLE,
  TEXT_LETTERS,
  askDevice,
  callPatiently,
  newText,
  textIn,
  textsIn,
  win32,
  type Win32,
} from '#engine/system/windows/win32.ts';

/** Codes of DeviceIoControl (winioctl.h). */
const VOLUME_DISK_EXTENTS = 0x560000;
const QUERY_PROPERTY = 0x2d1400;
const DISK_PERFORMANCE = 0x70020;
/** STORAGE_PROPERTY_ID (ntddstor.h). */
const DEVICE_PROPERTY = 0;
const SEEK_PENALTY_PROPERTY = 7;
const TRIM_PROPERTY = 8;
const TEMPERATURE_PROPERTY = 52;
const MOST_ANSWER_BYTES = 4096;
const READ_ONLY_VOLUME = 0x80000;

/** What GetDriveTypeW answers. */
const DRIVE_TYPES = { 2: 'removable', 3: 'fixed', 4: 'remote', 6: 'memory' } as const;

/** Drive letters, folders that volumes are mounted in, and shares that have a letter. */
export async function volumes(): Promise<SystemVolume[]> {
  const api = win32();
  if (api === null) return [];
  const letters = Number(api.GetLogicalDrives());
  const roots = Array.from({ length: 26 }, (_, at) => at)
    .filter((at) => ((letters >>> at) & 1) === 1)
    .map((at) => `${String.fromCharCode(65 + at)}:\\`);
  const places = [...roots, ...mountFolders(api).filter((folder) => !roots.includes(folder))];
  const windowsFolder = newText();
  api.GetWindowsDirectoryW(windowsFolder, TEXT_LETTERS);
  const systemRoot = textIn(windowsFolder).slice(0, 3).toUpperCase();
  const found = await Promise.all(places.map((place) => describePlace(api, place, systemRoot)));
  return found.filter((volume) => volume !== null);
}

/** Folders that volumes are mounted in, each with its last separator. */
function mountFolders(api: Win32): string[] {
  const name = newText();
  const search = Number(api.FindFirstVolumeW(name, TEXT_LETTERS));
  if (search === INVALID_HANDLE) return [];
  const folders: string[] = [];
  try {
    do {
      const paths = newText();
      if (Number(api.GetVolumePathNamesForVolumeNameW(textIn(name), paths, TEXT_LETTERS, Buffer.alloc(4))) !== 0)
        folders.push(...textsIn(paths));
      name.fill(0);
    } while (Number(api.FindNextVolumeW(search, name, TEXT_LETTERS)) !== 0);
  } finally {
    api.FindVolumeClose(search);
  }
  return folders;
}

async function describePlace(api: Win32, root: string, systemRoot: string): Promise<SystemVolume | null> {
  const type = DRIVE_TYPES[Number(api.GetDriveTypeW(root)) as keyof typeof DRIVE_TYPES] as
    (typeof DRIVE_TYPES)[keyof typeof DRIVE_TYPES] | undefined;
  if (type === undefined) return null;
  const [name, filesystem] = [newText(), newText()];
  const [serial, longest, flags] = [Buffer.alloc(4), Buffer.alloc(4), Buffer.alloc(4)];
  // A card reader without a card, or a share that does not answer.
  const values = [name, TEXT_LETTERS, serial, longest, flags, filesystem, TEXT_LETTERS];
  if ((await callPatiently(api.GetVolumeInformationW, root, ...values)) === 0) return null;
  const [available, total, free] = [Buffer.alloc(8), Buffer.alloc(8), Buffer.alloc(8)];
  if ((await callPatiently(api.GetDiskFreeSpaceExW, root, available, total, free)) === 0) return null;
  const totalBytes = Number(total.readBigUInt64LE(0));
  if (totalBytes < SMALLEST_VOLUME_BYTES) return null;
  const share = type === 'remote' ? shareOf(api, root) : null;
  const volume = newText();
  const volumeName =
    Number(api.GetVolumeNameForVolumeMountPointW(root, volume, TEXT_LETTERS)) === 0 ? root : textIn(volume);
  // Devices are opened without the separator at their end.
  const device = type === 'remote' ? null : `\\\\.\\${root.slice(0, 2)}`;
  const disk = device === null ? null : diskOf(root.length === 3 ? device : volumeName.replace(/\\$/, ''));
  const label = textIn(name) || (root.toUpperCase() === systemRoot ? 'System disk' : root);
  const number = serial.readUInt32LE(0);
  const identity: Identity =
    share !== null
      ? { kind: 'share', value: share }
      : disk?.description?.serial
        ? { kind: 'serial', value: disk.description.serial }
        : number !== 0
          ? { kind: 'filesystem', value: number.toString(16).toUpperCase().padStart(8, '0') }
          : { kind: 'mount', value: volumeName };
  const medium: Medium = type === 'remote' ? 'network' : type === 'memory' ? 'memory' : (disk?.medium ?? 'unknown');
  const counted = disk?.counts ? disk.path : null;
  return {
    source: share ?? volumeName,
    mountPoint: root,
    label,
    filesystem: textIn(filesystem).toLowerCase(),
    totalBytes,
    freeBytes: Number(available.readBigUInt64LE(0)),
    readOnly: (flags.readUInt32LE(0) & READ_ONLY_VOLUME) !== 0,
    isSystem: root.toUpperCase() === systemRoot,
    medium,
    // Windows tells the bus and not its speed: what a cable lets through stays unknown.
    hops: [],
    identity,
    driveLabel: disk?.description?.name || share || label,
    deviceKey: share ?? disk?.path ?? volumeName,
    spaceKey: share ?? volumeName,
    discardSupported: disk?.discardSupported ?? null,
    device: { deviceNumber: counted, diskNumber: counted, diskFolder: disk?.path ?? null },
    told: {
      identity: IDENTITY_TOLD[identity.kind] ?? null,
      medium: medium === 'unknown' ? null : disk?.medium ? 'IOCTL_STORAGE_QUERY_PROPERTY' : 'GetDriveType',
      link: null,
      counters: counted === null ? null : 'IOCTL_DISK_PERFORMANCE',
    },
  };
}

const IDENTITY_TOLD: Partial<Record<Identity['kind'], string>> = {
  serial: 'its serial number (IOCTL_STORAGE_QUERY_PROPERTY)',
  filesystem: 'GetVolumeInformation',
  share: 'WNetGetConnection',
};

/** The share that a letter stands for. */
function shareOf(api: Win32, root: string): string | null {
  const [name, length] = [newText(), Buffer.alloc(4)];
  length.writeUInt32LE(TEXT_LETTERS);
  return Number(api.WNetGetConnectionW(root.slice(0, 2), name, length)) === 0 ? textIn(name) : null;
}

interface Disk {
  path: string;
  description: DeviceDescription | null;
  medium: Medium | null;
  discardSupported: boolean | null;
  counts: boolean;
}

/** The physical disk that a volume lies on; null where it lies on several, or Windows does not say. */
function diskOf(volumeDevice: string): Disk | null {
  const extents = askDevice(volumeDevice, VOLUME_DISK_EXTENTS, null, MOST_ANSWER_BYTES);
  const [number, another] = (extents && diskNumbersIn(extents)) ?? [];
  if (number === undefined || another !== undefined) return null;
  const path = `\\\\.\\PhysicalDrive${number}`;
  const property = <T>(id: number, read: (answer: Buffer) => T | null): T | null => {
    const answer = queryProperty(path, id);
    return answer && read(answer);
  };
  return {
    path,
    description: property(DEVICE_PROPERTY, describedIn),
    medium: property(SEEK_PENALTY_PROPERTY, mediumIn),
    discardSupported: property(TRIM_PROPERTY, discardIn),
    counts: diskBytes(path) !== null,
  };
}

/** STORAGE_PROPERTY_QUERY of a device: which property, and that it is asked for as it stands. */
function queryProperty(path: string, id: number): Buffer | null {
  const query = Buffer.alloc(12);
  query.writeUInt32LE(id, 0);
  return askDevice(path, QUERY_PROPERTY, query, MOST_ANSWER_BYTES);
}

export function diskBytes(path: string | null) {
  const answer = path === null ? null : askDevice(path, DISK_PERFORMANCE, null, 256);
  return answer && diskBytesIn(answer);
}

export function celsiusOf(path: string): number | null {
  const answer = queryProperty(path, TEMPERATURE_PROPERTY);
  return answer && celsiusIn(answer);
}
