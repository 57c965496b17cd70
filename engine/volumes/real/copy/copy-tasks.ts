import { COUNTER_WORDS, type CopyShared } from '#engine/volumes/real/copy/copy-protocol.ts';
import type { PayloadFile } from '#engine/volumes/real/copy/payload-files.ts';
import { Problem } from '#core/1-ground/problem.ts';

/** Small files that one worker takes at once. */
const LOT_FILES = 16;
/** Memory that blocks on their way may take. */
const MOST_SLOT_BYTES = 512 * 1024 * 1024;
/** More blocks than this would take longer to list than to copy. */
const MOST_BLOCKS = 20_000_000;

/** How a copy is cut into tasks, see copy-protocol.ts. */
interface Tasks {
  files: number[];
  counts: number[];
  groups: number[];
  froms: number[];
  places: number[];
  placeTasks: number[];
}

/** Large files block by block and small ones in lots, so many of them side by side. */
export function cutIntoTasks(sizes: readonly number[], blockBytes: number, parallel: number): Tasks {
  const tasks: Tasks = { files: [], counts: [], groups: [], froms: [], places: [], placeTasks: [] };
  const push = (file: number, count: number, group: number, from: number) => {
    const isLarge = count === 0;
    tasks.places.push(isLarge ? tasks.placeTasks.length : -1);
    if (isLarge) tasks.placeTasks.push(tasks.files.length);
    tasks.files.push(file);
    tasks.counts.push(count);
    tasks.groups.push(group);
    tasks.froms.push(from);
  };
  let next = 0;
  let groups = 0;
  const nextGroup = (): { file: number; count: number; group: number; from: number } | null => {
    if (next >= sizes.length) return null;
    const file = next;
    while (next < sizes.length && sizes[next]! <= blockBytes && next - file < LOT_FILES) next += 1;
    const count = next - file;
    if (count === 0) next += 1;
    groups += 1;
    return { file, count, group: groups - 1, from: 0 };
  };
  const open = Array.from({ length: parallel }, nextGroup);
  while (open.some((one) => one !== null)) {
    open.forEach((one, lane) => {
      if (one === null) return;
      push(one.file, one.count, one.group, one.from);
      one.from += blockBytes;
      if (one.count > 0 || one.from >= sizes[one.file]!) open[lane] = nextGroup();
    });
  }
  return tasks;
}

const int32 = (length: number): SharedArrayBuffer => new SharedArrayBuffer(Math.max(1, length) * 4);
const int32Of = (values: readonly number[]): SharedArrayBuffer => {
  const shared = new SharedArrayBuffer(values.length * 4);
  new Int32Array(shared).set(values);
  return shared;
};
const float64Of = (values: readonly number[]): SharedArrayBuffer => {
  const shared = new SharedArrayBuffer(values.length * 8);
  new Float64Array(shared).set(values);
  return shared;
};

export interface CopyCut {
  shared: CopyShared;
  slotCount: number;
}

/**
 * The memory that the workers of a copy share.
 * @throws Problem `copy-too-fine` when the blocks would be too many
 */
export function shareCopy(
  files: readonly PayloadFile[],
  { blockBytes, depth, parallelFiles }: { blockBytes: number; depth: number; parallelFiles: number },
  targets: number,
  consumers: number,
): CopyCut {
  const sizes = files.map(({ bytes }) => bytes);
  if (sizes.reduce((sum, bytes) => sum + bytes / blockBytes, 0) > MOST_BLOCKS) {
    throw new Problem(
      'copy-too-fine',
      'block: too small for so much data: more than 20 million blocks. Type a larger block, such as 8 MiB.',
      { where: 'blockBytes' },
    );
  }
  const tasks = cutIntoTasks(sizes, blockBytes, parallelFiles);
  const names = files.map(({ path }) => Buffer.from(path, 'utf8'));
  const paths = new SharedArrayBuffer(names.reduce((sum, name) => sum + name.length, 0));
  let end = 0;
  const pathEnds = names.map((name) => {
    new Uint8Array(paths).set(name, end);
    return (end += name.length);
  });
  const readers = depth * parallelFiles;
  // Twice as many as readers, so that these can be ahead of the writers; fewer where blocks are very large.
  const slotCount = Math.max(readers, Math.min(2 * readers, Math.floor(MOST_SLOT_BYTES / blockBytes)));
  const pages = Math.ceil((slotCount * blockBytes) / 65_536);
  const slots = new WebAssembly.Memory({ initial: pages, maximum: pages, shared: true }).buffer;
  return {
    slotCount,
    shared: {
      counters: int32(COUNTER_WORDS),
      taskFiles: int32Of(tasks.files),
      taskCounts: int32Of(tasks.counts),
      taskGroups: int32Of(tasks.groups),
      taskFroms: float64Of(tasks.froms),
      taskPlaces: int32Of(tasks.places),
      placeTasks: int32Of(tasks.placeTasks),
      paths,
      pathEnds: int32Of(pathEnds),
      sizes: float64Of(sizes),
      modified: float64Of(files.map(({ modifiedSeconds }) => modifiedSeconds)),
      modes: int32Of(files.map(({ mode }) => mode)),
      states: int32(files.length),
      left: int32Of(sizes.map((bytes) => Math.ceil(bytes / blockBytes) * consumers)),
      sourceDescriptors: int32(files.length),
      targetDescriptors: Array.from({ length: targets }, () => int32(files.length)),
      hashes: new SharedArrayBuffer(Math.max(1, files.length) * 8),
      slots: slots as unknown as SharedArrayBuffer,
      filled: int32(slotCount),
      done: int32(slotCount),
    },
  };
}
