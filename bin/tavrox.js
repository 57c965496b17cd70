#!/usr/bin/env node
import { prepare } from '../scripts/prepare.mjs';

// Words about the set-up go to standard error: standard output belongs to the command.
await prepare();
const { main } = await import('../dist/node/tavrox.js');
process.exitCode = await main(process.argv);
