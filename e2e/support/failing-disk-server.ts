import { readSync, writeSync } from 'node:fs';
import { createInterface } from 'node:readline';

/**
 * A filesystem in memory behind FUSE (linux/fuse.h, protocol 7.31) that fails as disks do, on demand: the descriptor of
 * /dev/fuse is 3, faults come as JSON lines on standard input. A process of its own, since whoever asks it anything waits.
 */
export interface DiskFault {
  /** It comes once so many bytes more were written, or read. */
  after: { written: number } | { read: number };
  then: {
    /** Writes, reads or flushes fail with these errnos. */
    write?: number;
    read?: number;
    flush?: number;
    /** Nothing can be changed any more. */
    readOnly?: boolean;
    /** The disk is gone from one request to the next. */
    gone?: boolean;
    /** One request takes so long. */
    pauseMilliseconds?: number;
  };
}

const [ENOENT, EIO, EEXIST, ENOTDIR, EISDIR, EROFS, ENOTEMPTY, ENOSYS] = [2, 5, 17, 20, 21, 30, 39, 38];
const FUSE = 3;
const [BLOCK, CAPACITY] = [4096, 100e9];
const MOST_WRITTEN_AT_ONCE = 1 << 20;
const [FOLDER_MODE, FILE_MODE] = [0o040755, 0o100644];
/** Big writes, and so many pages in one. */
const ABILITIES = (1 << 5) | (1 << 22);
const DIRECT_IO = 1;
const [SETS_SIZE, SETS_MODE] = [1 << 3, 1];

interface Node {
  id: number;
  mode: number;
  /** Names and nodes in a folder; null for a file. */
  entries: Map<string, Node> | null;
  parent: Node | null;
  bytes: Buffer;
  size: number;
  modified: number;
}

const nodes = new Map<number, Node>();
let lastId = 0;
function newNode(mode: number, parent: Node | null): Node {
  const isFolder = (mode & 0o170000) === 0o040000;
  const node: Node = {
    id: (lastId += 1),
    mode,
    entries: isFolder ? new Map() : null,
    parent,
    bytes: Buffer.alloc(0),
    size: 0,
    modified: Date.now(),
  };
  nodes.set(node.id, node);
  return node;
}
newNode(FOLDER_MODE, null);

let fault: DiskFault | null = null;
/** Bytes since the fault was told. */
let moved = { written: 0, read: 0 };
createInterface({ input: process.stdin })
  .on('line', (line) => {
    fault = JSON.parse(line) as DiskFault | null;
    moved = { written: 0, read: 0 };
  })
  .on('close', () => process.exit(0));
/** What goes wrong now. */
function now(): DiskFault['then'] {
  if (!fault) return {};
  const isDue = 'read' in fault.after ? moved.read >= fault.after.read : moved.written >= fault.after.written;
  return isDue ? fault.then : {};
}
const failsWith = (errno: number | undefined): void => {
  if (errno !== undefined) refuse(errno);
};

/** A number that a request holds. */
const long = (from: Buffer, at: number): number => Number(from.readBigUInt64LE(at));
const put = (into: Buffer, at: number, value: number): number => into.writeBigUInt64LE(BigInt(Math.floor(value)), at);
const textAt = (from: Buffer, at: number): string => from.toString('utf8', at, from.indexOf(0, at));

class Refusal extends Error {
  readonly errno: number;
  constructor(errno: number) {
    super(`errno ${errno}`);
    this.errno = errno;
  }
}
const nodeOf = (id: number): Node => nodes.get(id) ?? refuse(ENOENT);
function refuse(errno: number): never {
  throw new Refusal(errno);
}
const folderOf = (id: number): Map<string, Node> => nodeOf(id).entries ?? refuse(ENOTDIR);
const changing = (): void => {
  if (now().readOnly) refuse(EROFS);
};

function attributes(node: Node): Buffer {
  const out = Buffer.alloc(88);
  put(out, 0, node.id);
  put(out, 8, node.size);
  put(out, 16, Math.ceil(node.bytes.length / 512));
  for (const at of [24, 32, 40]) put(out, at, node.modified / 1000);
  for (const at of [48, 52, 56]) out.writeUInt32LE((node.modified % 1000) * 1e6, at);
  out.writeUInt32LE(node.mode, 60);
  out.writeUInt32LE(node.entries ? 2 : 1, 64);
  out.writeUInt32LE(BLOCK, 80);
  return out;
}
/** Nothing of it may be remembered by the kernel. */
function entry(node: Node): Buffer {
  const out = Buffer.alloc(40);
  put(out, 0, node.id);
  return Buffer.concat([out, attributes(node)]);
}
const opened = (flags: number): Buffer => {
  const out = Buffer.alloc(16);
  out.writeUInt32LE(flags, 8);
  return out;
};

function add(parentId: number, name: string, mode: number): Node {
  changing();
  const entries = folderOf(parentId);
  if (entries.has(name)) refuse(EEXIST);
  const node = newNode(mode, nodeOf(parentId));
  entries.set(name, node);
  return node;
}
function take(parentId: number, name: string): Buffer {
  changing();
  const entries = folderOf(parentId);
  const node = entries.get(name) ?? refuse(ENOENT);
  if (node.entries && node.entries.size > 0) refuse(ENOTEMPTY);
  entries.delete(name);
  return NOTHING;
}
function move(fromId: number, toId: number, names: Buffer): Buffer {
  changing();
  const [name, next] = names.toString('utf8').split('\0') as [string, string];
  const node = folderOf(fromId).get(name) ?? refuse(ENOENT);
  folderOf(fromId).delete(name);
  folderOf(toId).set(next, node);
  return NOTHING;
}

function resize(node: Node, size: number): void {
  if (size > node.bytes.length) {
    const larger = Buffer.alloc(Math.max(size, Math.min(2 * node.bytes.length, node.bytes.length + 64e6)));
    node.bytes.copy(larger);
    node.bytes = larger;
  } else node.bytes.fill(0, size);
  node.size = size;
}

function listed(node: Node, offset: number, size: number): Buffer {
  const all: [string, Node][] = [['.', node], ['..', node.parent ?? node], ...(node.entries ?? refuse(ENOTDIR))];
  const parts: Buffer[] = [];
  let left = size;
  for (const [index, [name, one]] of all.entries()) {
    if (index < offset) continue;
    const bytes = Buffer.from(name);
    const out = Buffer.alloc(24 + 8 * Math.ceil(bytes.length / 8));
    left -= out.length;
    if (left < 0) break;
    put(out, 0, one.id);
    put(out, 8, index + 1);
    out.writeUInt32LE(bytes.length, 16);
    out.writeUInt32LE(one.entries ? 4 : 8, 20);
    bytes.copy(out, 24);
    parts.push(out);
  }
  return Buffer.concat(parts);
}

function spaceLeft(): Buffer {
  const out = Buffer.alloc(80);
  [CAPACITY / BLOCK, CAPACITY / BLOCK, CAPACITY / BLOCK, 1e6, 1e6].forEach((value, index) =>
    put(out, 8 * index, value),
  );
  [BLOCK, 255, BLOCK].forEach((value, index) => out.writeUInt32LE(value, 40 + 4 * index));
  return out;
}

const NOTHING = Buffer.alloc(0);
function flushed(): Buffer {
  failsWith(now().flush);
  return NOTHING;
}
/** What each kind of request answers; null for those that get none. */
const ANSWERS: Record<number, (id: number, body: Buffer) => Buffer | null> = {
  1: (id, body) => entry(folderOf(id).get(textAt(body, 0)) ?? refuse(ENOENT)),
  2: () => null,
  3: (id) => Buffer.concat([Buffer.alloc(16), attributes(nodeOf(id))]),
  4(id, body) {
    changing();
    const [node, sets] = [nodeOf(id), body.readUInt32LE(0)];
    if (sets & SETS_SIZE) resize(node, long(body, 16));
    if (sets & SETS_MODE) node.mode = (node.mode & 0o170000) | (body.readUInt32LE(68) & 0o7777);
    return Buffer.concat([Buffer.alloc(16), attributes(node)]);
  },
  9: (id, body) => entry(add(id, textAt(body, 8), 0o040000 | (body.readUInt32LE(0) & 0o7777))),
  10: (id, body) => take(id, textAt(body, 0)),
  11: (id, body) => take(id, textAt(body, 0)),
  12: (id, body) => move(id, long(body, 0), body.subarray(8)),
  14: (id) => (nodeOf(id).entries ? refuse(EISDIR) : opened(DIRECT_IO)),
  15(id, body) {
    const [node, from, size] = [nodeOf(id), long(body, 8), body.readUInt32LE(16)];
    failsWith(now().read);
    moved.read += size;
    return node.bytes.subarray(Math.min(from, node.size), Math.min(from + size, node.size));
  },
  16(id, body) {
    changing();
    const [node, from, size] = [nodeOf(id), long(body, 8), body.readUInt32LE(16)];
    failsWith(now().write);
    moved.written += size;
    if (from + size > node.size) resize(node, from + size);
    body.copy(node.bytes, from, 40, 40 + size);
    const out = Buffer.alloc(8);
    out.writeUInt32LE(size, 0);
    return out;
  },
  17: spaceLeft,
  18: () => NOTHING,
  20: flushed,
  25: () => NOTHING,
  26(_id, body) {
    const out = Buffer.alloc(64);
    [7, 31, body.readUInt32LE(8), ABILITIES & body.readUInt32LE(12)].forEach((value, index) =>
      out.writeUInt32LE(value >>> 0, 4 * index),
    );
    out.writeUInt32LE(MOST_WRITTEN_AT_ONCE, 20);
    out.writeUInt32LE(1, 24);
    out.writeUInt16LE(MOST_WRITTEN_AT_ONCE / 4096, 28);
    return out;
  },
  27: () => opened(0),
  28: (id, body) => listed(nodeOf(id), long(body, 8), body.readUInt32LE(16)),
  29: () => NOTHING,
  30: flushed,
  34: () => NOTHING,
  35: (id, body) => Buffer.concat([entry(add(id, textAt(body, 16), FILE_MODE)), opened(DIRECT_IO)]),
  36: () => null,
  38: () => null,
  42: () => null,
  45: (id, body) => move(id, long(body, 0), body.subarray(16)),
};

function answer(request: Buffer): void {
  const [opcode, id] = [request.readUInt32LE(4), long(request, 16)];
  const head = Buffer.alloc(16);
  request.copy(head, 8, 8, 16);
  let body: Buffer | null = NOTHING;
  try {
    body = (ANSWERS[opcode] ?? refuse(ENOSYS))(id, request.subarray(40));
  } catch (error) {
    head.writeInt32LE(-(error instanceof Refusal ? error.errno : EIO), 4);
  }
  if (body === null) return;
  head.writeUInt32LE(16 + body.length, 0);
  writeSync(FUSE, Buffer.concat([head, body]));
}

/** Holds one request up, as a disk does that tries again and again to read a sector; or goes for good. */
function holdUp(): void {
  const { gone, pauseMilliseconds } = now();
  if (gone) process.exit(0);
  if (pauseMilliseconds === undefined) return;
  fault = null;
  Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, pauseMilliseconds);
}

const buffer = Buffer.alloc(MOST_WRITTEN_AT_ONCE + 65_536);
function serve(): void {
  let length: number;
  try {
    length = readSync(FUSE, buffer);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    // A request that was taken back before it was read; anything else means that the disk was taken off.
    if (code === 'ENOENT' || code === 'EINTR') return void setImmediate(serve);
    process.exit(0);
  }
  holdUp();
  answer(buffer.subarray(0, length));
  // Faults are told between two requests.
  setImmediate(serve);
}
serve();
