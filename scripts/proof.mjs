// npm run proof: the long proofs on real block devices, with killed processes and with hostile input; with
// TAVROX_PROOF=short a fifth of them. The last line is "N passed, N failed".
import { prepare } from './prepare.mjs';
import { runStages, tests } from './test-runner.mjs';

await prepare();
const device = (name) => tests('proof', `proof/devices/${name}`);
await runStages(
  // What computes, or has the processor busy, goes beside what waits for devices that the kernel holds.
  [
    [device('throttled'), device('copies'), device('kills')],
    [
      tests('proof', 'proof/computed/'),
      device('faults'),
      device('failing-disk'),
      device('full-data-folder'),
      tests('proof', 'proof/fuzz/'),
    ],
  ],
  // Devices that mostly wait may be held side by side, where nothing computes meanwhile.
  ['levels', 'steeper', 'takes-and-room'].map((name) => [tests('proof', `proof/quiet/${name}`)]),
);
