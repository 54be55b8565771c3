import { castRay, type RayScene } from '../core/cues';
import { add, normalize, scale, type Vec3 } from '../core/math';
import type { UvMesh } from '../core/mesh';
import { SAMPLE_STRIDE } from '../core/paint';

/** Samples where rays along -z meet the model, as a hand would draw on its front; misses are left out. */
export function drawOnFront(
  mesh: UvMesh,
  scene: RayScene,
  path: readonly (readonly [x: number, y: number])[],
  radius: number,
  pressure: (t: number) => number = () => 1,
): number[] {
  const out: number[] = [];
  for (let i = 0; i < path.length; i++) {
    const [x, y] = path[i]!;
    const origin: Vec3 = [x, y, 5];
    const t = castRay(scene, origin, [0, 0, -1], 10);
    if (!Number.isFinite(t)) continue;
    const p = add(origin, scale([0, 0, -1], t));
    const n = normalAt(mesh, p);
    out.push(...p, ...n, radius, pressure(path.length > 1 ? i / (path.length - 1) : 0), 0, 0, i * 8);
  }
  if (out.length % SAMPLE_STRIDE) throw new Error('A sample is incomplete.');
  return out;
}

/** Points along a broken line, at most `step` apart. */
export function along(points: readonly (readonly [number, number])[], step: number): [number, number][] {
  const out: [number, number][] = [];
  points.forEach((b, i) => {
    const a = points[i - 1];
    if (!a) {
      out.push([b[0], b[1]]);
      return;
    }
    const n = Math.max(1, Math.ceil(Math.hypot(b[0] - a[0], b[1] - a[1]) / step));
    for (let k = 1; k <= n; k++) out.push([a[0] + ((b[0] - a[0]) * k) / n, a[1] + ((b[1] - a[1]) * k) / n]);
  });
  return out;
}

/** Normal of the triangle nearest to a point. */
function normalAt(mesh: UvMesh, p: Vec3): Vec3 {
  let best = Infinity;
  let vertex = 0;
  for (let v = 0; v < mesh.positions.length; v += 3) {
    const d =
      (mesh.positions[v]! - p[0]) ** 2 +
      (mesh.positions[v + 1]! - p[1]) ** 2 +
      (mesh.positions[v + 2]! - p[2]) ** 2;
    // Only what the front shows: a vertex of a shell underneath looks the other way.
    if (d < best && mesh.normals[v + 2]! > 0) {
      best = d;
      vertex = v;
    }
  }
  return normalize([mesh.normals[vertex]!, mesh.normals[vertex + 1]!, mesh.normals[vertex + 2]!]);
}
