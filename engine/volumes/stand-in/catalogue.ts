import { bindingHop, hopOf, type Connection } from '#core/2-trade/links/connection.ts';
import type { Medium } from '#core/2-trade/drives/medium.ts';
import type { DeviceModel } from '#engine/volumes/stand-in/device.ts';

/** A simulated drive that ships with Tavrox. Made up: no real drive behaves exactly like it. */
export interface StandIn {
  id: string;
  label: string;
  description: string;
  medium: Medium;
  connection: Connection;
  model: DeviceModel;
}

const MB = 1e6;
const GB = 1e9;
const TB = 1e12;

const chain = (...hops: ReturnType<typeof hopOf>[]): Connection => ({
  hops: hops.filter((hop) => hop !== undefined),
});

/** Parts that most flash shares. */
const FLASH = {
  zones: null,
  spinUpSeconds: 0,
  requestSeconds: { write: 22e-6, read: 68e-6 },
  parallel: 64,
  fileSeconds: 60e-6,
  nameSeconds: 0.4e-6,
  serverMemoryBytes: 0,
  noise: 0.03,
};

const STEADY_CACHE = { shareOfFree: 1, sawtooth: null, idleSeconds: 3 };

function standIn(own: Omit<StandIn, 'model'> & { model: Omit<DeviceModel, 'linkBytesPerSecond'> }): StandIn {
  const linkBytesPerSecond = bindingHop(own.connection)?.ceilingBytesPerSecond ?? Infinity;
  return { ...own, model: { ...own.model, linkBytesPerSecond } };
}

const ANCHOR = {
  writeBytesPerSecond: 266 * MB,
  readBytesPerSecond: 266 * MB,
  cache: null,
  zones: { outerBytesPerSecond: 266 * MB, innerBytesPerSecond: 124 * MB, seekSeconds: 12.2e-3 },
  spinUpSeconds: 7,
  requestSeconds: { write: 0.2e-3, read: 0.4e-3 },
  parallel: 32,
  fileSeconds: 9e-3,
  nameSeconds: 4e-6,
  serverMemoryBytes: 0,
  noise: 0.02,
  thermal: { restCelsius: 31, riseCelsius: 9, timeConstantSeconds: 900, throttle: null },
};

/** A portable drive on a 10 Gb/s cable; there are two of them. */
const CORMORANT = {
  ...FLASH,
  writeBytesPerSecond: 980 * MB,
  readBytesPerSecond: 1010 * MB,
  requestSeconds: { write: 90e-6, read: 140e-6 },
  parallel: 16,
  fileSeconds: 0.4e-3,
  cache: { ...STEADY_CACHE, bytes: 120 * GB, floorBytesPerSecond: 400 * MB, foldBytesPerSecond: 220 * MB },
  noise: 0.025,
  thermal: { restCelsius: 29, riseCelsius: 31, timeConstantSeconds: 240, throttle: null },
  totalBytes: 2 * TB,
  freeBytes: 1.71 * TB,
};

export const STAND_INS: readonly StandIn[] = [
  standIn({
    id: 'petrel-2t',
    label: 'Petrel 2T',
    description: 'A fast flash drive whose cache runs out after 190 GB, and that slows at 78 °C.',
    medium: 'flash',
    connection: chain(hopOf('pcie-4', 4)),
    model: {
      ...FLASH,
      writeBytesPerSecond: 5200 * MB,
      readBytesPerSecond: 6600 * MB,
      cache: { ...STEADY_CACHE, bytes: 190 * GB, floorBytesPerSecond: 1450 * MB, foldBytesPerSecond: 600 * MB },
      thermal: {
        restCelsius: 34,
        riseCelsius: 52,
        timeConstantSeconds: 140,
        throttle: { atCelsius: 78, resumeCelsius: 70, factor: 0.6 },
      },
      totalBytes: 2 * TB,
      freeBytes: 1.46 * TB,
    },
  }),
  standIn({
    id: 'limpet-1t',
    label: 'Limpet 1T',
    description: 'Budget flash: fast for 46 GB, then it swings between 90 and 640 MB/s.',
    medium: 'flash',
    connection: chain(hopOf('pcie-3', 4)),
    model: {
      ...FLASH,
      writeBytesPerSecond: 2100 * MB,
      readBytesPerSecond: 2400 * MB,
      requestSeconds: { write: 30e-6, read: 90e-6 },
      cache: {
        ...STEADY_CACHE,
        bytes: 46 * GB,
        floorBytesPerSecond: 90 * MB,
        sawtooth: { highBytesPerSecond: 640 * MB, periodSeconds: 7, highShare: 0.36 },
        foldBytesPerSecond: 180 * MB,
      },
      noise: 0.05,
      thermal: { restCelsius: 36, riseCelsius: 30, timeConstantSeconds: 120, throttle: null },
      totalBytes: 1 * TB,
      freeBytes: 0.52 * TB,
    },
  }),
  standIn({
    id: 'skerry-512',
    label: 'Skerry 512',
    description: 'A laptop’s built-in flash. Its cache is part of the free space, so it shrinks as the drive fills.',
    medium: 'flash',
    connection: chain(hopOf('pcie-4', 4)),
    model: {
      ...FLASH,
      writeBytesPerSecond: 2900 * MB,
      readBytesPerSecond: 3200 * MB,
      cache: {
        ...STEADY_CACHE,
        bytes: 58 * GB,
        shareOfFree: 0.28,
        floorBytesPerSecond: 310 * MB,
        foldBytesPerSecond: 240 * MB,
      },
      noise: 0.04,
      thermal: {
        restCelsius: 41,
        riseCelsius: 44,
        timeConstantSeconds: 90,
        throttle: { atCelsius: 82, resumeCelsius: 76, factor: 0.8 },
      },
      totalBytes: 512 * GB,
      freeBytes: 148 * GB,
    },
  }),
  standIn({
    id: 'cormorant-x2',
    label: 'Cormorant X2',
    description: 'A portable flash drive on a 10 Gb/s cable: 120 GB at cable speed, then 400 MB/s.',
    medium: 'flash',
    connection: chain(hopOf('usb-10')),
    model: CORMORANT,
  }),
  standIn({
    id: 'anchor-16t',
    label: 'Anchor 16T',
    description: 'A spinning drive, slower from the outer to the inner tracks, that has to spin up first.',
    medium: 'spinning',
    connection: chain(hopOf('sata-6')),
    model: { ...ANCHOR, totalBytes: 16 * TB, freeBytes: 11.2 * TB },
  }),
  standIn({
    id: 'jetty-4',
    label: 'Jetty-4',
    description:
      'A share of four spinning drives with single parity on a 1 Gb/s port: the cable binds, small files crawl.',
    medium: 'network',
    connection: chain(hopOf('sata-6'), hopOf('ethernet-1')),
    model: {
      ...ANCHOR,
      // Three data drives in one stream; parity costs small random writes a read and a write more.
      writeBytesPerSecond: 640 * MB,
      readBytesPerSecond: 690 * MB,
      zones: { outerBytesPerSecond: 690 * MB, innerBytesPerSecond: 320 * MB, seekSeconds: 14e-3 },
      spinUpSeconds: 0,
      requestSeconds: { write: 0.9e-3, read: 0.7e-3 },
      parallel: 16,
      fileSeconds: 14e-3,
      nameSeconds: 30e-6,
      serverMemoryBytes: 12 * GB,
      noise: 0.015,
      totalBytes: 48 * TB,
      freeBytes: 19.6 * TB,
    },
  }),
  standIn({
    id: 'jetty-flash',
    label: 'Jetty flash',
    description: 'A share of flash in a one-lane slot behind 10 Gb/s: the slot binds below the network.',
    medium: 'network',
    connection: chain(hopOf('pcie-3', 1, 4), hopOf('ethernet-10')),
    model: {
      ...FLASH,
      writeBytesPerSecond: 1900 * MB,
      readBytesPerSecond: 2300 * MB,
      cache: { ...STEADY_CACHE, bytes: 90 * GB, floorBytesPerSecond: 700 * MB, foldBytesPerSecond: 300 * MB },
      requestSeconds: { write: 0.35e-3, read: 0.32e-3 },
      parallel: 32,
      fileSeconds: 1.1e-3,
      nameSeconds: 12e-6,
      serverMemoryBytes: 24 * GB,
      noise: 0.02,
      thermal: { restCelsius: 38, riseCelsius: 20, timeConstantSeconds: 200, throttle: null },
      totalBytes: 8 * TB,
      freeBytes: 5.3 * TB,
    },
  }),
  standIn({
    id: 'spray',
    label: 'Spray',
    description: 'A memory disk: very fast, small, and empty after a restart.',
    medium: 'memory',
    connection: chain(),
    model: {
      ...FLASH,
      writeBytesPerSecond: 8200 * MB,
      readBytesPerSecond: 11_500 * MB,
      requestSeconds: { write: 1.4e-6, read: 1.1e-6 },
      cache: null,
      fileSeconds: 8e-6,
      noise: 0.02,
      thermal: { restCelsius: 40, riseCelsius: 4, timeConstantSeconds: 60, throttle: null },
      totalBytes: 64 * GB,
      freeBytes: 60 * GB,
    },
  }),
  standIn({
    id: 'cormorant-x2-b',
    label: 'Cormorant X2 B',
    description: 'A second portable drive of the same kind: no difference should be shown.',
    medium: 'flash',
    connection: chain(hopOf('usb-10')),
    model: CORMORANT,
  }),
];
