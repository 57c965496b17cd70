import { hopOf } from '#core/2-trade/links/connection.ts';
import { NONE_THERE } from '#core/5-answers/sizing/drive-choice.ts';
import { PLAIN_MATERIAL } from '#core/5-answers/sizing/material.ts';
import { searchProject } from '#core/5-answers/sizing/project-search.ts';
import {
  MOST_DRIVES,
  MOST_SPARES,
  SIZING_VERSION,
  USUAL_POLICY,
  type Sizing,
  type SizingDrive,
} from '#core/5-answers/sizing/project.ts';
import { runOfTrace } from '#core/4-runs/supply/bare-trace.ts';
import { PROFILE_VERSION, profileRunOf, type Profile } from '#core/4-runs/supply/profile.ts';
import { shoot } from '#core/testing/sizing-of.ts';
import { median } from '#core/1-ground/numbers/statistics.ts';
import { fourHours } from './simulation.ts';

const TIMES = 5;

/** A million builds: sixteen drives, ten enclosures, ten connections, up to 36 drives and three spares in each. */
const MILLION: Sizing = {
  tavrox: SIZING_VERSION,
  name: 'A million builds',
  days: 86,
  currency: '',
  startsOn: null,
  units: 'decimal',
  phases: [],
  stages: [],
  workload: null,
  materials: [{ ...PLAIN_MATERIAL, bytesPerDay: 2e12, toDay: 30 }],
  drives: Array.from({ length: 16 }, (_, index): SizingDrive => ({
    id: `${index}`,
    label: `Drive ${index}`,
    medium: 'unknown',
    capacityBytes: (2 + index) * 1e12,
    price: 50 + 37 * index,
    writeBytesPerSecond: 2e8,
    readBytesPerSecond: 2e8,
    enduranceBytes: null,
    loudnessDecibels: null,
    ...NONE_THERE,
    profile: null,
  })),
  enclosures: Array.from({ length: 10 }, (_, index) => ({
    label: `Box ${index}`,
    slots: 4 * (index + 1),
    price: 100 * index,
    parts: [],
    slot: null,
    most: 1,
  })),
  connections: Array.from({ length: 10 }, (_, index) => ({
    label: `Link ${index}`,
    price: 40 * index,
    parts: [],
    hops: [hopOf(['ethernet-1', 'ethernet-10', 'ethernet-25'][index % 3]!)!],
  })),
  policy: { ...USUAL_POLICY, mostDrives: MOST_DRIVES, mostSpares: MOST_SPARES },
};

/** The same with a run of four hours on every drive, each judged at three links. */
function measured(): Sizing {
  const run = runOfTrace(fourHours(), 'write');
  const drives = MILLION.drives.map((drive): SizingDrive => {
    const profile: Profile = {
      tavrox: PROFILE_VERSION,
      drive: run.drive,
      connection: { hops: [] },
      runs: [profileRunOf(run)],
    };
    return { ...drive, profile };
  });
  return { ...MILLION, drives, workload: shoot(), policy: { ...MILLION.policy, needsProof: false } };
}

function searched(name: string, sizing: Sizing): string[] {
  const seconds: number[] = [];
  let builds = 0;
  for (let time = 0; time < TIMES; time += 1) {
    const from = performance.now();
    builds = searchProject(sizing)!.stores.reduce((sum, { result }) => sum + result.builds, 0);
    seconds.push((performance.now() - from) / 1000);
  }
  const shown = `${builds.toLocaleString('en-US')} builds: ${seconds[0]!.toFixed(2)} s first, ${median(seconds).toFixed(2)} s in the middle`;
  return [name, shown, 'under 1 s'];
}

/** Time to search a million builds exactly, the first time and in the middle of several. */
export function benchSizing(): string[][] {
  return [
    searched('searching builds exactly, by room', MILLION),
    searched('the same, each judged by a run of its drive', measured()),
  ];
}
