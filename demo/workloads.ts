import { parsePhase } from '#core/3-jobs/demand/loads/phase-line.ts';
import type { FootageItem } from '#core/3-jobs/demand/footage/footage-item.ts';
import type { Workload } from '#core/3-jobs/demand/workload.ts';
import { dataRate } from '#core/2-trade/media/data-rate.ts';

/** Workloads of the made-up Lowlight Dome Works and its film *Tidal Atlas*. */
const UHD = { width: 3840, height: 2160 };
const HD = { width: 1920, height: 1080 };
const DOME = { width: 4096, height: 4096 };
const AT_25 = { numerator: 25, denominator: 1 };
const AT_60 = { numerator: 60, denominator: 1 };
const ONE_SECOND = { unit: 'seconds', amount: 1 } as const;
const STAYS = { between: 'stay', takeOffSeconds: null } as const;
/** Forty minutes of interview, twenty to offload and change the set-up, four times a night. */
const NIGHT_TAKES = { count: 4, seconds: 2400, gapSeconds: 1200, between: 'take-off', takeOffSeconds: null } as const;
const ONE_REEL = { count: 1, seconds: 180, gapSeconds: 0, ...STAYS };

type Picture = Omit<Extract<FootageItem['essence'], { kind: 'picture' }>, 'kind' | 'sound'>;

function footage(
  id: string,
  name: string,
  action: FootageItem['action'],
  picture: Picture,
  streams: number,
  takes: FootageItem['takes'],
  together = false,
): FootageItem {
  return {
    kind: 'footage',
    id,
    name,
    action,
    essence: { kind: 'picture', ...picture, sound: undefined },
    streams,
    takes,
    buffer: ONE_SECOND,
    ...(together ? { together } : {}),
  };
}

/** Bytes a second of one layer of RDD 36 high, 3840×2160 at 25. */
const RDD36_HIGH_UHD = dataRate({ layoutId: 'rdd36-high', raster: UHD, frameRate: AT_25 }).bytesPerSecond;

/** What layers ask for together: each from a second to a second at a rate. */
function layeredCut(layers: readonly [from: number, to: number, bytesPerSecond: number][]) {
  const seconds = [...new Set(layers.flatMap(([from, to]) => [from, to]))].sort((a, b) => a - b);
  const bytes = [0];
  for (let index = 1; index < seconds.length; index += 1) {
    const [from, to] = [seconds[index - 1]!, seconds[index]!];
    const shown = layers.filter((layer) => layer[0] <= from && layer[1] >= to);
    bytes.push(bytes.at(-1)! + (to - from) * shown.reduce((sum, layer) => sum + layer[2], 0));
  }
  return { seconds, bytes };
}

export const DEMO_WORKLOADS: readonly Workload[] = [
  {
    tavrox: 'workload/1',
    id: 'demo-night-shoot',
    name: 'Night shoot',
    note: 'Three-camera interviews for Tidal Atlas, with an offload between the takes.',
    example: true,
    items: [
      footage(
        'cameras',
        'Three cameras',
        'record',
        { layoutId: 'vc3-444', raster: UHD, frameRate: AT_25 },
        3,
        NIGHT_TAKES,
        true,
      ),
      footage(
        'camera-a',
        'Camera A alone',
        'record',
        { layoutId: 'vc3-444', raster: UHD, frameRate: AT_25 },
        1,
        NIGHT_TAKES,
      ),
      footage(
        'proxies',
        'Proxies',
        'record',
        { layoutId: 'vc3-sq', raster: HD, frameRate: AT_25 },
        3,
        NIGHT_TAKES,
        true,
      ),
      {
        kind: 'footage',
        id: 'sound',
        name: 'Sound, 96 tracks',
        action: 'record',
        essence: { kind: 'sound', sound: { tracks: 96, samplesPerSecond: 48_000, bytesPerSample: 3 } },
        streams: 1,
        takes: NIGHT_TAKES,
        buffer: ONE_SECOND,
        together: true,
      },
      footage(
        'rushes',
        'Rushes on the monitor',
        'play',
        { layoutId: 'vc3-444', raster: UHD, frameRate: AT_25 },
        1,
        ONE_REEL,
      ),
    ],
  },
  {
    tavrox: 'workload/1',
    id: 'demo-dome-master-check',
    name: 'Dome master check',
    note: 'Playing finished reels of Tidal Atlas before they go to the dome.',
    example: true,
    items: [
      footage('texture', 'Playback master', 'play', { layoutId: 'hap-q', raster: DOME, frameRate: AT_60 }, 1, ONE_REEL),
      footage(
        'frames',
        'Dome master frames',
        'play',
        { layoutId: 'exr-rgb-half', raster: DOME, frameRate: AT_60, ratio: 2.4 },
        1,
        ONE_REEL,
      ),
      footage(
        'preview',
        'Preview',
        'play',
        { layoutId: 'rdd36-standard', raster: DOME, frameRate: AT_60 },
        1,
        ONE_REEL,
      ),
      footage(
        'render',
        'Renders coming in',
        'record',
        { layoutId: 'exr-rgb-half', raster: DOME, frameRate: { numerator: 2, denominator: 1 } },
        1,
        {
          count: 1,
          seconds: 600,
          gapSeconds: 0,
          ...STAYS,
        },
      ),
    ],
  },
  {
    tavrox: 'workload/1',
    id: 'demo-kelp-sim',
    name: 'Kelp sim v12',
    note: 'The kelp forest of Tidal Atlas in a current: would a faster drive make it any faster?',
    example: true,
    items: [
      {
        kind: 'series',
        id: 'kelp',
        name: 'Kelp in the current',
        frames: {
          kind: 'grid',
          voxels: { x: 640, y: 960, z: 640 },
          occupancyShare: 0.17,
          channels: [
            { name: 'velocity', components: 3, bits: 32 },
            { name: 'density', components: 1, bits: 32 },
            { name: 'temperature', components: 1, bits: 32 },
            { name: 'surface distance', components: 1, bits: 32 },
          ],
          ratio: 1,
          headerBytes: 2_000_000,
        },
        frameCount: 420,
        versions: 2,
        computeSeconds: [14],
        queueFrames: 0,
        mostDriveShare: 0.1,
        playback: { frameRate: { numerator: 24, denominator: 1 }, showSeconds: 0.02 },
        observed: [
          { label: 'Anchor 16T', bytesPerSecond: 236e6, seconds: [8740, 8722], isWarm: false },
          { label: 'Petrel 2T', bytesPerSecond: 1460e6, seconds: [6352, 6339, 7105], isWarm: false },
          { label: 'Cormorant X2', bytesPerSecond: 410e6, seconds: [7524], isWarm: false },
        ],
      },
    ],
  },
  {
    tavrox: 'workload/1',
    id: 'demo-reef-keeper',
    name: 'Reef Keeper kiosk',
    note: 'The lobby game of the dome. Visitors wait for it: may it live on the share?',
    example: true,
    items: [
      {
        kind: 'load',
        id: 'reef',
        name: 'Reef Keeper',
        phases: [
          parsePhase('Launch: 6 s processor, 1.2 GB in 128 KiB x4, 1400 files, overlap 30%, within 20 s'),
          parsePhase('Level: 4.5 s processor, 2.8 GB in 256 KiB x8, 500 files, overlap 40%, within 15 s'),
          parsePhase('Streaming: 18 MB in 64 KiB x4, every 500 ms for 10 min, within 400 ms'),
        ],
        installBytes: 38e9,
        observed: [],
      },
      {
        kind: 'load',
        id: 'check',
        name: 'Check after an update',
        phases: [parsePhase('Check: 40 s processor, 38 GB in 1 MiB x4, 6000 files, overlap 90%, within 3 min')],
        installBytes: null,
        observed: [],
      },
      {
        kind: 'load',
        id: 'plankton',
        name: 'Plankton Parade',
        phases: [parsePhase('Launch: 2 s processor, 240 MB in 256 KiB x2, 120 files, overlap 20%, within 12 s')],
        installBytes: 4e9,
        observed: [],
      },
    ],
  },
  {
    tavrox: 'workload/1',
    id: 'demo-edit',
    name: 'Edit, three layers',
    note: 'A four-minute cut of Tidal Atlas: interviews, kelp at night over them, titles on top.',
    example: true,
    items: [
      {
        kind: 'footage',
        id: 'cut',
        name: 'The cut',
        action: 'play',
        essence: {
          kind: 'curve',
          label: 'Tidal Atlas, cut 7',
          ...layeredCut([
            [0, 240, RDD36_HIGH_UHD],
            [35, 110, RDD36_HIGH_UHD],
            [60, 84, RDD36_HIGH_UHD],
            [150, 228, RDD36_HIGH_UHD],
            [171, 180, RDD36_HIGH_UHD],
          ]),
          frameRate: AT_25,
        },
        streams: 1,
        takes: { count: 1, seconds: 240, gapSeconds: 0, ...STAYS },
        buffer: ONE_SECOND,
      },
      footage('export', 'Export', 'record', { layoutId: 'rdd36-high', raster: UHD, frameRate: AT_25 }, 1, {
        count: 1,
        seconds: 240,
        gapSeconds: 0,
        ...STAYS,
      }),
    ],
  },
];
