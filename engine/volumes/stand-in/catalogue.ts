import { hopOf, type Connection } from '#core/links/connection.ts';
import type { Medium } from '#core/run/run-document.ts';
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

export const STAND_INS: readonly StandIn[] = [
  {
    id: 'petrel-2t',
    label: 'Petrel 2T',
    description: 'A fast flash drive whose cache runs out after 190 GB.',
    medium: 'flash',
    connection: chain(hopOf('pcie-4', 4)),
    model: {
      writeBytesPerSecond: 5200 * MB,
      readBytesPerSecond: 6600 * MB,
      cache: { bytes: 190 * GB, floorBytesPerSecond: 1450 * MB, foldBytesPerSecond: 600 * MB },
      zones: null,
      spinUpSeconds: 0,
      requestSeconds: 25e-6,
      noise: 0.03,
      thermal: { restCelsius: 34, riseCelsius: 36, timeConstantSeconds: 70 },
      totalBytes: 2 * TB,
      freeBytes: 1.46 * TB,
    },
  },
  {
    id: 'anchor-16t',
    label: 'Anchor 16T',
    description: 'A spinning drive, slower from the outer to the inner tracks, that has to spin up first.',
    medium: 'spinning',
    connection: chain(hopOf('sata-6')),
    model: {
      writeBytesPerSecond: 266 * MB,
      readBytesPerSecond: 266 * MB,
      cache: null,
      zones: { outerBytesPerSecond: 266 * MB, innerBytesPerSecond: 124 * MB },
      spinUpSeconds: 7,
      requestSeconds: 8e-3,
      noise: 0.02,
      thermal: { restCelsius: 31, riseCelsius: 9, timeConstantSeconds: 900 },
      totalBytes: 16 * TB,
      freeBytes: 11.2 * TB,
    },
  },
];
