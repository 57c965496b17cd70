/** Ways to lay data over several drives: what is usable, how quick it is, and what it survives. */
export interface Layout {
  id: LayoutId;
  label: string;
  leastDrives: number;
  /** Whether the number of drives has to be even. */
  even: boolean;
  /** Drives that may fail whichever they are. */
  survives(drives: number): number;
  /** Drives' worth of data in n drives: capacity, writing in one go, and reading one stream where they work together. */
  data(drives: number): number;
  /** Whether its drives work together; else one is used after the other, and only that one is attached. */
  isTogether: boolean;
  /** Reading many streams at once. */
  readsMany(drives: number): number;
  /** Accesses that one small write costs. */
  smallWriteCost(drives: number): number;
  /** Share of the rate that is left with one drive gone; 0 where the data is. */
  degradedShare(drives: number): number;
  /** Drives that are read whole to rebuild one when nothing more may fail; null where that is always survived. */
  readToRebuild(drives: number): number | null;
}

export const LAYOUT_IDS = [
  'single',
  'stripe',
  'mirror',
  'striped-mirrors',
  'single-parity',
  'double-parity',
  'separate',
] as const;
export type LayoutId = (typeof LAYOUT_IDS)[number];

/** What reading with one drive gone leaves where the rest has to be computed. */
const PARITY_DEGRADED_SHARE = 0.6;

const survivesNone = { survives: () => 0, degradedShare: () => 0, readToRebuild: () => null };

export const LAYOUTS: readonly Layout[] = [
  {
    id: 'single',
    label: 'one drive',
    isTogether: false,
    leastDrives: 1,
    even: false,
    data: () => 1,
    readsMany: () => 1,
    smallWriteCost: () => 1,
    ...survivesNone,
  },
  {
    id: 'stripe',
    label: 'stripe',
    isTogether: true,
    leastDrives: 2,
    even: false,
    data: (drives) => drives,
    readsMany: (drives) => drives,
    smallWriteCost: () => 1,
    ...survivesNone,
  },
  {
    id: 'mirror',
    label: 'mirror',
    isTogether: true,
    leastDrives: 2,
    even: false,
    survives: (drives) => drives - 1,
    data: () => 1,
    readsMany: (drives) => drives,
    smallWriteCost: (drives) => drives,
    degradedShare: () => 1,
    readToRebuild: () => 1,
  },
  {
    id: 'striped-mirrors',
    label: 'striped mirrors',
    isTogether: true,
    leastDrives: 4,
    even: true,
    survives: () => 1,
    data: (drives) => drives / 2,
    readsMany: (drives) => drives,
    smallWriteCost: () => 2,
    degradedShare: () => 1,
    readToRebuild: () => 1,
  },
  {
    id: 'single-parity',
    label: 'single parity',
    isTogether: true,
    leastDrives: 3,
    even: false,
    survives: () => 1,
    data: (drives) => drives - 1,
    readsMany: (drives) => drives,
    smallWriteCost: () => 4,
    degradedShare: () => PARITY_DEGRADED_SHARE,
    readToRebuild: (drives) => drives - 1,
  },
  {
    id: 'double-parity',
    label: 'double parity',
    isTogether: true,
    leastDrives: 4,
    even: false,
    survives: () => 2,
    data: (drives) => drives - 2,
    readsMany: (drives) => drives,
    smallWriteCost: () => 6,
    degradedShare: () => PARITY_DEGRADED_SHARE,
    // With two gone: until then one more may fail.
    readToRebuild: (drives) => drives - 2,
  },
  {
    id: 'separate',
    label: 'separate drives',
    isTogether: false,
    leastDrives: 2,
    even: false,
    data: (drives) => drives,
    readsMany: () => 1,
    smallWriteCost: () => 1,
    ...survivesNone,
  },
];

/** Drives that have to be attached at once. */
export const attached = ({ isTogether }: Layout, drives: number): number => (isTogether ? drives : 1);

export const layoutById = (id: LayoutId): Layout => LAYOUTS.find((layout) => layout.id === id)!;

/** Whether a layout can be made of so many drives. */
export const takes = ({ leastDrives, even, id }: Layout, drives: number): boolean =>
  drives >= leastDrives && (!even || drives % 2 === 0) && (id !== 'single' || drives === 1);

/**
 * Bytes that may be used: raw × layout × (1 − filesystem) × fill limit.
 * Check: 6 × 16 TB, double parity, 2 %, 80 % → 50.176 TB.
 */
export function usableBytes(
  layout: Layout,
  drives: number,
  driveBytes: number,
  { filesystemShare, fillLimit }: { filesystemShare: number; fillLimit: number },
): number {
  return layout.data(drives) * driveBytes * (1 - filesystemShare) * fillLimit;
}

/** Seconds to rebuild one drive while it is used: capacity ÷ the least of its share of the mean rate and the link. */
export function rebuildSeconds(
  driveBytes: number,
  meanBytesPerSecond: number,
  share: number,
  linkBytesPerSecond: number,
): number {
  return driveBytes / Math.min(share * meanBytesPerSecond, linkBytesPerSecond);
}

/**
 * Upper bound of the chance to meet an unreadable sector in so many bytes: 1 − (1 − e)^bits, computed so that
 * small chances are not lost. One bad sector is not a lost array. Check: 10^−15 a bit, 64 TB → 40.1 %.
 */
export function unreadableChance(bytes: number, errorsPerBit: number): number {
  return -Math.expm1(bytes * 8 * Math.log1p(-errorsPerBit));
}

/** Years until what a drive may be written is used up; null where its maker promises nothing. */
export function enduranceYears(
  writtenBytesPerDay: number,
  drives: number,
  amplification: number,
  enduranceBytes: number | null,
): number | null {
  if (enduranceBytes === null) return null;
  const perDrive = (writtenBytesPerDay * amplification) / drives;
  return perDrive > 0 ? enduranceBytes / perDrive / 365 : Infinity;
}
