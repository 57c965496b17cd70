import { levelsAndLossOf } from '#core/trace/levels-and-loss.ts';
import { linkChoices } from '#core/links/link-choices.ts';
import { readTrace } from '#core/trace/reading.ts';
const mk = (parts:[number,number][],noise=0)=>{const s=[0],b=[0];let x=7;const rnd=()=>{x=(x*1103515245+12345)%2147483648;return x/2147483648;};for(const [r,t] of parts){const n=Math.round(t*10);for(let i=0;i<n;i++){s.push(s.at(-1)!+0.1);b.push(b.at(-1)!+r*1e6*0.1*(1+noise*(rnd()-0.5)*3.4));}}return {seconds:s,bytes:b};};
for (const [parts,noise] of [[[[2000,25],[90,14375]],0.05],[[[1000,10],[0,2],[1000,88]],0]] as [[number,number][],number][]) {
 const p=mk(parts,noise); let t=performance.now(); const r=readTrace(p); const t1=performance.now()-t;
 const k={levelEnds:r!.levels.map(l=>l.toBytes),slopes:r!.slope!==null,swing:null};
 t=performance.now(); const m=levelsAndLossOf(p,k); const t2=performance.now()-t; t=performance.now(); const m2=levelsAndLossOf(p,k,linkChoices().map(h=>h.ceilingBytesPerSecond)); const t3=performance.now()-t;
 console.log(p.seconds.length,'read',t1|0,'part',t2|0,'with ceilings',t3|0, m2.behind.length,'path',m.path.seconds.length,'L',m.lost.windowSeconds.length, 'json', JSON.stringify(m).length, JSON.stringify(m2).length, JSON.stringify(m.lost).slice(0,200));
}
