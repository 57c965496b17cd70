import { jobsOnLevels } from './held-jobs.ts';

jobsOnLevels('levels', [
  { held: { fast: 200, slow: 60, after: 600 }, breaking: [100, 1], holding: [50, 1] },
  { held: { fast: 160, slow: 45, after: 500 }, breaking: [80, 1.5], holding: [38, 0.5] },
  { held: { fast: 240, slow: 80, after: 700 }, breaking: [140, 1], holding: [66, 1] },
]);
