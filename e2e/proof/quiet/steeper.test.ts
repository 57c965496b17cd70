import { jobsOnLevels } from './held-jobs.ts';

jobsOnLevels('steeper', [
  { held: { fast: 280, slow: 40, after: 400 }, breaking: [120, 1.5], holding: [33, 2] },
  { held: { fast: 180, slow: 70, after: 500 }, breaking: [145, 1.5], holding: [57, 1] },
  { held: { fast: 220, slow: 55, after: 900 }, breaking: [135, 1], holding: [46, 1] },
]);
