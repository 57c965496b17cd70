import { parseCalendar } from '#core/5-answers/sizing/calendar.ts';
import { parseMaterial, withCalendar } from '#core/5-answers/sizing/material.ts';
import { parseEnclosure, parseSizingConnection } from '#core/5-answers/sizing/part-lines.ts';
import { USUAL_POLICY, type SizingPlan } from '#core/5-answers/sizing/project.ts';

const PHASES = parseCalendar(['Shooting: 30 days', 'Finishing: 8 weeks']);

const MATERIALS = [
  'Three cameras: 3 × 3840x2160 VC-3 444 25p × 40 min a day, during Shooting, second copy, away',
  'Interviews: 240 GB a day, days 5–20, second copy, away',
  'Proxies: 90 GB a day, days 2–31',
  'Kelp cache: 420 frames × 1.6 GB a day, days 31–64, keep 12 days',
  'Dome masters: 320 GB a day, days 45–86, keep 20 days, second copy 20 days',
  'Reef Keeper builds: 4 × 100 GB, day 50',
];

/** The plan of the demo workspace: thirty days of shooting and eight weeks of finishing. All prices are made up. */
export const DEMO_PLAN: SizingPlan = {
  name: 'Tidal Atlas',
  days: 86,
  currency: 'EUR',
  startsOn: '2027-03-01',
  units: 'decimal',
  phases: PHASES,
  choice: [],
  materials: withCalendar(MATERIALS.map(parseMaterial), PHASES),
  enclosures: [
    'shelf at the wall: 1 slot, 0',
    'desk box: 4 slots, 240',
    'tall box: 8 slots, 560',
    'rack shelf: 16 slots over SATA 6 Gb/s, 1100 + rails 80',
  ].map(parseEnclosure),
  connections: [
    'the 1 Gb/s that is there: 0 over Ethernet 1 Gb/s',
    '10 Gb/s: card 150 + cable 40 over Ethernet 10 Gb/s',
    '40 Gb/s, direct: cable 330 over USB4 40 Gb/s',
  ].map(parseSizingConnection),
  stages: [],
  // Several cameras at once on heads that move were not measured: the floors are believed, and it is said.
  policy: { ...USUAL_POLICY, mostDrives: 16, needsProof: false },
};
