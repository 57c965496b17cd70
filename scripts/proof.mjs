// npm run proof: the long proofs on real block devices, with killed processes and with hostile input; with
// TAVROX_PROOF=short a fifth of them. The last line is "N passed, N failed".
import { prepare } from './prepare.mjs';
import { runStages, tests } from './test-runner.mjs';
import { ensurePostgres } from './postgres.mjs';
import { ensureWine } from './wine.mjs';

await prepare();
ensurePostgres();
ensureWine();
const device = (name) => tests('proof', `proof/devices/${name}`);
const quiet = (name) => tests('proof', `proof/quiet/${name}`);
await runStages(
  // What computes, or has the processor busy.
  [
    [tests('proof', 'proof/computed/'), tests('proof', 'proof/fuzz/')],
    [
      device('kills'),
      device('full-data-folder'),
      device('faults'),
      device('failing-disk'),
      tests('proof', 'proof/windows/'),
    ],
  ],
  // Devices that the kernel holds mostly wait: they may be held side by side, where nothing computes meanwhile. Each is
  // several gigabytes of memory, so only two at once.
  [
    [quiet('takes-and-room'), device('copies')],
    [quiet('steeper'), quiet('levels')],
  ],
  [[device('throttled')], [device('asked')]],
  ...(process.env['TAVROX_PROOF'] === 'short' ? [] : [[[device('cards')]]]),
);
