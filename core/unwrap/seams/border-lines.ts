import { CoreError } from '../../errors';
import { findIslands, nextCorner, sheetOfFace, weldExact, type UvMesh } from '../../mesh';
import { seededRandom } from '../../math';
import { cornerUvs, withCornerUvs } from '../corner-uvs';
import { doubledArea } from '../flatten/rest-shape';

/** A border runs along a row or a column as long as it turns from it by no more than this. */
const ALONG = Math.tan((10 * Math.PI) / 180);

/** What is snapped leaves its place by no more than so many texels: what swings farther isn't a straight border. */
const FARTHEST = 2;

/** A border that is shorter than so many texels is a corner, not a line. */
const SHORTEST = 2;

type Axis = 0 | 1;

/**
 * Borders of islands that run along rows or columns are laid onto whole texels' edges, so that what is painted along them is crisp.
 * Triangles that would fold keep their place.
 *
 * @param faces whose islands are meant
 * @param sizes texels a side of each sheet
 * @throws CoreError `unwrap-no-grid` if no border there runs so
 */
export function snapBorders(mesh: UvMesh, faces: readonly number[], sizes: readonly number[]): UvMesh {
  const uvs = cornerUvs(mesh);
  const own = weldedCorners(mesh);
  const isMeant = new Uint8Array(mesh.faceParts.length);
  for (const f of faces) isMeant[f] = 1;
  const { edges } = findIslands(mesh);
  const borders: number[] = [];
  for (let c = 0; c < own.length; c++) {
    if (edges.uses[edges.ofCorner[c]!] === 1 && isMeant[Math.floor(c / 3)]) borders.push(c);
  }
  const moved = new Map<number, [u: number | null, v: number | null]>();
  let lines = 0;
  for (const axis of [0, 1] as const) {
    for (const line of straightLines(mesh, uvs, own, borders, axis, sizes)) {
      lines++;
      for (const place of line.places) {
        const to = moved.get(place) ?? [null, null];
        to[axis] = line.to;
        moved.set(place, to);
      }
    }
  }
  if (lines === 0) {
    throw new CoreError(
      'unwrap-no-grid',
      'No border there runs along rows or columns of texels. Turn the islands upright first, or straighten strips of quads.',
    );
  }
  const out = uvs.slice();
  own.forEach((place, c) => {
    const to = moved.get(place);
    if (to) for (const axis of [0, 1] as const) out[c * 2 + axis] = to[axis] ?? uvs[c * 2 + axis]!;
  });
  keepUnfolded(mesh, uvs, out, own);
  return withCornerUvs(mesh, out);
}

/** Corners of one place on the sheet and in space have one number. */
function weldedCorners(mesh: UvMesh): Uint32Array {
  const vertices = weldExact({ data: mesh.positions, stride: 3 }, { data: mesh.uvs, stride: 2 });
  return Uint32Array.from(mesh.indices, (v) => vertices[v]!);
}

interface StraightLine {
  readonly places: ReadonlySet<number>;
  /** Where they are to lie. */
  readonly to: number;
}

/** Chains of border edges that run across an axis of the sheet: rows for v, columns for u. */
function straightLines(
  mesh: UvMesh,
  uvs: Float32Array,
  own: Uint32Array,
  borders: readonly number[],
  axis: Axis,
  sizes: readonly number[],
): StraightLine[] {
  const other = axis === 0 ? 1 : 0;
  const parent = new Map<number, number>();
  const find = (place: number): number => {
    let root = place;
    while ((parent.get(root) ?? root) !== root) root = parent.get(root)!;
    parent.set(place, root);
    return root;
  };
  const along = borders.filter((c) => {
    const d = nextCorner(c);
    const across = Math.abs(uvs[d * 2 + axis]! - uvs[c * 2 + axis]!);
    const far = Math.abs(uvs[d * 2 + other]! - uvs[c * 2 + other]!);
    return far > 0 && across <= far * ALONG;
  });
  for (const c of along) parent.set(find(own[c]!), find(own[nextCorner(c)]!));
  const groups = new Map<number, number[]>();
  for (const c of along) {
    const root = find(own[c]!);
    groups.set(root, [...(groups.get(root) ?? []), c]);
  }
  return [...groups.values()].flatMap((corners): StraightLine[] => {
    const size = sizes[sheetOfFace(mesh, Math.floor(corners[0]! / 3))]!;
    let [sum, length, low, high] = [0, 0, Infinity, -Infinity];
    const places = new Set<number>();
    for (const c of corners) {
      const d = nextCorner(c);
      const l = Math.abs(uvs[d * 2 + other]! - uvs[c * 2 + other]!);
      sum += ((uvs[c * 2 + axis]! + uvs[d * 2 + axis]!) / 2) * l;
      length += l;
      for (const e of [c, d]) {
        places.add(own[e]!);
        low = Math.min(low, uvs[e * 2 + axis]!);
        high = Math.max(high, uvs[e * 2 + axis]!);
      }
    }
    const to = Math.round((sum / length) * size) / size;
    const isFar = Math.max(to - low, high - to) * size > FARTHEST;
    return isFar || length * size < SHORTEST ? [] : [{ places, to }];
  });
}

/** Puts back what would turn a triangle over. @param out changed */
function keepUnfolded(mesh: UvMesh, uvs: Float32Array, out: Float32Array, own: Uint32Array): void {
  const count = mesh.faceParts.length;
  const corners = Uint32Array.from({ length: own.length }, (_, c) => c);
  for (let isFolded = true; isFolded;) {
    isFolded = false;
    const back = new Set<number>();
    for (let f = 0; f < count; f++) {
      const [before, after] = [doubledArea(corners, uvs, f), doubledArea(corners, out, f)];
      if (before * after > 0 || before === 0) continue;
      for (let c = f * 3; c < f * 3 + 3; c++) {
        if (out[c * 2] !== uvs[c * 2] || out[c * 2 + 1] !== uvs[c * 2 + 1]) back.add(own[c]!);
      }
    }
    own.forEach((place, c) => {
      if (!back.has(place)) return;
      isFolded = true;
      out[c * 2] = uvs[c * 2]!;
      out[c * 2 + 1] = uvs[c * 2 + 1]!;
    });
  }
}

export interface Slant {
  /** The most that a border is tilted, degrees. */
  readonly degrees: number;
  readonly seed: number;
}

/** A slant moves no border by more than so many texels, so that islands stay apart. */
const MOST_SLANT = 3;

/**
 * Gives islands a slight slant, each its own, as if they had been cut by hand: rows and columns are tilted by two small angles. Large
 * islands are tilted less, since their borders would swing farther.
 *
 * @param faces whose islands are meant
 * @param sizes texels a side of each sheet
 */
export function slantIslands(
  mesh: UvMesh,
  faces: readonly number[],
  sizes: readonly number[],
  { degrees, seed }: Slant,
): UvMesh {
  const uvs = cornerUvs(mesh);
  const { ofFace, count } = findIslands(mesh);
  const random = seededRandom(seed);
  // Drawn for every island, so that one has the same slant whichever others are meant.
  const tilts = Array.from({ length: count }, () => [random() * 2 - 1, random() * 2 - 1] as const);
  const islands = new Map<number, number[]>();
  for (const f of faces) {
    const list = islands.get(ofFace[f]!);
    if (list) list.push(f);
    else islands.set(ofFace[f]!, [f]);
  }
  for (const [island, list] of islands) {
    const size = sizes[sheetOfFace(mesh, list[0]!)]!;
    const box = [Infinity, Infinity, -Infinity, -Infinity];
    for (const f of list) {
      for (let c = f * 3; c < f * 3 + 3; c++) {
        for (const axis of [0, 1]) {
          box[axis] = Math.min(box[axis]!, uvs[c * 2 + axis]!);
          box[2 + axis] = Math.max(box[2 + axis]!, uvs[c * 2 + axis]!);
        }
      }
    }
    const middle = [(box[0]! + box[2]!) / 2, (box[1]! + box[3]!) / 2] as const;
    const half = [(box[2]! - box[0]!) / 2, (box[3]! - box[1]!) / 2] as const;
    const tiltOf = (k: 0 | 1): number => {
      const wanted = Math.tan((degrees * Math.PI) / 180) * tilts[island]![k];
      // u is moved by the height above the middle, v by the distance from it to the side.
      const most = MOST_SLANT / size / Math.max(half[k === 0 ? 1 : 0], 1e-9);
      return Math.min(most, Math.max(-most, wanted));
    };
    const [a, b] = [tiltOf(0), tiltOf(1)];
    for (const f of list) {
      for (let c = f * 3; c < f * 3 + 3; c++) {
        const [u, v] = [uvs[c * 2]!, uvs[c * 2 + 1]!];
        uvs[c * 2] = u + a * (v - middle[1]);
        uvs[c * 2 + 1] = v + b * (u - middle[0]);
      }
    }
  }
  return withCornerUvs(mesh, uvs);
}
