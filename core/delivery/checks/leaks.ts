import { ciede2000, linearToSrgb, rgbToCielab, srgbToLinear } from '../../color';
import { clamped, forTaps, mipLevels, type Halving } from '../../picture';
import type { Picture } from '../../formats';
import type { Vec3 } from '../../math';
import { findIslands, nextCorner, type UvMesh } from '../../mesh';
import type { Owners } from './owners';

/** Colour of others that shows along an island's border, at one level of the halvings. */
export interface Leak {
  readonly island: number;
  /** Its part's name. */
  readonly part: string;
  readonly mip: number;
  /** Of the border over which the difference is larger than the limit, model units. */
  readonly length: number;
  /** The largest mean over an edge (CIEDE2000). */
  readonly deltaE: number;
  /** The triangle at whose edge that is, and the middle of the edge. */
  readonly face: number;
  readonly place: Vec3;
}

export interface LeakHow {
  /** The last level that is looked at; 0 is the sheet itself. */
  readonly mips: number;
  /** Differences up to this are none. */
  readonly limit: number;
  readonly halving: Halving;
}

/** A sheet as a card halves it: of an opaque material no alpha is asked, so what was never bled to counts as black. */
export const cardLevels = (picture: Picture, halving: Halving): Picture[] =>
  mipLevels({ ...picture, rgba: picture.rgba.map((v, i) => (i % 4 === 3 ? 255 : v)) }, halving);

/**
 * What of the colours beside an island a filtered texture lookup mixes in along its border: what a graphics card reads there (bilinear, from
 * each level of the halvings) beside the same lookup over those texels only that are the island's own, the colour on it bled outward. Where the two differ, a
 * seam shows at a distance.
 */
export function leaksOf(
  mesh: UvMesh,
  picture: Picture,
  owners: Owners,
  how: LeakHow,
  levels: readonly Picture[] = cardLevels(picture, how.halving),
): Leak[] {
  const toLight = how.halving === 'linear' ? srgbToLinear : (c: number) => c;
  const fromLight = how.halving === 'linear' ? linearToSrgb : (c: number) => c;
  const light = Float64Array.from({ length: 256 }, (_, i) => toLight(i / 255));
  const labOf = (sum: Sum) => {
    const c = (v: number): number => fromLight(Math.min(1, v / sum.w)) * 255;
    return rgbToCielab({ r: c(sum.r), g: c(sum.g), b: c(sum.b) });
  };
  const ownTexels = ownTexelsOf(picture, owners);
  const worst = new Map<string, Leak>();
  const texels = texelsOfIslands(owners);
  const borders = bordersOn(mesh, owners).filter(({ island }) => texels[island]! >= ENOUGH_TEXELS);
  for (let mip = 0; mip <= Math.min(how.mips, levels.length - 1); mip++) {
    const level = levels[mip]!;
    const own = ownSums(picture, owners, mip, light, ownTexels);
    for (const { island, face, from, to, length, place } of borders) {
      const side = level.width;
      const [ax, ay, bx, by] = [from[0] * side, from[1] * side, to[0] * side, to[1] * side];
      const count = Math.max(1, Math.ceil(Math.hypot(bx - ax, by - ay)));
      let sum = 0;
      let looked = 0;
      for (let i = 0; i < count; i++) {
        const t = (i + 0.5) / count;
        const [x, y] = [ax + (bx - ax) * t, ay + (by - ay) * t];
        const all = emptySum();
        const clean = emptySum();
        forTaps(x, y, (ux, uy, w) => {
          const [tx, ty] = [clamped(ux, side), clamped(uy, side)];
          const o = (ty * side + tx) * 4;
          add(all, w, light[level.rgba[o]!]!, light[level.rgba[o + 1]!]!, light[level.rgba[o + 2]!]!);
          own(island, tx, ty, w, clean);
        });
        // A sliver that no texel belongs to has no colour of its own.
        if (clean.w === 0) continue;
        sum += ciede2000(labOf(all), labOf(clean)).deltaE;
        looked++;
      }
      const deltaE = looked > 0 ? sum / looked : 0;
      if (deltaE <= how.limit) continue;
      const key = `${island} ${mip}`;
      const known = worst.get(key);
      const all = (known?.length ?? 0) + length;
      const part = mesh.parts[mesh.faceParts[face]!]!;
      worst.set(
        key,
        known && known.deltaE >= deltaE
          ? { ...known, length: all }
          : { island, part, mip, length: all, deltaE, face, place },
      );
    }
  }
  return [...worst.values()].sort((a, b) => b.deltaE - a.deltaE);
}

/** An island of fewer texels is a splinter: most of it lies between their middles, and what its border has beside it may well be its own. */
const ENOUGH_TEXELS = 16;

function texelsOfIslands({ face, islandOf }: Owners): Uint32Array {
  const count = new Uint32Array(islandOf.reduce((most, island) => Math.max(most, island + 1), 0));
  for (const f of face) if (f >= 0) count[islandOf[f]!]!++;
  return count;
}

interface Sum {
  r: number;
  g: number;
  b: number;
  w: number;
}

const emptySum = (): Sum => ({ r: 0, g: 0, b: 0, w: 0 });

function add(sum: Sum, w: number, r: number, g: number, b: number): void {
  sum.r += r * w;
  sum.g += g * w;
  sum.b += b * w;
  sum.w += w;
}

/** Adds up what a level's texel would be if all of it were an island's own: what lies on it, bled outward, whatever lies there now. */
function ownSums(picture: Picture, owners: Owners, mip: number, light: Float64Array, own: OwnTexels) {
  const { width, rgba } = picture;
  const { nearest } = owners;
  const side = 2 ** mip;
  return (island: number, tx: number, ty: number, w: number, into: Sum): void => {
    const each = w / (side * side);
    for (let y = ty * side; y < Math.min(width, (ty + 1) * side); y++) {
      for (let x = tx * side; x < Math.min(width, (tx + 1) * side); x++) {
        const i = y * width + x;
        if (nearest[i] !== island) continue;
        const o = own(i) * 4;
        // What is bare has no colour.
        if (rgba[o + 3] === 0) continue;
        add(into, each, light[rgba[o]!]!, light[rgba[o + 1]!]!, light[rgba[o + 2]!]!);
      }
    }
  };
}

/** The texel whose colour is an island's own at one that lies nearest to it. */
type OwnTexels = (texel: number) => number;

/** Texels around the nearest one of an island, each way, that tell what colours it has there. */
const AROUND = 2;
/** A colour beside an island that is so near to those, levels of 8 bit, is one of them. */
const NEAR_LEVELS = 4;

/**
 * Outside an island a texel is its own if it goes on as the island ends: painted over the border, or bled from it. One of another colour is not,
 * whatever it is, and the nearest texel on the island stands for it.
 */
function ownTexelsOf({ width, rgba }: Picture, { face, home, nearest, islandOf }: Owners): OwnTexels {
  const known = new Int32Array(face.length).fill(-1);
  const goesOn = (i: number): boolean => {
    const h = home[i]!;
    const [x, y] = [h % width, Math.floor(h / width)];
    for (let c = 0; c < 3; c++) {
      let [low, high] = [255, 0];
      for (let v = Math.max(0, y - AROUND); v <= Math.min(width - 1, y + AROUND); v++) {
        for (let u = Math.max(0, x - AROUND); u <= Math.min(width - 1, x + AROUND); u++) {
          const j = v * width + u;
          if (face[j]! < 0 || islandOf[face[j]!] !== nearest[i]) continue;
          low = Math.min(low, rgba[j * 4 + c]!);
          high = Math.max(high, rgba[j * 4 + c]!);
        }
      }
      // A slope goes on beyond its end.
      const slack = NEAR_LEVELS + high - low;
      if (rgba[i * 4 + c]! < low - slack || rgba[i * 4 + c]! > high + slack) return false;
    }
    return true;
  };
  return (i) => {
    if (face[i]! >= 0) return i;
    if (known[i]! < 0) known[i] = rgba[i * 4 + 3] !== 0 && goesOn(i) ? i : home[i]!;
    return known[i]!;
  };
}

interface Border {
  readonly island: number;
  readonly face: number;
  /** On the sheet, 0..1 from the upper left. */
  readonly from: readonly [number, number];
  readonly to: readonly [number, number];
  /** On the model. */
  readonly length: number;
  readonly place: Vec3;
}

/** Edges at which islands of a sheet end. */
function bordersOn(mesh: UvMesh, { sheet, islandOf }: Owners): Border[] {
  const { edges } = findIslands(mesh);
  const out: Border[] = [];
  const { indices, positions, uvs } = mesh;
  for (let c = 0; c < indices.length; c++) {
    const face = Math.floor(c / 3);
    if (edges.uses[edges.ofCorner[c]!] !== 1) continue;
    if ((mesh.partSheets?.[mesh.faceParts[face]!] ?? 0) !== sheet) continue;
    const [a, b] = [indices[c]!, indices[nextCorner(c)]!];
    const point = (v: number): Vec3 => [positions[v * 3]!, positions[v * 3 + 1]!, positions[v * 3 + 2]!];
    const [p, q] = [point(a), point(b)];
    out.push({
      island: islandOf[face]!,
      face,
      from: [uvs[a * 2]!, 1 - uvs[a * 2 + 1]!],
      to: [uvs[b * 2]!, 1 - uvs[b * 2 + 1]!],
      length: Math.hypot(q[0] - p[0], q[1] - p[1], q[2] - p[2]),
      place: [(p[0] + q[0]) / 2, (p[1] + q[1]) / 2, (p[2] + q[2]) / 2],
    });
  }
  return out;
}
