import { hopOf } from '#core/links/connection.ts';
import { USUAL_POLICY, type SizingPlan } from '#core/sizing/project.ts';

/** The plan of the demo workspace: thirty days of shooting and eight weeks of finishing. All prices are made up. */
export const DEMO_PLAN: SizingPlan = {
  name: 'Tidal Atlas',
  days: 86,
  currency: 'EUR',
  materials: [
    { name: 'Three cameras', bytesPerDay: 1.3e12, fromDay: 1, toDay: 30, keepDays: null, copies: 1 },
    { name: 'Interviews', bytesPerDay: 0.24e12, fromDay: 5, toDay: 20, keepDays: null, copies: 1 },
    { name: 'Proxies', bytesPerDay: 0.09e12, fromDay: 2, toDay: 31, keepDays: null, copies: 1 },
    { name: 'Kelp cache', bytesPerDay: 0.68e12, fromDay: 31, toDay: 64, keepDays: 12, copies: 1 },
    { name: 'Dome masters', bytesPerDay: 0.32e12, fromDay: 45, toDay: 86, keepDays: 20, copies: 1 },
    { name: 'Reef Keeper builds', bytesPerDay: 0.4e12, fromDay: 50, toDay: 50, keepDays: null, copies: 1 },
  ],
  enclosures: [
    { label: 'desk box', slots: 4, price: 240 },
    { label: 'tall box', slots: 8, price: 560 },
    { label: 'rack shelf', slots: 16, price: 1180 },
  ],
  connections: [
    { label: 'the 1 Gb/s that is there', price: 0, hops: [hopOf('ethernet-1')!] },
    { label: '10 Gb/s card and cable', price: 190, hops: [hopOf('ethernet-10')!] },
    { label: '40 Gb/s cable, direct', price: 330, hops: [hopOf('tunnel-40')!] },
  ],
  // Several cameras at once on heads that move were not measured: the floors are believed, and it is said.
  policy: { ...USUAL_POLICY, mostDrives: 16, needsProof: false },
};
