import { hopOf } from '#core/links/connection.ts';
import { SIZING_VERSION, USUAL_POLICY, type Sizing } from '#core/sizing/project.ts';
import { searchBuilds } from '#core/sizing/search.ts';
import { median } from '#core/trace/spread.ts';

const TIMES = 5;

/** A million builds: sixteen drives, ten enclosures, ten connections, up to 36 drives and three spares in each. */
const MILLION: Sizing = {
  tavrox: SIZING_VERSION,
  name: 'A million builds',
  days: 86,
  currency: '',
  workload: null,
  materials: [{ name: 'Cameras', bytesPerDay: 2e12, fromDay: 1, toDay: 30, keepDays: null, copies: 1 }],
  drives: Array.from({ length: 16 }, (_, index) => ({
    id: `${index}`,
    label: `Drive ${index}`,
    capacityBytes: (2 + index) * 1e12,
    price: 50 + 37 * index,
    writeBytesPerSecond: 2e8,
    readBytesPerSecond: 2e8,
    enduranceBytes: null,
    loudnessDecibels: null,
    profile: null,
  })),
  enclosures: Array.from({ length: 10 }, (_, index) => ({
    label: `Box ${index}`,
    slots: 4 * (index + 1),
    price: 100 * index,
  })),
  connections: Array.from({ length: 10 }, (_, index) => ({
    label: `Link ${index}`,
    price: 40 * index,
    hops: [hopOf('ethernet-10')!],
  })),
  policy: { ...USUAL_POLICY, mostDrives: 36, mostSpares: 3 },
};

/** Time to search a million builds exactly, the first time and in the middle of several. */
export function benchSizing(): string[] {
  const seconds: number[] = [];
  let builds = 0;
  for (let time = 0; time < TIMES; time += 1) {
    const from = performance.now();
    builds = searchBuilds(MILLION)!.builds;
    seconds.push((performance.now() - from) / 1000);
  }
  const shown = `${builds.toLocaleString('en-US')} builds: ${seconds[0]!.toFixed(2)} s first, ${median(seconds).toFixed(2)} s in the middle`;
  return ['searching builds exactly', shown, 'under 1 s'];
}
