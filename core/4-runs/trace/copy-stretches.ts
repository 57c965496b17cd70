/** What holds a copy back over a stretch. */
export type Binding =
  | { kind: 'source' }
  /** Which of several; null where there is but one. */
  | { kind: 'target'; label: string | null }
  | { kind: 'hop'; label: string }
  /** One drive has several parts in it: reading and writing, or two copies. */
  | { kind: 'same-drive' };

/** A stretch of a copy that goes at one rate. */
export interface CopyStretch {
  fromBytes: number;
  toBytes: number;
  bytesPerSecond: number;
  binds: Binding;
}

/** So long a person looks at the first estimate. */
export const EARLY_SECONDS = 5;

/** What it is called, where there are several of its kind. */
export const nameOf = (binds: Binding): string | null => ('label' in binds ? binds.label : null);

export const sameBinding = (a: Binding, b: Binding): boolean => a.kind === b.kind && nameOf(a) === nameOf(b);
