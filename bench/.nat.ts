import { unwrapModel, measureLayout } from '../core/unwrap';
import { naturalShapes } from './unwrap-shapes';
import { unwrapModels } from './unwrap-models';
import type { Mesh } from '../core/mesh';
const want = process.argv[2] ? new Set(process.argv[2].split(',')) : null;
const cuts = (process.argv[3] ?? 'natural').split(',');
const modelOf = (name: string, mesh: any): Mesh => mesh.parts ? mesh : ({ ...mesh, normals: mesh.positions, uvs: null, faceParts: new Uint16Array(mesh.indices.length / 3), parts: [name] });
const list = [...naturalShapes(), ...(await unwrapModels())];
console.log('name'.padEnd(16), 'cut', 'tri isl L2 Linf seam sight seam*sight fill sec');
for (const { name, mesh } of list) {
  if (want && !want.has(name)) continue;
  for (const cut of cuts) {
  const t = performance.now();
  try {
  const laid = unwrapModel(modelOf(name, mesh), { size: 2048, margin: 16, seams: 'auto', cut: cut as any });
  const s = (performance.now() - t) / 1000;
  const m = measureLayout(laid, 2048);
  console.log(name.padEnd(16), cut[0], String(mesh.indices.length / 3).padStart(6), String(m.islands).padStart(3), m.stretchL2.toFixed(4), m.stretchLinf.toFixed(2).padStart(6), m.seamLength.toFixed(2).padStart(8), m.seamSight.toFixed(2), (m.seamLength * m.seamSight).toFixed(2).padStart(7), m.fill.toFixed(3), s.toFixed(2), m.flipped + m.overlappedTexels);
  } catch (e) { console.log(name, cut, (e as Error).stack); }
  }
}
