import { z } from 'zod';
import { cross, normalize, type Vec3, compose, IDENTITY, type Placing } from '../math';

const vector = z.tuple([z.number(), z.number(), z.number()]);
const direction = vector.refine((d) => d.some((x) => x !== 0), 'a direction is not 0 in all three numbers');

/** Planes at the most: three stand on one another. */
export const MOST_PLANES = 3;

/** Copies round an axis at the most. */
export const MOST_ROUND = 64;

/** Where else a stroke is made, in the space of its samples. */
export const symmetrySchema = z.strictObject({
  /** Planes over which it is mirrored: a point and the normal. */
  planes: z.array(z.strictObject({ point: vector, normal: direction })).max(MOST_PLANES),
  /** An axis around which it is repeated, evenly over so many degrees; 360 closes the ring. */
  axis: z
    .strictObject({
      point: vector,
      direction,
      count: z.int().min(2).max(MOST_ROUND),
      span: z.number().min(1).max(360),
    })
    .nullable(),
  /** Over planes it goes by how the triangles of the two sides hang together, which may differ a little, instead of straight. */
  twins: z.boolean().exactOptional(),
});

export type Symmetry = z.infer<typeof symmetrySchema>;

/** Copies that lie so near to each other are the same. */
const SAME = 1e-9;

/** One of the places where a stroke is made. */
export interface CopyWay {
  /** What takes the stroke there. */
  readonly placing: Placing;
  /** The same in steps: first the turn round the axis, */
  readonly turn: Placing;
  /** then over the planes of these numbers, one after the other. */
  readonly over: readonly number[];
}

/** What takes a stroke to each of its copies, itself first. */
export const copiesOf = (symmetry: Symmetry | undefined): readonly Placing[] =>
  copyWays(symmetry).map(({ placing }) => placing);

/** What takes a stroke to each of its copies, itself first, and how. */
export function copyWays(symmetry: Symmetry | undefined): readonly CopyWay[] {
  if (!symmetry) return [{ placing: IDENTITY, turn: IDENTITY, over: [] }];
  const { planes, axis } = symmetry;
  let copies: CopyWay[] = [{ placing: IDENTITY, turn: IDENTITY, over: [] }];
  if (axis) {
    const { count, span, point, direction } = axis;
    const step = span === 360 ? 360 / count : span / (count - 1);
    copies = Array.from({ length: count }, (_, k) => {
      const turn = turned(point, direction, (k * step * Math.PI) / 180);
      return { placing: turn, turn, over: [] };
    });
  }
  planes.forEach(({ point, normal }, plane) => {
    const mirror = mirrored(point, normal);
    const others = copies.map(({ placing, turn, over }) => ({
      placing: compose(mirror, placing),
      turn,
      over: [...over, plane],
    }));
    copies = [...copies, ...others];
  });
  return copies.filter(({ placing }, i) => copies.findIndex((other) => isSame(placing, other.placing)) === i);
}

const isSame = (a: Placing, b: Placing): boolean =>
  a.every((x, i) => Math.abs(x - b[i]!) <= SAME * Math.max(1, Math.abs(x)));

/** The other side of a plane. */
export function mirrored(point: Vec3, normal: Vec3): Placing {
  const n = normalize(normal);
  const far = 2 * (n[0] * point[0] + n[1] * point[1] + n[2] * point[2]);
  return n.flatMap((x, i) => [...n.map((y, k) => (i === k ? 1 : 0) - 2 * x * y), far * x]);
}

/** Turned around an axis by an angle, radians (O. Rodrigues 1840). */
function turned(point: Vec3, direction: Vec3, angle: number): Placing {
  if (angle === 0) return IDENTITY;
  const axis = normalize(direction);
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const columns = ([0, 1, 2] as const).map((k): Vec3 => {
    const unit: Vec3 = [k === 0 ? 1 : 0, k === 1 ? 1 : 0, k === 2 ? 1 : 0];
    const over = cross(axis, unit);
    const along = axis[k] * (1 - c);
    return [
      unit[0] * c + over[0] * s + axis[0] * along,
      unit[1] * c + over[1] * s + axis[1] * along,
      unit[2] * c + over[2] * s + axis[2] * along,
    ];
  });
  return ([0, 1, 2] as const).flatMap((row) => {
    const r = columns.map((column) => column[row]);
    return [...r, point[row] - (r[0]! * point[0] + r[1]! * point[1] + r[2]! * point[2])];
  });
}
