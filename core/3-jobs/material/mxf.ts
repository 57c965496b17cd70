import type { Clip, Stop } from '#core/3-jobs/material/clip.ts';
import { frameRateNear, materialRates, type MaterialSample } from '#core/3-jobs/material/sample-rates.ts';
import { badInput } from '#core/1-ground/problem.ts';

/**
 * Sizes of the edit units of an MXF file (SMPTE ST 377-1), from its index tables; where it has none, from the lengths of
 * its essence elements. Nothing of the essence itself is read. Operational patterns with one essence container are:
 * OP1a, and OP-Atom with one track.
 */

/** Bytes of a file from one place to another; none where it has ended before. */
export type ReadBytes = (start: number, end: number) => Promise<Uint8Array>;

interface MxfFile {
  read: ReadBytes;
  sizeBytes: number;
  name: string;
  signal?: Stop | undefined;
}

/** Before its first partition pack a file may begin with something else, up to this. */
const MOST_RUN_IN_BYTES = 65_536;
/** Header metadata and index tables of real files are far smaller. */
const MOST_SET_BYTES = 256e6;
const MOST_PARTITIONS = 100_000;
const MOST_UNITS = 4_000_000;
/** A key and the longest length that is written. */
const LONGEST_TAG = 16 + 9;

const bytesOf = (text: string): readonly number[] => text.split(' ').map((byte) => Number.parseInt(byte, 16));
const PARTITION = bytesOf('06 0e 2b 34 02 05 01 01 0d 01 02 01 01');
const RANDOM_INDEX = bytesOf('06 0e 2b 34 02 05 01 01 0d 01 02 01 01 11');
const INDEX_SEGMENT = bytesOf('06 0e 2b 34 02 53 01 01 0d 01 02 01 01 10');
const LOCAL_SET = bytesOf('06 0e 2b 34 02 53 01 01 0d 01 01 01 01 01');

/** Registered versions of keys differ in their eighth byte. */
const VERSION_BYTE = 7;
const isKey = (bytes: Uint8Array, at: number, key: readonly number[]): boolean =>
  key.every((byte, index) => index === VERSION_BYTE || bytes[at + index] === byte);

/** Kinds of partition packs: header, body, footer. */
const isPartition = (bytes: Uint8Array, at = 0): boolean =>
  isKey(bytes, at, PARTITION) && bytes[at + 13]! >= 2 && bytes[at + 13]! <= 4;

/** Where the first partition pack begins; null where there is none. */
export function mxfBegin(head: Uint8Array): number | null {
  for (let at = 0; at + 16 <= head.length && at <= MOST_RUN_IN_BYTES; at += 1) {
    if (head[at] === 0x06 && isPartition(head, at)) return at;
  }
  return null;
}

/** A key, its length, and where its value lies. */
interface Tag {
  at: number;
  key: Uint8Array;
  valueAt: number;
  end: number;
}

const viewOf = (bytes: Uint8Array): DataView => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
const bigAt = (view: DataView, at: number): number => Number(view.getBigUint64(at));

/** The tag at a place of some bytes; null where they end before it does. @param at place in the file of the first byte */
function tagIn(bytes: Uint8Array, from: number, at: number): Tag | null {
  if (from + 17 > bytes.length) return null;
  const first = bytes[from + 16]!;
  let length = first;
  let valueFrom = from + 17;
  if (first >= 0x80) {
    const count = first & 0x7f;
    if (count === 0 || count > 8 || valueFrom + count > bytes.length) return null;
    length = 0;
    for (let index = 0; index < count; index += 1) length = length * 256 + bytes[valueFrom + index]!;
    valueFrom += count;
  }
  return { at: at + from, key: bytes.subarray(from, from + 16), valueAt: at + valueFrom, end: at + valueFrom + length };
}

interface Partition {
  at: number;
  /** Where what follows its pack, its metadata and its index begins. */
  essenceAt: number;
  headerAt: number;
  headerBytes: number;
  indexBytes: number;
  footerAt: number;
  previousAt: number;
  bodySid: number;
  /** Of the essence container, bytes before this partition. */
  bodyOffset: number;
}

/** One stretch of an index table. */
interface IndexSegment {
  bodySid: number;
  start: number;
  duration: number;
  unitBytes: number;
  /** Where edit units begin within the essence container. */
  offsets: number[];
}

interface Described {
  coding: string | null;
  width: number;
  height: number;
  unitsPerSecond: number | null;
  durationUnits: number;
}

/** @throws Problem `bad-input` with what is missing or broken */
export async function readMxf(file: MxfFile, begin: number): Promise<Clip> {
  const { name, sizeBytes } = file;
  const fault = (text: string) => badInput('clip', `${name}: ${text}`);
  const partitions = await partitionsOf(file, begin);
  const described = await describedIn(file, partitions);
  const sids = [...new Set(partitions.filter((one) => one.bodySid > 0).map((one) => one.bodySid))];
  if (sids.length === 0) {
    throw fault('is an MXF file without essence in it: picture and sound lie in other files. Drop those.');
  }
  if (sids.length > 1) {
    throw fault(
      'is an MXF file with several essence containers. Files with one (OP1a, or OP-Atom) are read: export it so.',
    );
  }
  const { unitsPerSecond } = described;
  if (unitsPerSecond === null)
    throw fault('is an MXF file that does not tell its edit rate, or its beginning is broken.');
  const essence = essenceOf(partitions, sids[0]!, sizeBytes);
  const index = await indexOf(file, partitions, sids[0]!);
  const sizes =
    sizesFrom(index, essence.bytes) ?? (await walkedSizes(file, essence.stretches, described.durationUnits));
  if (sizes.length === 0)
    throw fault('is an MXF file whose essence is missing: it was cut off, or is still being written.');
  const samples = sizes.map((bytes, unit): MaterialSample => ({ atSeconds: unit / unitsPerSecond, bytes }));
  const isPicture = described.width > 0;
  const rates = materialRates(samples, sizes.length / unitsPerSecond, isPicture ? samples : null);
  const size = isPicture ? ` ${described.width}×${described.height}` : '';
  return {
    description: `${described.coding ?? (isPicture ? 'coded picture' : 'sound')}${size}, MXF`,
    rates: { ...rates, frameRate: frameRateNear(unitsPerSecond) },
    frames: isPicture ? samples : [],
  };
}

async function partitionAt({ read }: MxfFile, at: number): Promise<Partition | null> {
  const bytes = await read(at, at + LONGEST_TAG + 88);
  if (bytes.length < 17 || !isPartition(bytes)) return null;
  const tag = tagIn(bytes, 0, at);
  if (!tag || tag.valueAt - at + 64 > bytes.length) return null;
  const view = viewOf(bytes.subarray(tag.valueAt - at));
  const [headerBytes, indexBytes] = [bigAt(view, 32), bigAt(view, 40)];
  // What fills up to the grid stands between a pack and what follows, and is counted with neither.
  const headerAt = await behindFill(read, tag.end);
  return {
    at,
    headerAt,
    headerBytes,
    indexBytes,
    essenceAt: headerAt + headerBytes + indexBytes,
    previousAt: bigAt(view, 16),
    footerAt: bigAt(view, 24),
    bodyOffset: bigAt(view, 52),
    bodySid: view.getUint32(60),
  };
}

const FILL = bytesOf('06 0e 2b 34 01 01 01 01 03 01 02 10 01');
async function behindFill(read: ReadBytes, at: number): Promise<number> {
  const bytes = await read(at, at + LONGEST_TAG);
  if (!isKey(bytes, 0, FILL)) return at;
  return tagIn(bytes, 0, at)?.end ?? at;
}

/** All partitions in their order: by the list at the end, by the chain from the footer, or by going through the file. */
async function partitionsOf(file: MxfFile, begin: number): Promise<Partition[]> {
  const first = await partitionAt(file, begin);
  if (!first) throw badInput('clip', `${file.name}: is an MXF file whose beginning is broken.`);
  const listed = await listedPartitions(file, begin);
  if (listed) return listed;
  const chained = first.footerAt > 0 ? await chainedPartitions(file, begin, first.footerAt) : null;
  return chained ?? (await walkedPartitions(file, begin));
}

async function allAt(file: MxfFile, places: readonly number[]): Promise<Partition[] | null> {
  const found: Partition[] = [];
  for (const at of places) {
    file.signal?.throwIfAborted();
    const partition = await partitionAt(file, at);
    if (!partition) return null;
    found.push(partition);
  }
  return found;
}

async function listedPartitions(file: MxfFile, begin: number): Promise<Partition[] | null> {
  const { read, sizeBytes } = file;
  const end = await read(sizeBytes - 4, sizeBytes);
  if (end.length < 4) return null;
  const length = viewOf(end).getUint32(0);
  if (length < 17 + 12 + 4 || length > Math.min(sizeBytes, 25 + 12 * MOST_PARTITIONS)) return null;
  const bytes = await read(sizeBytes - length, sizeBytes);
  if (!isKey(bytes, 0, RANDOM_INDEX)) return null;
  const tag = tagIn(bytes, 0, sizeBytes - length);
  if (!tag) return null;
  const view = viewOf(bytes);
  const places: number[] = [];
  for (let at = tag.valueAt - (sizeBytes - length); at + 12 <= bytes.length - 4; at += 12) {
    places.push(begin + bigAt(view, at + 4));
  }
  return allAt(file, places);
}

async function chainedPartitions(file: MxfFile, begin: number, footerAt: number): Promise<Partition[] | null> {
  const places: number[] = [];
  let at = footerAt;
  for (;;) {
    if (places.length > MOST_PARTITIONS || places.includes(begin + at)) return null;
    places.unshift(begin + at);
    if (at === 0) break;
    const partition = await partitionAt(file, begin + at);
    if (!partition) return null;
    at = partition.previousAt;
  }
  return allAt(file, places);
}

async function walkedPartitions(file: MxfFile, begin: number): Promise<Partition[]> {
  const found: Partition[] = [];
  for await (const { key, at } of tagsIn(file, begin, file.sizeBytes)) {
    const partition = isPartition(key) ? await partitionAt(file, at) : null;
    if (partition) found.push(partition);
  }
  return found;
}

/** Tags one after the other, their values passed over; ends where they do. */
async function* tagsIn({ read, signal }: MxfFile, from: number, to: number): AsyncGenerator<Tag> {
  let at = from;
  while (at < to) {
    signal?.throwIfAborted();
    const tag = tagIn(await read(at, at + LONGEST_TAG), 0, at);
    if (!tag || tag.end <= at) return;
    yield tag;
    at = tag.end;
  }
}

/** Descriptors of the picture, by the last byte but one of their keys: generic, CDCI, RGBA, MPEG. */
const PICTURE_DESCRIPTORS = [0x27, 0x28, 0x29, 0x51];
const TIMELINE_TRACK = 0x3b;
/** Tags of local sets (SMPTE ST 377-1). */
const ITEM = {
  sampleRate: 0x3001,
  containerDuration: 0x3002,
  coding: 0x3201,
  storedHeight: 0x3202,
  storedWidth: 0x3203,
  frameLayout: 0x320c,
  editRate: 0x4b01,
} as const;
/** Fields of a frame that are stored one after the other: each has half of its height. */
const SEPARATE_FIELDS = 1;

/** What the metadata tells; of several copies the last, which is the one that was closed. */
async function describedIn(file: MxfFile, partitions: readonly Partition[]): Promise<Described> {
  const described: Described = { coding: null, width: 0, height: 0, unitsPerSecond: null, durationUnits: 0 };
  let trackRate: number | null = null;
  const copies = partitions.filter(({ headerBytes }) => headerBytes > 0);
  for (const { headerAt, headerBytes } of new Set([copies[0], copies.at(-1)].filter((one) => one !== undefined))) {
    const bytes = await setBytes(file, headerAt, headerBytes);
    for (const { key, value } of setsIn(bytes)) {
      const kind = key[14]!;
      const items = itemsOf(value);
      if (kind === TIMELINE_TRACK) trackRate = rationalOf(items.get(ITEM.editRate)) ?? trackRate;
      if (!PICTURE_DESCRIPTORS.includes(kind)) continue;
      const layout = items.get(ITEM.frameLayout)?.getUint8(0);
      described.coding = codingOf(items.get(ITEM.coding)) ?? described.coding;
      described.width = wholeOf(items.get(ITEM.storedWidth)) ?? described.width;
      described.height =
        (wholeOf(items.get(ITEM.storedHeight)) ?? described.height) * (layout === SEPARATE_FIELDS ? 2 : 1);
      described.unitsPerSecond = rationalOf(items.get(ITEM.sampleRate)) ?? described.unitsPerSecond;
      const duration = items.get(ITEM.containerDuration);
      if (duration && duration.byteLength >= 8) described.durationUnits = Math.max(0, Number(duration.getBigInt64(0)));
    }
  }
  return { ...described, unitsPerSecond: described.unitsPerSecond ?? trackRate };
}

async function setBytes({ read, name }: MxfFile, at: number, bytes: number): Promise<Uint8Array> {
  if (bytes > MOST_SET_BYTES) throw badInput('clip', `${name}: is an MXF file whose beginning is broken.`);
  return read(at, at + bytes);
}

function* setsIn(
  bytes: Uint8Array,
  keyed: readonly number[] = LOCAL_SET,
): Generator<{ key: Uint8Array; value: DataView }> {
  for (let from = 0; ;) {
    const tag = tagIn(bytes, from, 0);
    if (!tag || tag.end > bytes.length || tag.end <= from) return;
    if (isKey(tag.key, 0, keyed)) yield { key: tag.key, value: viewOf(bytes.subarray(tag.valueAt, tag.end)) };
    from = tag.end;
  }
}

/** Items of a local set with tags and lengths of two bytes. */
function itemsOf(value: DataView): Map<number, DataView> {
  const items = new Map<number, DataView>();
  for (let at = 0; at + 4 <= value.byteLength;) {
    const length = value.getUint16(at + 2);
    if (at + 4 + length > value.byteLength) break;
    items.set(value.getUint16(at), new DataView(value.buffer, value.byteOffset + at + 4, length));
    at += 4 + length;
  }
  return items;
}

const wholeOf = (value: DataView | undefined): number | null =>
  value && value.byteLength >= 4 ? value.getUint32(0) : null;

function rationalOf(value: DataView | undefined): number | null {
  if (!value || value.byteLength < 8) return null;
  const [numerator, denominator] = [value.getInt32(0), value.getInt32(4)];
  return numerator > 0 && denominator > 0 ? numerator / denominator : null;
}

/** How the picture is coded, by the registered labels of SMPTE ST 2088 and what extends it. */
function codingOf(label: DataView | undefined): string | null {
  if (!label || label.byteLength < 16 || label.getUint32(8) >>> 8 !== 0x040102) return null;
  if (label.getUint8(11) === 1) return 'uncompressed';
  const [family, codec] = [label.getUint8(12), label.getUint8(13)];
  if (family === 0x71) return 'VC-3';
  if (family === 0x02) return 'DV';
  if (family === 0x03) return codec === 0x01 ? 'JPEG 2000' : codec === 0x06 ? 'RDD 36' : null;
  if (family !== 0x01) return null;
  return codec >= 0x30 && codec < 0x40 ? 'AVC' : codec === 0x20 ? 'MPEG-4 Visual' : codec < 0x20 ? 'MPEG-2' : null;
}

/** Where the essence container lies, and its bytes. */
function essenceOf(partitions: readonly Partition[], bodySid: number, sizeBytes: number) {
  const stretches: { from: number; to: number }[] = [];
  for (const [number, partition] of partitions.entries()) {
    if (partition.bodySid !== bodySid) continue;
    const to = Math.min(sizeBytes, partitions[number + 1]?.at ?? sizeBytes);
    if (to > partition.essenceAt) stretches.push({ from: partition.essenceAt, to });
  }
  return { stretches, bytes: stretches.reduce((sum, { from, to }) => sum + to - from, 0) };
}

const INDEX = { start: 0x3f0c, duration: 0x3f0d, unitBytes: 0x3f05, bodySid: 0x3f07, entries: 0x3f0a } as const;

/** Index segments of an essence container in their order, each stretch once: the last copy of it. */
async function indexOf(file: MxfFile, partitions: readonly Partition[], bodySid: number): Promise<IndexSegment[]> {
  const segments = new Map<number, IndexSegment>();
  for (const { headerAt, headerBytes, indexBytes } of partitions) {
    if (indexBytes === 0) continue;
    file.signal?.throwIfAborted();
    const bytes = await setBytes(file, headerAt + headerBytes, indexBytes);
    for (const { value } of setsIn(bytes, INDEX_SEGMENT)) {
      const segment = segmentOf(itemsOf(value));
      if (segment.bodySid === bodySid) segments.set(segment.start, segment);
    }
  }
  return [...segments.values()].sort((a, b) => a.start - b.start);
}

function segmentOf(items: Map<number, DataView>): IndexSegment {
  const long = (tag: number): number => {
    const value = items.get(tag);
    return value && value.byteLength >= 8 ? Number(value.getBigInt64(0)) : 0;
  };
  const offsets: number[] = [];
  const entries = items.get(INDEX.entries);
  if (entries && entries.byteLength >= 8) {
    const [count, size] = [entries.getUint32(0), entries.getUint32(4)];
    // An entry: temporal offset, key frame offset, flags, and where the unit begins.
    for (let entry = 0; size >= 11 && entry < count && 8 + (entry + 1) * size <= entries.byteLength; entry += 1) {
      offsets.push(bigAt(entries, 8 + entry * size + 3));
    }
  }
  return {
    bodySid: wholeOf(items.get(INDEX.bodySid)) ?? 0,
    start: long(INDEX.start),
    duration: long(INDEX.duration),
    unitBytes: wholeOf(items.get(INDEX.unitBytes)) ?? 0,
    offsets,
  };
}

/** Bytes of each edit unit by the index; null where that does not tell of all. */
function sizesFrom(segments: readonly IndexSegment[], essenceBytes: number): number[] | null {
  const offsets: number[] = [];
  const sizes: number[] = [];
  for (const { start, duration, unitBytes, offsets: own } of segments) {
    if (unitBytes > 0) {
      const units = duration > 0 ? duration : Math.floor(essenceBytes / unitBytes) - sizes.length;
      if (start !== sizes.length || offsets.length > 0 || units > MOST_UNITS) return null;
      for (let unit = 0; unit < units; unit += 1) sizes.push(unitBytes);
      continue;
    }
    if (start !== offsets.length || sizes.length > 0 || own.length < duration) return null;
    for (const offset of own) offsets.push(offset);
  }
  if (sizes.length > 0) return sizes.length * sizes[0]! <= essenceBytes ? sizes : null;
  if (offsets.length === 0 || offsets[0] !== 0) return null;
  const ends = [...offsets.slice(1), essenceBytes];
  const found = offsets.map((offset, unit) => ends[unit]! - offset);
  return found.every((bytes) => bytes > 0) ? found : null;
}

/**
 * Bytes of each edit unit by the lengths of its elements: a unit begins with what the first begins with. One element
 * that holds all of it is parted evenly.
 */
async function walkedSizes(
  file: MxfFile,
  stretches: readonly { from: number; to: number }[],
  durationUnits: number,
): Promise<number[]> {
  const sizes: number[] = [];
  let first: Uint8Array | null = null;
  for (const { from, to } of stretches) {
    for await (const { key, at, end } of tagsIn(file, from, to)) {
      if (isPartition(key) || isKey(key, 0, RANDOM_INDEX) || end > file.sizeBytes) break;
      if (first === null && !isKey(key, 0, FILL)) first = key.slice();
      if (first !== null && key.every((byte, index) => byte === first![index])) sizes.push(0);
      if (sizes.length > MOST_UNITS) throw badInput('clip', `${file.name}: has more than ${MOST_UNITS} frames.`);
      if (sizes.length > 0) sizes[sizes.length - 1]! += end - at;
    }
  }
  if (sizes.length !== 1 || durationUnits <= 1 || durationUnits > MOST_UNITS) return sizes;
  return new Array<number>(durationUnits).fill(sizes[0]! / durationUnits);
}
