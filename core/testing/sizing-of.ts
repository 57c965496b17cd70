import { NEW_FOOTAGE, readFootage } from '#core/3-jobs/demand/footage/footage-form.ts';
import { WORKLOAD_VERSION, type Workload } from '#core/3-jobs/demand/workload.ts';
import { hopOf } from '#core/2-trade/links/connection.ts';
import { NONE_THERE } from '#core/5-answers/sizing/drive-choice.ts';
import { PLAIN_MATERIAL, type Material } from '#core/5-answers/sizing/material.ts';
import { parseEnclosure, parseSizingConnection } from '#core/5-answers/sizing/part-lines.ts';
import {
  SIZING_VERSION,
  USUAL_POLICY,
  type Sizing,
  type SizingDrive,
  type SizingPolicy,
} from '#core/5-answers/sizing/project.ts';

/** Projects of which everything is known. For tests. */

export const TB = 1e12;
const MB = 1e6;

export const materialOf = (more: Partial<Material> = {}): Material => ({ ...PLAIN_MATERIAL, toDay: 30, ...more });

const driveOf = (more: Partial<SizingDrive>): SizingDrive => ({
  id: 'drive',
  label: 'Drive',
  medium: 'unknown',
  capacityBytes: TB,
  price: 100,
  writeBytesPerSecond: null,
  readBytesPerSecond: null,
  enduranceBytes: null,
  loudnessDecibels: null,
  ...NONE_THERE,
  profile: null,
  ...more,
});

export const DISC = driveOf({
  id: 'disc',
  label: 'Disc',
  capacityBytes: 16 * TB,
  price: 290,
  writeBytesPerSecond: 124 * MB,
  readBytesPerSecond: 124 * MB,
});
export const FLASH = driveOf({
  id: 'flash',
  label: 'Flash',
  capacityBytes: 8 * TB,
  price: 700,
  writeBytesPerSecond: 900 * MB,
  readBytesPerSecond: 2000 * MB,
});

/** Forty days with a terabyte on each of the first thirty; discs and flash, two boxes, two links. */
export function sizingOf(more: Partial<Omit<Sizing, 'policy'>> & { policy?: Partial<SizingPolicy> } = {}): Sizing {
  const { policy, ...rest } = more;
  return {
    tavrox: SIZING_VERSION,
    name: 'Tidal Atlas',
    days: 40,
    currency: 'EUR',
    startsOn: null,
    units: 'decimal',
    phases: [],
    materials: [materialOf()],
    drives: [DISC, FLASH],
    enclosures: ['small box: 4 slots, 200', 'large box: 12 slots, 900'].map(parseEnclosure),
    connections: ['1 Gb/s: 0 over Ethernet 1 Gb/s', '10 Gb/s: 180 over Ethernet 10 Gb/s'].map(parseSizingConnection),
    stages: [],
    workload: null,
    ...rest,
    policy: { ...USUAL_POLICY, mostDrives: 8, ...policy },
  };
}

/** The same behind links that never bind. */
export const behindWideLinks = (sizing: Sizing): Sizing => ({
  ...sizing,
  connections: sizing.connections.map((one) => ({ ...one, hops: [hopOf('ethernet-100')!] })),
});

/** Cameras that record. */
export function shoot(streams = '3'): Workload {
  const texts = { ...NEW_FOOTAGE.texts, format: '3840x2160 VC-3 444 25p', name: 'Three cameras', streams };
  const { item, errors } = readFootage({ ...NEW_FOOTAGE, texts }, 'cameras');
  if (!item) throw new Error(JSON.stringify(errors));
  return { tavrox: WORKLOAD_VERSION, id: 'night', name: 'Night', note: '', example: false, items: [item] };
}

const ADDED_LATER = [
  ...['startsOn', 'units', 'phases', 'choice', 'reckonedAs', 'during', 'elsewhere'],
  ...['parts', 'slot', 'there', 'thereFor', 'most', 'daysAWeek', 'copySurvives', 'copySeconds', 'copyVerified'],
  ...['leastSpares', 'medium', 'version', 'shared', 'stages'],
];

/** A document as it was written before there were stores, parts and dates. */
export const asFirstWritten = (document: object): unknown =>
  JSON.parse(JSON.stringify(document, (key, value: unknown) => (ADDED_LATER.includes(key) ? undefined : value)));
