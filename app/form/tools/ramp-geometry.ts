import { boundsOf, centreOf, type UvMesh } from '../../../core/mesh';
import { add, dot, normalize, scale, type Vec3 } from '../../../core/math';
import type { ToneLayer } from '../../../core/layers';

/** A height cue: along what, and between which parts of the model's extent. */
export interface Rise {
  readonly direction: Vec3;
  readonly from: number;
  readonly to: number;
}

/** The lowest and highest vertex along a direction, model units. */
function extentAlong(mesh: UvMesh, direction: Vec3): readonly [low: number, high: number] {
  let low = Infinity;
  let high = -Infinity;
  const p = mesh.positions;
  for (let v = 0; v < p.length; v += 3) {
    const h = p[v]! * direction[0] + p[v + 1]! * direction[1] + p[v + 2]! * direction[2];
    if (h < low) low = h;
    if (h > high) high = h;
  }
  return [low, high];
}

/** The rise from one point to another. Null where they are one. */
export function riseBetween(mesh: UvMesh, start: Vec3, end: Vec3): Rise | null {
  const way: Vec3 = [end[0] - start[0], end[1] - start[1], end[2] - start[2]];
  const direction = normalize(way, [0, 0, 0]);
  const [low, high] = extentAlong(mesh, direction);
  if (dot(direction, direction) === 0 || !(high > low)) return null;
  const part = (p: Vec3): number => Number(((dot(p, direction) - low) / (high - low)).toFixed(4));
  return {
    direction: direction.map((n) => Number(n.toFixed(4))) as unknown as Vec3,
    from: part(start),
    to: part(end),
  };
}

/** Where a rise begins and ends, on a line through a place. */
export function endsOf(mesh: UvMesh, { direction, from, to }: Rise, through: Vec3): readonly [Vec3, Vec3] {
  const d = normalize(direction);
  const [low, high] = extentAlong(mesh, d);
  const at = (part: number): Vec3 => add(through, scale(d, low + part * (high - low) - dot(through, d)));
  return [at(from), at(to)];
}

/** The middle of what a layer is kept to: of its parts, or of the model. */
export function middleOf(mesh: UvMesh, layer: Pick<ToneLayer, 'mask'>): Vec3 {
  const step = layer.mask.find((s) => s.from === 'parts');
  const parts = step ? step.parts.map((name) => mesh.parts.indexOf(name)) : [];
  const points: number[] = [];
  if (parts.length) {
    mesh.faceParts.forEach((part, f) => {
      if (!parts.includes(part)) return;
      for (let k = 0; k < 3; k++) {
        const v = mesh.indices[f * 3 + k]! * 3;
        points.push(mesh.positions[v]!, mesh.positions[v + 1]!, mesh.positions[v + 2]!);
      }
    });
  }
  return centreOf(boundsOf(points.length ? points : mesh.positions));
}

/** A direction turned to the nearest of the six sides. */
export function snapped([x, y, z]: Vec3): Vec3 {
  const most = Math.max(Math.abs(x), Math.abs(y), Math.abs(z));
  if (most === Math.abs(x)) return [Math.sign(x), 0, 0];
  return most === Math.abs(y) ? [0, Math.sign(y), 0] : [0, 0, Math.sign(z)];
}
