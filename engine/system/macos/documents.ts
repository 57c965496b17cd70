/**
 * What macOS’s own programs answer, by their public descriptions (diskutil(8), system_profiler(8), ioreg(8), mount(8),
 * pmset(1)). Property lists come parsed; anything may be missing in them.
 */

type Document = Readonly<Record<string, unknown>>;

const isDocument = (value: unknown): value is Document =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
const textOf = (document: Document, ...names: string[]): string => {
  for (const name of names) if (typeof document[name] === 'string') return document[name].trim();
  return '';
};
const flagOf = (document: Document, name: string): boolean | null =>
  typeof document[name] === 'boolean' ? document[name] : null;

/** Every document in a tree of documents and lists, parents before their children. */
function* allIn(value: unknown): Generator<Document> {
  if (Array.isArray(value)) for (const one of value) yield* allIn(one);
  else if (isDocument(value)) {
    yield value;
    for (const one of Object.values(value)) yield* allIn(one);
  }
}

/** One line of mount(8): `//anna@jetty/reels on /Volumes/reels (smbfs, nodev, read-only, mounted by anna)`. */
export interface MountLine {
  source: string;
  mountPoint: string;
  filesystem: string;
  options: readonly string[];
}

export const mountsIn = (text: string): MountLine[] =>
  text.split('\n').flatMap((line) => {
    const found = /^(.+?) on (\/.*) \(([^()]*)\)$/.exec(line);
    if (!found) return [];
    const [filesystem = '', ...options] = found[3]!.split(', ');
    return [{ source: found[1]!, mountPoint: found[2]!, filesystem: filesystem.toLowerCase(), options }];
  });

/** What `diskutil info -plist` says of a volume or a disk. */
export interface DiskInfo {
  label: string;
  /** Identifier of the whole disk below, such as disk0: of a volume in a container, that of the container’s store. */
  wholeDisk: string;
  /** Parts of disks that its container lies on. */
  stores: string[];
  container: string;
  volumeId: string;
  solid: boolean | null;
  /** Such as PCI-Express, USB, SATA, Disk Image. */
  bus: string;
  name: string;
  writable: boolean | null;
}

export function diskInfoIn(document: unknown): DiskInfo | null {
  if (!isDocument(document)) return null;
  const stores = [...allIn(document['APFSPhysicalStores'])].map((store) =>
    textOf(store, 'APFSPhysicalStore', 'DeviceIdentifier'),
  );
  return {
    label: textOf(document, 'VolumeName'),
    wholeDisk: textOf(document, 'ParentWholeDisk'),
    stores: stores.filter(Boolean),
    container: textOf(document, 'APFSContainerReference'),
    volumeId: textOf(document, 'VolumeUUID', 'DiskUUID'),
    solid: flagOf(document, 'SolidState'),
    bus: textOf(document, 'BusProtocol'),
    name: textOf(document, 'MediaName', 'IORegistryEntryName'),
    writable: flagOf(document, 'WritableVolume') ?? flagOf(document, 'Writable'),
  };
}

/** The whole disk of a part: disk0 of disk0s2. */
export const wholeOf = (identifier: string): string => /^disk\d+/.exec(identifier)?.[0] ?? identifier;

/** What `system_profiler -json` says of a disk, wherever it stands in its lists. */
export interface ProfiledDisk {
  serial: string;
  model: string;
  discard: boolean | null;
  /** Link as words: `8.0 GT/s x4`, `super_speed`, `6 Gigabit`. */
  nvme: { speed: string; width: string } | null;
  usb: string | null;
  sata: string | null;
}

/** A disk by its identifier; null where the lists do not name it. */
export function profiledIn(lists: unknown, disk: string): ProfiledDisk | null {
  if (!isDocument(lists)) return null;
  for (const [type, list] of Object.entries(lists)) {
    // Of a USB device the disk is listed among its media: what holds it nearest tells its speed.
    const way = wayTo(list, disk);
    if (way === null) continue;
    const near = [...way].reverse();
    const find = (...names: string[]): string => near.map((one) => textOf(one, ...names)).find(Boolean) ?? '';
    const trim = find('spnvme_trim_support', 'spsata_trim_support', 'trim_support');
    return {
      serial: find('device_serial', 'serial_num'),
      model: find('device_model', '_name'),
      discard: trim === '' ? null : /^yes$/i.test(trim),
      nvme: type.includes('NVMe') ? { speed: find('spnvme_linkspeed'), width: find('spnvme_linkwidth') } : null,
      usb: type.includes('USB') ? find('device_speed') : null,
      sata: type.includes('ATA') ? find('spsata_negotiatedlinkspeed', 'spsata_portspeed', 'spsata_linkspeed') : null,
    };
  }
  return null;
}

/** Documents from the top down to the one that names a disk as its own. */
function wayTo(value: unknown, disk: string): Document[] | null {
  if (Array.isArray(value)) {
    for (const one of value) {
      const way = wayTo(one, disk);
      if (way) return way;
    }
    return null;
  }
  if (!isDocument(value)) return null;
  if (value['bsd_name'] === disk) return [value];
  for (const one of Object.values(value)) {
    const way = wayTo(one, disk);
    if (way) return [value, ...way];
  }
  return null;
}

/** Bytes that a disk moved, of `ioreg -a -r -c IOBlockStorageDriver -l`; null where it is not in it. */
export function diskBytesIn(registry: unknown, disk: string): { readBytes: number; writeBytes: number } | null {
  for (const driver of Array.isArray(registry) ? registry : [registry]) {
    if (!isDocument(driver) || !isDocument(driver['Statistics'])) continue;
    if (![...allIn(driver['IORegistryEntryChildren'])].some((one) => one['BSD Name'] === disk)) continue;
    const { 'Bytes (Read)': read, 'Bytes (Write)': write } = driver['Statistics'];
    return { readBytes: Number(read), writeBytes: Number(write) };
  }
  return null;
}

/** Whether `pmset -g batt` says that it runs on its battery; null where it names none. */
export function onBatteryIn(text: string): boolean | null {
  if (!/InternalBattery/.test(text)) return null;
  if (/drawing from 'Battery Power'/.test(text)) return true;
  return /drawing from '(?:AC|UPS) Power'/.test(text) ? false : null;
}
