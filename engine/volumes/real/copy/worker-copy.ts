import {
  closeSync,
  constants,
  fchmodSync,
  fdatasyncSync,
  fstatSync,
  ftruncateSync,
  futimesSync,
  openSync,
  readSync,
  unlinkSync,
  writeSync,
} from 'node:fs';
import { createXXHash64, type IHasher } from 'hash-wasm';
import { PAGE_BYTES } from '#core/1-ground/units/page.ts';
import { system } from '#engine/system/this-system.ts';
import {
  COUNTER,
  FILE_FAULTS,
  FILE_STATE,
  NOT_OPEN,
  OPENING,
  RAISED,
  type CopyMessage,
  type FileFault,
} from '#engine/volumes/real/copy/copy-protocol.ts';
import { STAT } from '#engine/volumes/real/io-protocol.ts';
import { ENDED_WELL, failureOf, type StepEnd, type WorkerTools } from '#engine/volumes/real/worker-tools.ts';

/** Looks at whether the copy was stopped at least so often while it waits. */
const WAIT_MILLISECONDS = 50;

/** Hash states that a worker may need at the same time: one for each file at work. */
export function makeHashers({ hashes, parallelFiles, role }: CopyMessage): Promise<IHasher[]> {
  const count = !hashes || role.kind === 'write' ? 0 : role.kind === 'hash' ? parallelFiles : 1;
  return Promise.all(Array.from({ length: count }, () => createXXHash64()));
}

/** Something is wrong with one file; the others go on. */
class OneFile extends Error {
  readonly fault: FileFault;
  constructor(fault: FileFault) {
    super(fault);
    this.fault = fault;
  }
}

/** What keeps one file from being opened or made; null when it concerns more than that file. */
function openFault(error: unknown): OneFile | null {
  if (error instanceof OneFile) return error;
  const { code } = error as NodeJS.ErrnoException;
  const fault = FILE_FAULTS.find((one) => one === code);
  return fault ? new OneFile(fault) : null;
}

/** One worker's part of a copy, by its role. */
export function runCopy(step: CopyMessage, tools: WorkerTools, hashers: IHasher[]): StepEnd {
  const shared = step.shared;
  const counters = new Int32Array(shared.counters);
  const taskFiles = new Int32Array(shared.taskFiles);
  const taskCounts = new Int32Array(shared.taskCounts);
  const taskGroups = new Int32Array(shared.taskGroups);
  const taskFroms = new Float64Array(shared.taskFroms);
  const taskPlaces = new Int32Array(shared.taskPlaces);
  const placeTasks = new Int32Array(shared.placeTasks);
  const paths = Buffer.from(shared.paths);
  const pathEnds = new Int32Array(shared.pathEnds);
  const sizes = new Float64Array(shared.sizes);
  const modified = new Float64Array(shared.modified);
  const modes = new Int32Array(shared.modes);
  const states = new Int32Array(shared.states);
  const left = new Int32Array(shared.left);
  const sources = new Int32Array(shared.sourceDescriptors);
  const targets = shared.targetDescriptors.map((one) => new Int32Array(one));
  const hashes = new BigUint64Array(shared.hashes);
  const filled = new Int32Array(shared.filled);
  const done = new Int32Array(shared.done);
  const consumers = step.targets.length + (step.hashes ? 1 : 0);
  const { stats, stopped } = tools;

  const pathOf = (file: number): string => paths.toString('utf8', file === 0 ? 0 : pathEnds[file - 1], pathEnds[file]);
  const slotOf = (place: number): number => place % step.slotCount;
  const slotBytes = (place: number): Uint8Array =>
    new Uint8Array(shared.slots, slotOf(place) * step.blockBytes, step.blockBytes);
  const blockLength = (file: number, from: number): number => Math.min(step.blockBytes, sizes[file]! - from);
  /** Memory of this worker's own, for small files. */
  let ownMemory: Uint8Array | undefined;
  const isFaulty = (file: number): boolean => Atomics.load(states, file) >= FILE_STATE.firstFault;

  /** The first fault of a file is the one that is reported. */
  function noteFault(file: number, { fault }: OneFile): void {
    Atomics.compareExchange(states, file, FILE_STATE.pending, FILE_STATE.firstFault + FILE_FAULTS.indexOf(fault));
  }

  /** Waits until `isSo`, looking again whenever a word changes. @returns false when the copy was stopped */
  function waitUntil(words: Int32Array, index: number, isSo: (value: number) => boolean): boolean {
    for (;;) {
      const value = Atomics.load(words, index);
      if (isSo(value)) return true;
      if (stopped()) return false;
      Atomics.wait(words, index, value, WAIT_MILLISECONDS);
    }
  }

  /** The same, counted as waiting for the other side. */
  function waitForOther(words: Int32Array, index: number, isSo: (value: number) => boolean): boolean {
    const from = performance.now();
    const isThere = waitUntil(words, index, isSo);
    stats[STAT.waitedSeconds]! += (performance.now() - from) / 1000;
    return isThere;
  }

  /** The descriptor of a file that several workers share; opened by the first that comes. */
  function descriptorOf(descriptors: Int32Array, file: number, open: () => number): number {
    if (Atomics.compareExchange(descriptors, file, NOT_OPEN, OPENING) === NOT_OPEN) {
      try {
        const descriptor = open();
        Atomics.store(descriptors, file, descriptor + RAISED);
        return descriptor;
      } catch (error) {
        const one = openFault(error);
        if (one) noteFault(file, one);
        throw one ?? error;
      } finally {
        Atomics.compareExchange(descriptors, file, OPENING, NOT_OPEN);
        Atomics.notify(descriptors, file);
      }
    }
    for (;;) {
      const value = Atomics.load(descriptors, file);
      if (value >= RAISED) return value - RAISED;
      if (isFaulty(file) || stopped()) throw new OneFile('ENOENT');
      Atomics.wait(descriptors, file, value, WAIT_MILLISECONDS);
    }
  }

  const openSource = (file: number): number =>
    descriptorOf(sources, file, () => {
      const flags = constants.O_RDONLY | constants.O_NOFOLLOW | step.source.flags;
      const descriptor = openSync(`${step.source.folder}/${pathOf(file)}`, flags);
      system.bypassCache(descriptor);
      if (!step.checksListing || isAsListed(descriptor, file)) return descriptor;
      closeSync(descriptor);
      throw new OneFile('CHANGED');
    });

  function isAsListed(descriptor: number, file: number): boolean {
    const { size, mtimeMs } = fstatSync(descriptor);
    return size === sizes[file]! && mtimeMs / 1000 === modified[file]!;
  }

  const targetPath = (target: number, file: number): string => `${step.targets[target]!.folder}/${pathOf(file)}`;

  const openTarget = (target: number, file: number): number =>
    descriptorOf(targets[target]!, file, () => {
      const { flags, presizes } = step.targets[target]!;
      const own = constants.O_WRONLY | constants.O_CREAT | constants.O_EXCL | constants.O_NOFOLLOW;
      const descriptor = openSync(targetPath(target, file), own | flags, 0o600);
      system.bypassCache(descriptor);
      // Files that grow by several writers at once are written by one after the other.
      if (presizes && sizes[file]! > step.blockBytes) ftruncateSync(descriptor, sizes[file]);
      return descriptor;
    });

  /** Reads a block whole into memory, and clears the rest of its last page. @throws OneFile when the file ends early */
  function read(descriptor: number, memory: Uint8Array, from: number, bytes: number): void {
    // Direct reads take whole pages; beyond the end of a file there is nothing to be read.
    const wanted = padded(bytes);
    const begin = performance.now();
    for (let got = 0; got < bytes;) {
      const moved = readSync(descriptor, memory, got, wanted - got, from + got);
      if (moved === 0) throw new OneFile('CHANGED');
      got += moved;
    }
    if (bytes > 0) tools.noteRequest(begin, bytes);
    memory.fill(0, bytes, wanted);
  }

  function closeTarget(target: number, file: number): void {
    const raised = Atomics.exchange(targets[target]!, file, NOT_OPEN);
    if (raised < RAISED) return;
    const descriptor = raised - RAISED;
    try {
      if (isFaulty(file)) {
        unlinkSync(targetPath(target, file));
        return;
      }
      if (sizes[file]! % PAGE_BYTES !== 0) ftruncateSync(descriptor, sizes[file]);
      // Rights to become somebody else are not passed on. Where rights or dates cannot be set, the data counts.
      quietly(() => fchmodSync(descriptor, modes[file]! & 0o777));
      quietly(() => futimesSync(descriptor, modified[file]!, modified[file]!));
      if (step.flushEach) fdatasyncSync(descriptor);
    } finally {
      closeSync(descriptor);
    }
  }

  /** The last that has to do with a file closes it at all ends. */
  function finish(file: number): void {
    const raised = Atomics.exchange(sources, file, NOT_OPEN);
    if (raised >= RAISED) {
      if (step.checksListing && !isFaulty(file) && !isAsListed(raised - RAISED, file)) {
        noteFault(file, new OneFile('CHANGED'));
      }
      closeSync(raised - RAISED);
    }
    for (let target = 0; target < targets.length; target += 1) closeTarget(target, file);
    Atomics.compareExchange(states, file, FILE_STATE.pending, FILE_STATE.whole);
  }

  function finishGroup(): void {
    Atomics.add(counters, COUNTER.groupsDone, 1);
    Atomics.notify(counters, COUNTER.groupsDone);
  }

  /** A consumer has done with the block at a place. */
  function doneWith(place: number, file: number): void {
    if (Atomics.sub(left, file, 1) === 1) {
      finish(file);
      finishGroup();
    }
    Atomics.add(done, slotOf(place), 1);
    Atomics.notify(done, slotOf(place));
  }

  /** A file of one block, from its opening to its closing at every target. */
  function copySmall(file: number): void {
    // The memory of a WebAssembly.Memory is page-aligned, as direct I/O asks.
    ownMemory ??= new Uint8Array(
      new WebAssembly.Memory({ initial: Math.ceil(step.blockBytes / 65_536) }).buffer,
    ).subarray(0, step.blockBytes);
    const bytes = sizes[file]!;
    const begin = performance.now();
    read(openSource(file), ownMemory, 0, bytes);
    const middle = performance.now();
    for (let target = 0; target < targets.length; target += 1) {
      writeWhole(openTarget(target, file), ownMemory, 0, bytes);
    }
    // One thread does both in turn: while it writes the source waits, and the other way round.
    stats[STAT.handedBytes]! += bytes;
    stats[STAT.handedSeconds]! += (performance.now() - middle) / 1000;
    stats[STAT.takenSeconds]! += (middle - begin) / 1000;
    if (step.hashes) {
      const [hasher] = hashers;
      hasher!.init();
      hasher!.update(ownMemory.subarray(0, bytes));
      hashes[file] = BigInt(`0x${hasher!.digest('hex')}`);
    }
  }

  /** Carries out what concerns one file; what is wrong with it alone does not end the copy. */
  function tolerating(file: number, act: () => void): void {
    try {
      if (!isFaulty(file)) act();
    } catch (error) {
      if (!(error instanceof OneFile)) throw error;
      noteFault(file, error);
    }
  }

  function runReader(): void {
    for (;;) {
      const task = Atomics.add(counters, COUNTER.nextRead, 1);
      if (task >= taskFiles.length || stopped()) return;
      const file = taskFiles[task]!;
      const from = taskFroms[task]!;
      if (from === 0) {
        const least = taskGroups[task]! - step.parallelFiles + 1;
        if (!waitUntil(counters, COUNTER.groupsDone, (groups) => groups >= least)) return;
      }
      const count = taskCounts[task]!;
      if (count > 0) {
        for (let one = file; one < file + count && !stopped(); one += 1) {
          tolerating(one, () => copySmall(one));
          finish(one);
        }
        finishGroup();
        continue;
      }
      const place = taskPlaces[task]!;
      const rounds = Math.floor(place / step.slotCount);
      if (!waitForOther(done, slotOf(place), (times) => times === rounds * consumers)) return;
      tolerating(file, () => read(openSource(file), slotBytes(place), from, blockLength(file, from)));
      Atomics.store(filled, slotOf(place), place + 1);
      Atomics.notify(filled, slotOf(place));
    }
  }

  function runConsumer(counter: number, consume: (place: number, file: number, from: number) => void): void {
    for (;;) {
      const place = Atomics.add(counters, counter, 1);
      if (place >= placeTasks.length) return;
      const task = placeTasks[place]!;
      if (!waitForOther(filled, slotOf(place), (value) => value === place + 1)) return;
      const file = taskFiles[task]!;
      tolerating(file, () => consume(place, file, taskFroms[task]!));
      doneWith(place, file);
    }
  }

  const atWork = new Map<number, IHasher>();
  const release = (file: number): void => {
    hashers.push(atWork.get(file)!);
    atWork.delete(file);
  };
  function hashBlock(place: number, file: number, from: number): void {
    let hasher = atWork.get(file);
    if (!hasher) {
      // Those of files that turned out faulty on the way are free again.
      for (const known of [...atWork.keys()]) if (isFaulty(known)) release(known);
      hasher = hashers.pop()!;
      hasher.init();
      atWork.set(file, hasher);
    }
    hasher.update(slotBytes(place).subarray(0, blockLength(file, from)));
    if (from + step.blockBytes < sizes[file]!) return;
    hashes[file] = BigInt(`0x${hasher.digest('hex')}`);
    release(file);
  }

  tools.waitForGo();
  try {
    const { role } = step;
    if (role.kind === 'read') runReader();
    else if (role.kind === 'hash') runConsumer(COUNTER.nextHash, hashBlock);
    else {
      runConsumer(COUNTER.nextWrite + role.target, (place, file, from) => {
        const descriptor = openTarget(role.target, file);
        const bytes = blockLength(file, from);
        const begin = performance.now();
        writeWhole(descriptor, slotBytes(place), from, bytes);
        tools.noteRequest(begin, bytes);
      });
    }
    return ENDED_WELL;
  } catch (error) {
    return { failure: failureOf(error, 0), mismatches: [] };
  }
}

const padded = (bytes: number): number => Math.ceil(bytes / PAGE_BYTES) * PAGE_BYTES;

/** Writes whole pages; a file is cut to its size when it is closed. */
function writeWhole(descriptor: number, memory: Uint8Array, from: number, bytes: number): void {
  const whole = padded(bytes);
  for (let put = 0; put < whole;) put += writeSync(descriptor, memory, put, whole - put, from + put);
}

function quietly(act: () => void): void {
  try {
    act();
  } catch {
    // Not every filesystem keeps rights and dates.
  }
}
