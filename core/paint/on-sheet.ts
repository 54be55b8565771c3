import type { Vec3 } from '../math';
import type { SurfacePoint, UvMesh } from '../mesh';
import { flatTriangle, layTriangle } from '../surface';

const triangle = flatTriangle();

/**
 * Where a place of the model lies on its sheet, and where a direction on the surface leads to there.
 *
 * @param size of the sheet, texels
 * @param along on the triangle; any length
 * @returns texels from the upper left, and a unit direction; null where the triangle has no area
 */
export function onSheetAt(
  mesh: UvMesh,
  size: number,
  { face, w0, w1, w2 }: Pick<SurfacePoint, 'face' | 'w0' | 'w1' | 'w2'>,
  along: Vec3,
): { readonly by: 'sheet'; readonly x: number; readonly y: number; readonly along: [number, number] } | null {
  if (!layTriangle(mesh, face, size, triangle)) return null;
  const { positions: p, indices } = mesh;
  const { at } = triangle;
  const corner = (k: number): number => indices[face * 3 + k]! * 3;
  const [a, b, c] = [corner(0), corner(1), corner(2)];
  const edge = (to: number): [number, number, number] => [
    p[to]! - p[a]!,
    p[to + 1]! - p[a + 1]!,
    p[to + 2]! - p[a + 2]!,
  ];
  const [e, f] = [edge(b), edge(c)];
  const dot = (x: Vec3, y: Vec3): number => x[0] * y[0] + x[1] * y[1] + x[2] * y[2];
  // The direction as so much of the one side and so much of the other (least squares), then the same of the sides on the sheet.
  const [ee, ef, ff, ed, fd] = [dot(e, e), dot(e, f), dot(f, f), dot(e, along), dot(f, along)];
  const det = ee * ff - ef * ef;
  if (!(det > 0)) return null;
  const [s, t] = [(ed * ff - fd * ef) / det, (fd * ee - ed * ef) / det];
  const x = s * (at[2]! - at[0]!) + t * (at[4]! - at[0]!);
  const y = s * (at[3]! - at[1]!) + t * (at[5]! - at[1]!);
  const l = Math.sqrt(x * x + y * y);
  if (!(l > 0)) return null;
  return {
    by: 'sheet',
    x: at[0]! * w0 + at[2]! * w1 + at[4]! * w2,
    y: at[1]! * w0 + at[3]! * w1 + at[5]! * w2,
    along: [x / l, y / l],
  };
}
