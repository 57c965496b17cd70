import { jobsOnLevels } from './held-jobs.ts';

jobsOnLevels('levels', [
  { held: { fast: 200, slow: 60, after: 600 }, breaking: [140, 1.5], holding: [50, 1] },
  { held: { fast: 160, slow: 45, after: 500 }, breaking: [115, 1.8], holding: [38, 0.5] },
  { held: { fast: 240, slow: 80, after: 700 }, breaking: [160, 1.5], holding: [66, 1] },
]);
