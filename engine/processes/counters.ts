import type { ProcessCounters, ProcessEntry } from '#engine/system/system.ts';

const NAMES: readonly (keyof ProcessCounters)[] = [
  'readBytes',
  'writtenBytes',
  'askedReadBytes',
  'askedWrittenBytes',
  'readCalls',
  'writeCalls',
  'processorSeconds',
];

export const noCounters = (): ProcessCounters => ({
  readBytes: 0,
  writtenBytes: 0,
  askedReadBytes: 0,
  askedWrittenBytes: 0,
  readCalls: 0,
  writeCalls: 0,
  processorSeconds: 0,
});

export function addCounters(sum: ProcessCounters, more: ProcessCounters): void {
  for (const name of NAMES) sum[name] += more[name];
}

/** A process and everything that it started, as far as the chain of parents still holds. */
export function treeOf(root: number, all: readonly ProcessEntry[]): number[] {
  const children = new Map<number, number[]>();
  for (const { pid, parent } of all) children.set(parent, [...(children.get(parent) ?? []), pid]);
  const tree: number[] = [];
  const waiting = [root];
  while (waiting.length > 0) {
    const pid = waiting.pop()!;
    if (tree.includes(pid)) continue;
    tree.push(pid);
    waiting.push(...(children.get(pid) ?? []));
  }
  return tree;
}
