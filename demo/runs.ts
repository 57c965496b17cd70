import type { FrameStream } from '#core/2-trade/media/frame-stream.ts';
import { DEMO_WORKLOADS } from '#demo/workloads.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import type { Fault } from '#core/4-runs/stand-ins/faults.ts';
import type { DriveHistory } from '#engine/run/runner.ts';
import { simulateRun } from '#engine/run/simulate.ts';
import type { VolumeInfo } from '#engine/volumes/volume.ts';

interface DemoRun {
  id: string;
  standInId: string;
  recipeId: string;
  /** Stand-ins that it copies to. */
  targets?: string[];
  startedAt: string;
  options: Record<string, unknown>;
  note: string;
  seed: number;
  history?: Partial<DriveHistory>;
  faults?: Fault[];
}

const MINUTE = 60;
const DOME_FRAMES: FrameStream = {
  name: 'Dome master frames',
  action: 'play',
  frameBytes: 42_000_000,
  frameRate: { numerator: 24, denominator: 1 },
  files: 'sequence',
  count: 1,
};
const CAMERAS: FrameStream = {
  name: 'Three cameras',
  action: 'record',
  frameBytes: 7_286_784,
  frameRate: { numerator: 25, denominator: 1 },
  files: 'container',
  count: 3,
};

/** Sizes that games and tools read in, at random. */
const READ_REQUESTS = {
  blocks: [4, 16, 64, 128, 256, 512, 1024, 4096].map((kibibytes) => kibibytes * 1024),
  depths: [1, 2, 4, 8, 16],
  order: 'random',
  direction: 'read',
  seconds: 1,
};
const [reefKeeper] = DEMO_WORKLOADS.find(({ id }) => id === 'demo-reef-keeper')!.items;
const REEF_KEEPER = reefKeeper?.kind === 'load' ? reefKeeper.phases : [];

/** Runs of the demo workspace, oldest first. Each shows something. */
const DEMO_RUNS: readonly DemoRun[] = [
  {
    id: 'demo-petrel-passes',
    standInId: 'petrel-2t',
    recipeId: 'short-passes',
    startedAt: '2026-03-02T09:05:00.000Z',
    options: { passes: 8 },
    note: 'First reading.',
    seed: 21,
  },
  {
    id: 'demo-petrel-take',
    standInId: 'petrel-2t',
    recipeId: 'long-fill',
    startedAt: '2026-03-02T09:30:00.000Z',
    options: { amountBytes: 340e9, untilFloor: false, readBack: true },
    note: 'Past the fast cache: ten minutes of three cameras.',
    seed: 22,
  },
  {
    id: 'demo-petrel-night',
    standInId: 'petrel-2t',
    recipeId: 'long-fill',
    startedAt: '2026-03-02T14:10:00.000Z',
    options: { amountBytes: 1320e9, untilFloor: false },
    note: 'As much as one take of the night shoot.',
    seed: 23,
  },
  {
    id: 'demo-petrel-rest',
    standInId: 'petrel-2t',
    recipeId: 'long-fill',
    startedAt: '2026-03-02T16:10:00.000Z',
    options: { amountBytes: 280e9, untilFloor: false, restSeconds: [5 * MINUTE, 20 * MINUTE] },
    note: 'What five minutes of rest give back, and the twenty between takes.',
    seed: 24,
  },
  {
    id: 'demo-petrel-ladder',
    standInId: 'petrel-2t',
    recipeId: 'block-ladder',
    startedAt: '2026-03-02T09:15:00.000Z',
    options: {},
    note: '',
    seed: 23,
  },
  {
    id: 'demo-limpet-fill',
    standInId: 'limpet-1t',
    recipeId: 'long-fill',
    startedAt: '2026-03-02T11:00:00.000Z',
    options: { amountBytes: 120e9, untilFloor: false, restSeconds: [MINUTE, 5 * MINUTE] },
    note: 'Bought for the lobby. It swings once its cache is full.',
    seed: 31,
  },
  {
    id: 'demo-limpet-passes',
    standInId: 'limpet-1t',
    recipeId: 'short-passes',
    startedAt: '2026-03-02T13:30:00.000Z',
    options: { passes: 6 },
    note: 'The indexing of the kiosk was still going on.',
    seed: 32,
    faults: [{ kind: 'other-traffic', at: null }],
  },
  {
    id: 'demo-skerry-fill',
    standInId: 'skerry-512',
    recipeId: 'long-fill',
    startedAt: '2026-03-02T14:00:00.000Z',
    options: { amountBytes: 80e9 },
    note: 'The laptop, three quarters full.',
    seed: 41,
  },
  {
    id: 'demo-skerry-scatter',
    standInId: 'skerry-512',
    recipeId: 'file-scatter',
    startedAt: '2026-03-02T14:30:00.000Z',
    options: { files: 1500 },
    note: '',
    seed: 42,
  },
  {
    id: 'demo-anchor-passes',
    standInId: 'anchor-16t',
    recipeId: 'short-passes',
    startedAt: '2026-03-03T17:10:00.000Z',
    options: { passes: 8 },
    note: 'First reading. It had to spin up.',
    seed: 11,
  },
  {
    id: 'demo-anchor-take',
    standInId: 'anchor-16t',
    recipeId: 'short-passes',
    startedAt: '2026-03-03T17:20:00.000Z',
    options: { passes: 1, sizeBytes: 60e9 },
    note: 'As much as a short take of one camera.',
    seed: 12,
  },
  {
    id: 'demo-anchor-frames',
    standInId: 'anchor-16t',
    recipeId: 'paced-frames',
    startedAt: '2026-03-03T18:00:00.000Z',
    options: { streams: [{ ...CAMERAS, name: 'Camera A', count: 1 }], seconds: 120 },
    note: 'One camera. The first frames met a sleeping drive.',
    seed: 13,
  },
  {
    id: 'demo-cormorant-frames',
    standInId: 'cormorant-x2',
    recipeId: 'paced-frames',
    startedAt: '2026-03-04T09:00:00.000Z',
    options: { streams: [CAMERAS], seconds: 5 * MINUTE, bufferSeconds: 1 },
    note: 'Three cameras at once until the cache was full: 400 MB/s are not enough.',
    seed: 51,
  },
  {
    id: 'demo-cormorant-hot',
    standInId: 'cormorant-x2',
    recipeId: 'short-passes',
    startedAt: '2026-03-04T09:30:00.000Z',
    options: { passes: 6 },
    note: 'Straight after the cameras.',
    seed: 52,
    history: { restSeconds: 20, writtenLastHourBytes: 164e9, coolestCelsius: 29 },
    faults: [{ kind: 'hot', at: null }],
  },
  {
    id: 'demo-cormorant-take',
    standInId: 'cormorant-x2',
    recipeId: 'long-fill',
    startedAt: '2026-03-04T11:00:00.000Z',
    options: { amountBytes: 200e9 },
    note: '',
    seed: 53,
  },
  {
    id: 'demo-jetty4-passes',
    standInId: 'jetty-4',
    recipeId: 'short-passes',
    startedAt: '2026-03-05T08:40:00.000Z',
    options: { passes: 6 },
    note: 'The cable binds.',
    seed: 61,
  },
  {
    id: 'demo-jetty4-scatter',
    standInId: 'jetty-4',
    recipeId: 'file-scatter',
    startedAt: '2026-03-05T09:00:00.000Z',
    options: { files: 2000, parallel: 4 },
    note: 'The project folder of Reef Keeper, as small files.',
    seed: 62,
  },
  {
    id: 'demo-jetty-flash-material',
    standInId: 'jetty-flash',
    recipeId: 'existing-material',
    startedAt: '2026-03-05T10:00:00.000Z',
    options: {},
    note: 'Reels of last year.',
    seed: 71,
  },
  {
    id: 'demo-jetty-flash-frames',
    standInId: 'jetty-flash',
    recipeId: 'paced-frames',
    startedAt: '2026-03-05T10:30:00.000Z',
    options: { streams: [DOME_FRAMES], seconds: 60, depth: 4 },
    note: 'A reel at 24 from the share: a one-lane slot does not feed it.',
    seed: 72,
  },
  {
    id: 'demo-spray-passes',
    standInId: 'spray',
    recipeId: 'short-passes',
    startedAt: '2026-03-05T11:00:00.000Z',
    options: { passes: 6 },
    note: '',
    seed: 81,
  },
  {
    id: 'demo-skerry-memory',
    standInId: 'skerry-512',
    recipeId: 'short-passes',
    startedAt: '2026-03-05T11:20:00.000Z',
    options: { passes: 6 },
    note: 'Faster than the drive can be: it came out of memory.',
    seed: 82,
    faults: [{ kind: 'cached-reads', at: null }],
  },
  {
    id: 'demo-limpet-requests',
    standInId: 'limpet-1t',
    recipeId: 'block-ladder',
    startedAt: '2026-03-06T09:00:00.000Z',
    options: READ_REQUESTS,
    note: 'Reads in no order, as games and tools make them.',
    seed: 91,
  },
  {
    id: 'demo-skerry-requests',
    standInId: 'skerry-512',
    recipeId: 'block-ladder',
    startedAt: '2026-03-06T09:20:00.000Z',
    options: READ_REQUESTS,
    note: 'Reads in no order, as games and tools make them.',
    seed: 92,
  },
  {
    id: 'demo-cormorant-requests',
    standInId: 'cormorant-x2',
    recipeId: 'block-ladder',
    startedAt: '2026-03-06T09:40:00.000Z',
    options: READ_REQUESTS,
    note: 'Reads in no order, as games and tools make them.',
    seed: 93,
  },
  {
    id: 'demo-anchor-requests',
    standInId: 'anchor-16t',
    recipeId: 'block-ladder',
    startedAt: '2026-03-06T10:00:00.000Z',
    options: READ_REQUESTS,
    note: 'Reads in no order, as games and tools make them.',
    seed: 94,
  },
  {
    id: 'demo-jetty4-requests',
    standInId: 'jetty-4',
    recipeId: 'block-ladder',
    startedAt: '2026-03-06T10:20:00.000Z',
    options: READ_REQUESTS,
    note: 'Reads in no order, as games and tools make them.',
    seed: 95,
  },
  {
    id: 'demo-jetty-flash-requests',
    standInId: 'jetty-flash',
    recipeId: 'block-ladder',
    startedAt: '2026-03-06T10:40:00.000Z',
    options: READ_REQUESTS,
    note: 'Reads in no order, as games and tools make them.',
    seed: 96,
  },
  {
    id: 'demo-spray-requests',
    standInId: 'spray',
    recipeId: 'block-ladder',
    startedAt: '2026-03-06T11:00:00.000Z',
    options: READ_REQUESTS,
    note: 'Reads in no order, as games and tools make them.',
    seed: 97,
  },
  {
    id: 'demo-jetty-flash-fill',
    standInId: 'jetty-flash',
    recipeId: 'long-fill',
    startedAt: '2026-03-06T11:20:00.000Z',
    options: { amountBytes: 720e9, untilFloor: false },
    note: 'As much as one version of the kelp.',
    seed: 98,
  },
  {
    id: 'demo-jetty4-replay',
    standInId: 'jetty-4',
    recipeId: 'replay',
    startedAt: '2026-03-06T13:00:00.000Z',
    options: { phases: REEF_KEEPER },
    note: 'Reef Keeper from the share, as the kiosk starts it.',
    seed: 99,
  },
  {
    id: 'demo-cormorant-b-fill',
    standInId: 'cormorant-x2-b',
    recipeId: 'long-fill',
    startedAt: '2026-03-07T09:00:00.000Z',
    options: { amountBytes: 170e9, untilFloor: false, readBack: true },
    note: 'The second of two alike, for the other copy.',
    seed: 111,
  },
  {
    id: 'demo-offload',
    standInId: 'petrel-2t',
    targets: ['anchor-16t', 'jetty-flash'],
    recipeId: 'copy',
    startedAt: '2026-03-07T20:30:00.000Z',
    options: { bytes: 640e9, files: 4200, spread: 'photo', parallelFiles: 2, verify: 'read-back' },
    note: 'Evening offload, to two places at once.',
    seed: 101,
  },
  {
    id: 'demo-told-short',
    standInId: 'petrel-2t',
    targets: ['limpet-1t'],
    recipeId: 'copy',
    startedAt: '2026-03-08T18:10:00.000Z',
    options: { bytes: 400e9, files: 40, verify: 'none' },
    note: 'Said to take three minutes.',
    seed: 102,
  },
  {
    id: 'demo-card-thrice',
    standInId: 'cormorant-x2',
    targets: ['limpet-1t'],
    recipeId: 'copy',
    startedAt: '2026-03-09T08:40:00.000Z',
    options: { bytes: 36e9, files: 120, verify: 'checksums', repeats: 3, restSeconds: MINUTE },
    note: 'Three times with a minute between.',
    seed: 103,
  },
];

/**
 * Carries out the demo runs on the stand-ins, as fast as the processor allows and the same each
 * time. `referenceFor` gives the drive that a run belongs to.
 */
export async function carryOutDemoRuns(
  referenceFor: (info: VolumeInfo) => Promise<RunDocument['drive']>,
): Promise<RunDocument[]> {
  const documents: RunDocument[] = [];
  for (const { id, standInId, note, ...simulation } of DEMO_RUNS) {
    const run = await simulateRun({ ...simulation, standIn: standInId, runId: id, referenceFor });
    documents.push({ ...run, example: true, note });
  }
  return documents;
}
