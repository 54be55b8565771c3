import type { SurfaceMap } from './surface-map';

/** A side of an island as it is told of. */
export interface TwinSide {
  readonly part: string;
  /** Which way from the middle of the model: +x is the left of a figure that looks along +z. */
  readonly lies: 'left' | 'right' | 'middle';
  readonly faces: readonly number[];
}

/** Two sides of islands that show the very same texels. */
export interface TwinPair {
  readonly first: TwinSide;
  readonly second: TwinSide;
  /** Whether one faces the other way in the layout. */
  readonly mirrored: boolean;
  /** Whether the second lies face down. */
  readonly isDown: boolean;
}

/** So far off the middle, in parts of the model's width, a side lies to the left or right. */
const ASIDE = 0.01;

/** All twins, each with the first of those that share its texels, in the order of the model. */
export function twinPairs({ mesh, islandOfFace, twinOf }: SurfaceMap): TwinPair[] {
  const second = new Set<number>();
  const named = new Set<number>();
  twinOf.forEach((first, side) => {
    if (first === side) return;
    second.add(side);
    named.add(side).add(first);
  });
  if (second.size === 0) return [];
  const faces = new Map<number, number[]>();
  islandOfFace.forEach((side, f) => {
    if (!named.has(side)) return;
    const list = faces.get(side);
    if (list) list.push(f);
    else faces.set(side, [f]);
  });
  const { positions, indices, faceParts, parts, uvs } = mesh;
  let [low, high] = [Infinity, -Infinity];
  for (let v = 0; v < positions.length; v += 3) {
    low = Math.min(low, positions[v]!);
    high = Math.max(high, positions[v]!);
  }
  const sideOf = (side: number): TwinSide => {
    const own = faces.get(side)!;
    const corners = own.flatMap((f) => [0, 1, 2].map((k) => positions[indices[f * 3 + k]! * 3]!));
    const off = corners.reduce((sum, x) => sum + x, 0) / corners.length - (low + high) / 2;
    const lies = Math.abs(off) <= ASIDE * (high - low) ? 'middle' : off > 0 ? 'left' : 'right';
    return { part: parts[faceParts[own[0]!]!]!, lies, faces: own };
  };
  /** Area in the layout, below 0 face down. */
  const areaOf = (side: number): number =>
    faces.get(side)!.reduce((sum, f) => {
      const [a, b, c] = [0, 1, 2].map((k) => indices[f * 3 + k]! * 2) as [number, number, number];
      const [bx, by] = [uvs[b]! - uvs[a]!, uvs[b + 1]! - uvs[a + 1]!];
      return sum + bx * (uvs[c + 1]! - uvs[a + 1]!) - by * (uvs[c]! - uvs[a]!);
    }, 0);
  return [...second].map((side) => ({
    first: sideOf(twinOf[side]!),
    second: sideOf(side),
    mirrored: areaOf(side) * areaOf(twinOf[side]!) < 0,
    isDown: areaOf(side) < 0,
  }));
}

/** A pair in words: “Arm left = Arm right, mirrored”. */
export function twinWords({ first, second, mirrored }: TwinPair): string {
  const isTold = first.lies !== second.lies;
  const name = ({ part, lies }: TwinSide): string => (isTold ? `${part} ${lies}` : part);
  return `${name(first)} = ${name(second)}, ${mirrored ? 'mirrored' : 'stacked'}`;
}
