import type { SurfacePoint, UvMesh } from '../mesh';

/** The weights of a triangle's corners at a point of the sheet. UVs outside 0..1 wrap around. */
export function placeInLayout(mesh: UvMesh, face: number, u: number, v: number, out: SurfacePoint): void {
  const a = mesh.indices[face * 3]! * 2;
  const b = mesh.indices[face * 3 + 1]! * 2;
  const c = mesh.indices[face * 3 + 2]! * 2;
  const uv = mesh.uvs;
  const pu = u + Math.round((uv[a]! + uv[b]! + uv[c]!) / 3 - u);
  const pv = v + Math.round((uv[a + 1]! + uv[b + 1]! + uv[c + 1]!) / 3 - v);
  const bx = uv[b]! - uv[a]!;
  const by = uv[b + 1]! - uv[a + 1]!;
  const cx = uv[c]! - uv[a]!;
  const cy = uv[c + 1]! - uv[a + 1]!;
  const det = bx * cy - by * cx;
  const x = pu - uv[a]!;
  const y = pv - uv[a + 1]!;
  out.face = face;
  out.w1 = det === 0 ? 0 : (x * cy - y * cx) / det;
  out.w2 = det === 0 ? 0 : (bx * y - by * x) / det;
  out.w0 = 1 - out.w1 - out.w2;
}
