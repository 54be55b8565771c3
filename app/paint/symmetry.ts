import type { Vec3 } from '../../core/math';
import { centreOf, subjectBounds, partBounds, type UvMesh } from '../../core/mesh';
import type { Symmetry } from '../../core/paint';
import type { Axis, SymmetryWish } from './paint-store';

export const UNIT: Readonly<Record<Axis, [number, number, number]>> = {
  x: [1, 0, 0],
  y: [0, 1, 0],
  z: [0, 0, 1],
};

const middles = new WeakMap<UvMesh, Map<number | 'model', Vec3>>();

/** Middle of the box around the model, or around one of its parts. */
function middleOf(mesh: UvMesh, of: number | 'model'): Vec3 {
  let known = middles.get(mesh);
  if (!known) middles.set(mesh, (known = new Map()));
  let middle = known.get(of);
  if (middle) return middle;
  middle = centreOf(of === 'model' ? subjectBounds(mesh) : partBounds(mesh, of));
  known.set(of, middle);
  return middle;
}

/** The point through which planes and axis go. @param part under the pointer */
export function symmetryPoint({ about, place }: SymmetryWish, mesh: UvMesh, part: number | null): Vec3 {
  if (about === 'model') return middleOf(mesh, 'model');
  if (about === 'part' && part !== null) return middleOf(mesh, part);
  return (about === 'place' && place) || [0, 0, 0];
}

/** What a stroke that begins on a part is to be made over; null for nothing. */
export function symmetryFor(wish: SymmetryWish, mesh: UvMesh, part: number | null): Symmetry | null {
  const { on, planes, axis, count, span, twins } = wish;
  if (!on || (planes.length === 0 && !axis)) return null;
  const [x, y, z] = symmetryPoint(wish, mesh, part);
  const point: [number, number, number] = [x, y, z];
  return {
    planes: planes.map((of) => ({ point, normal: UNIT[of] })),
    axis: axis && { point, direction: axis === 'normal' ? [...wish.normal] : UNIT[axis], count, span },
    ...(twins && planes.length > 0 && { twins }),
  };
}

/** The first plane that is mirrored over, on or off: left and right where there is none. */
export function firstPlane(
  wish: SymmetryWish,
  mesh: UvMesh,
  part: number | null,
): { readonly point: [number, number, number]; readonly normal: [number, number, number] } {
  const [x, y, z] = symmetryPoint(wish, mesh, part);
  return { point: [x, y, z], normal: [...UNIT[wish.planes[0] ?? 'x']] };
}
