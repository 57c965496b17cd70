import { outcomeOf, tellAndDo } from '#core/testing/whole-jobs.ts';
const r=(x:number)=>Math.abs(x)>1e5?(x/1e6).toFixed(1)+'M':+x.toFixed(3);
const fmt=(o:any)=>JSON.stringify(o,(k,v)=>typeof v==='number'?r(v):v);
for (let i=2;i<process.argv.length;i+=2){const kind=process.argv[i] as any, seed=Number(process.argv[i+1]);
const t=tellAndDo(kind,seed); const {made,verdict:v}=t;
console.log('#####',kind,seed,outcomeOf(t)); const d={...made.drive} as any; for (const k of Object.keys(d)) if (d[k]===null||(Array.isArray(d[k])&&!d[k].length)) delete d[k];
console.log(fmt(d),'trace',r(made.traceSeconds),'noise',r(made.noise)); console.log('job',fmt(made.job));
const e=t.supply.traces[0]!; console.log('levels',fmt(e.parted![0]!.levels),'before',fmt(e.parted![0]!.before?.bytes??null),'lost',fmt(e.parted![0]!.lost).slice(0,300));
console.log('rate',r(t.demand.bytesPerSecond),'said',v.verdict,v.reason,'take',v.breaksInTake,'at',v.breaksAtSeconds,v.breaksAtLatestSeconds,'g',r(v.guaranteedBytesPerSecond??0),'least',r(v.leastBufferBytes??0),'cont',v.continued);
const h=(x:any)=>x.what[0]+x.take+'@'+x.seconds.toFixed(2);
console.log('quick',t.quick().map(h).join(' '),' slow',t.slow().map(h).join(' '));}
