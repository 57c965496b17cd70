// npm run proof: the long proofs on real block devices and with killed processes. The last line is
// "N passed, N failed".
import { prepare } from './prepare.mjs';
import { runLanes, tests } from './test-runner.mjs';

await prepare();
await runLanes([tests('proof')]);
