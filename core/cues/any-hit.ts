import { EMPTY_CHILD, NODE_FLOATS, PACKET_FLOATS, type RayScene } from './ray-scene';

const safe = (x: number): number => (Math.abs(x) < 1e-12 ? 1e-12 : x);

/**
 * Distance to the nearest triangle along a ray, Infinity if there is none before `tmax`. The plain twin of the kernel
 * `anyHit`, which only tells whether there is one; it stops early when `anyIsEnough`.
 *
 * @param origin model space
 * @param direction unit vector
 */
export function castRay(
  scene: RayScene,
  origin: readonly [number, number, number],
  direction: readonly [number, number, number],
  tmax: number,
  anyIsEnough = false,
): number {
  const { nodes, packets } = scene;
  const children = new Int32Array(nodes.buffer, nodes.byteOffset, nodes.length);
  const d = direction.map(safe) as [number, number, number];
  let nearest = tmax;
  let found = Infinity;
  const stack = [0];
  while (stack.length) {
    const c = stack.pop()!;
    if (c >= 0) {
      const n = c * NODE_FLOATS;
      for (let k = 0; k < 4; k++) {
        const child = children[n + 24 + k]!;
        if (child === EMPTY_CHILD) continue;
        let tn = 0;
        let tf = nearest;
        for (let axis = 0; axis < 3; axis++) {
          const t1 = (nodes[n + axis * 4 + k]! - origin[axis]!) / d[axis]!;
          const t2 = (nodes[n + (axis + 3) * 4 + k]! - origin[axis]!) / d[axis]!;
          tn = Math.max(tn, Math.min(t1, t2));
          tf = Math.min(tf, Math.max(t1, t2));
        }
        if (tn <= tf) stack.push(child);
      }
      continue;
    }
    for (let k = 0; k < 4; k++) {
      const t = hitTriangle(packets, ~c * PACKET_FLOATS + k, origin, d);
      if (t > 0 && t < nearest) {
        if (anyIsEnough) return t;
        nearest = t;
        found = t;
      }
    }
  }
  return found;
}

/** Möller and Trumbore, "Fast, Minimum Storage Ray/Triangle Intersection", 1997; -1 where it misses. */
function hitTriangle(
  p: Float32Array,
  o: number,
  origin: readonly [number, number, number],
  d: readonly [number, number, number],
): number {
  const ax = p[o + 12]!;
  const ay = p[o + 16]!;
  const az = p[o + 20]!;
  const bx = p[o + 24]!;
  const by = p[o + 28]!;
  const bz = p[o + 32]!;
  const px = d[1] * bz - d[2] * by;
  const py = d[2] * bx - d[0] * bz;
  const pz = d[0] * by - d[1] * bx;
  const det = ax * px + ay * py + az * pz;
  if (det === 0) return -1;
  const sx = origin[0] - p[o]!;
  const sy = origin[1] - p[o + 4]!;
  const sz = origin[2] - p[o + 8]!;
  const u = (sx * px + sy * py + sz * pz) / det;
  if (u < 0) return -1;
  const qx = sy * az - sz * ay;
  const qy = sz * ax - sx * az;
  const qz = sx * ay - sy * ax;
  const v = (d[0] * qx + d[1] * qy + d[2] * qz) / det;
  if (v < 0 || u + v > 1) return -1;
  return (bx * qx + by * qy + bz * qz) / det;
}
