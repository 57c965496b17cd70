import { Command } from 'commander';
import { addFitCommand } from '#cli/commands/fit.ts';
import { reportError } from '#cli/output.ts';
import { readFileSync } from "node:fs"; const all = readFileSync(0,"utf8").split("\n").filter(Boolean).map((l)=>l.split(" "));
for (const argv of all) {
  console.log('== ' + argv.join(' '));
  const p = new Command('x').exitOverride(); addFitCommand(p);
  const t = performance.now();
  try { process.exitCode = 0; await p.parseAsync(['node','x','fit',...argv]); } catch (e) { reportError(e); if (process.env.STACK) console.log(e); }
  console.log('   exit', process.exitCode, Math.round(performance.now()-t)+' ms');
}
process.exitCode = 0;
