import { topologyOf } from '../core/mesh';
import { unwrapModel, measureLayout, naturalCharts } from '../core/unwrap';
import { cutsOf } from '../core/unwrap/seam-runs';
import { evenMesh, mirrorOver } from '../core/unwrap/mirror-map';
import { ball } from '../tests/shapes';
const b = ball(48, 24); for (let i = 0; i < b.positions.length; i++) b.positions[i] = Math.round(b.positions[i]! * 1e5) / 1e5;
const p = b.positions;
for (let v = 0; v < p.length; v += 3) { const x = Math.abs(p[v]!); const k = 1 + 0.5 * Math.exp(-8 * ((x - .7) ** 2 + (p[v + 1]! - .5) ** 2)) + 0.4 * Math.exp(-8 * (x ** 2 + (p[v + 2]! - 1) ** 2)); p[v]! *= k; p[v + 1]! *= k; p[v + 2]! *= k; }
const mesh = { positions: p, indices: b.indices };
const t = topologyOf(mesh);
import { mainSymmetry, symmetryPlanes, twinVertices } from '../core/mesh'; const pls = symmetryPlanes(mesh); console.log(pls, t.welded.filter((w,v)=>w===v).length); const pl = mainSymmetry(pls)!; const tw = twinVertices(mesh, t, pl.point, pl.normal); console.log(tw.paired); let nr=0,fr=0,ot=0; for (let c=0;c<mesh.indices.length;c+=3){const s=[0,1,2].map(k=>{const v=t.welded[mesh.indices[c+k]!]!; return tw.ofVertex[v]===v?0:Math.sign(p[v*3]!-pl.point[0])}); if (Math.min(...s)>=0&&Math.max(...s)>0) nr++; else if (Math.max(...s)<=0) fr++; else ot++;} console.log(nr,fr,ot);
const ev = evenMesh(mesh, t); const m = ev?.map; const vt = m!.ofVertex;
console.log(m?.plane, m && m.ofFace.filter((f) => f >= 0).length, b.indices.length / 3);
const seams = new Uint8Array(t.edges.uses.length);
const charts = naturalCharts(mesh, t, { bound: 1.06, seams });
const cuts = cutsOf(charts, t, seams); const names = new Map(Array.from(t.edges.uses, (_, e) => [[t.edges.ends[e*2]!, t.edges.ends[e*2+1]!].sort((a,b)=>a-b).join(), e]));
let n = 0, odd = 0; cuts.forEach((x, e) => { if (x) { n++; const w=[vt[t.edges.ends[e*2]!]!, vt[t.edges.ends[e*2+1]!]!].sort((a,b)=>a-b).join(); const g=names.get(w); if (g===undefined||!cuts[g]) odd++; } });
console.log(charts.length, 'cuts', n, 'without twin', odd);
const { planCuts } = await import('../core/unwrap/natural-plan');
const plan = planCuts(mesh, t, { bound: 1.06, seams });
console.log('plane', plan.plane, plan.steps.map((s) => s.islands).join(' '));
const { cutsAfter } = await import('../core/unwrap/natural-plan');
const { mirrorOver } = await import('../core/unwrap/mirror-map');
const own = topologyOf(plan.coarse.mesh); const mm = mirrorOver(plan.coarse.mesh, own, plan.plane!)!;
console.log('coarse faces', plan.coarse.mesh.indices.length/3, 'unpaired', mm.ofFace.filter(f=>f<0).length);
for (let k = 0; k <= plan.steps.length; k++) { const c = cutsAfter(plan, k); let n=0,o=0; c.forEach((x,e)=>{ if(x){n++; if(!c[mm.ofEdge[e]!]) o++;} }); console.log(k, n, o); }
