// npm run proof: the long proofs on real block devices and with killed processes. The last line is
// "N passed, N failed".
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { prepare, root } from './prepare.mjs';
import { runLanes, tests } from './test-runner.mjs';

await prepare();
// What computes goes beside what waits for devices that the kernel holds.
const COMPUTING = ['traces', 'stripes', 'copies'];
const all = readdirSync(join(root, 'e2e', 'proof')).map((file) => file.replace(/\.test\.ts$/, ''));
const others = all.filter((name) => !COMPUTING.includes(name));
await runLanes([tests('proof', ...others)], [tests('proof', ...COMPUTING)]);
