import { MADE_KINDS } from '#core/testing/job-oracle.ts';
import { outcomeOf, tellAndDo } from '#core/testing/whole-jobs.ts';
const n = Number(process.argv[2] ?? 30); const from = Number(process.argv[3] ?? 0); const only = process.argv[4];
let judged=0;
for (const kind of MADE_KINDS) { if (only && kind!==only) continue;
  const counts: Record<string, number> = {}; const bad: string[] = [];
  const t0 = performance.now();
  for (let seed = from; seed < from+n; seed++) {
    const told = tellAndDo(kind, seed); const o = outcomeOf(told); counts[o] = (counts[o] ?? 0) + 1;
    const words = told.verdict.verdict; counts['~'+words]=(counts['~'+words]??0)+1;
    if (['false-holds','false-breaks','break-elsewhere'].includes(o) || (process.env.UNTOLD && o.endsWith('untold'))) bad.push(`${o} ${kind} ${seed}`);
  }
  console.log(kind.padEnd(9), JSON.stringify(counts), Math.round((performance.now()-t0)/n)+' ms each');
  if (bad.length) console.log('   ', bad.slice(0,25).join(' | '));
}
