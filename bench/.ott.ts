import { readFileSync } from 'node:fs';
import { readModel } from '../core/formats';
import { groupByEdge, topologyOf, symmetryPlanes, findIslands } from '../core/mesh';
import { unwrapModel } from '../core/unwrap';
const mesh = await readModel(`o.glb`, readFileSync(`app/public/demo/${process.argv[2] ?? 'otter'}.glb`), new Map());
const t = topologyOf(mesh); const g = groupByEdge(t.edges, mesh.indices.length / 3);
console.log(symmetryPlanes(mesh));
const out = unwrapModel(mesh, { size: 2048, margin: 16, seams: 'auto', cut: 'natural' });
const isl = findIslands(out);
const rows: any = {};
g.ofFace.forEach((s, f) => { const r = rows[s] ??= { part: mesh.parts[mesh.faceParts[f]!], tri: 0, isl: new Set() }; r.tri++; r.isl.add(isl.ofFace[f]); });
for (const s in rows) console.log(s, rows[s].part, rows[s].tri, rows[s].isl.size);
import { measureShapes, restShapes } from '../core/unwrap';
for (const s in rows) {
  const faces: number[] = []; g.ofFace.forEach((x, f) => { if (String(x) === s) faces.push(f); });
  for (const id of rows[s].isl) {
  const idx = Uint32Array.from(faces.filter((f) => isl.ofFace[f] === id).flatMap((f) => [0, 1, 2].map((k) => out.indices[f * 3 + k]!)));
  const m = measureShapes(idx, restShapes({ positions: out.positions, indices: idx }), out.uvs);
  if (m.stretchLinf > 2 || m.stretchL2 > 1.12) console.log(s, rows[s].part, idx.length / 3, m.stretchL2.toFixed(3), m.stretchLinf.toFixed(2));
  }
}
