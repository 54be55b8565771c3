import { hexToRgb, likeness } from '../../color';
import { CoreError } from '../../errors';
import { topologyOf, type Topology, type UvMesh } from '../../mesh';
import {
  codeAt,
  codesOfTile,
  filledTiles,
  floodTexels,
  gutterHomes,
  isCovered,
  TILE_BYTES,
  TILE_TEXELS,
  type SurfaceMap,
} from '../../surface';
import type { TileState } from '../../pixels';

/** What a flood covers, 0..255 a texel, by tile. */
export type Flooded = ReadonlyMap<number, Uint8Array>;

const topologies = new WeakMap<UvMesh, Topology>();

function topologyFor(mesh: UvMesh): Topology {
  let known = topologies.get(mesh);
  if (!known) topologies.set(mesh, (known = topologyOf(mesh)));
  return known;
}

interface FloodHow {
  /** How much colours may differ, CIEDE2000. */
  readonly tolerance: number;
  /** Not only what hangs together with the place. */
  readonly everywhere: boolean;
  /** Names of parts that are left alone. */
  readonly except: readonly string[];
  /** The picture of a tile, as it is seen. */
  readonly rgbaOf: (tile: number) => Uint8Array;
}

/**
 * What has much the same colour as a place: what hangs together with it on the surface, or all of it.
 *
 * @param from a texel by its number among all
 * @throws CoreError `bad-argument` if nothing lies at that texel
 */
export function flooded(
  surface: SurfaceMap,
  from: number,
  { tolerance, everywhere, except, rgbaOf }: FloodHow,
): Flooded {
  const begin = coveredAt(surface, from);
  if (begin < 0) {
    throw new CoreError('bad-argument', 'Nothing of the model lies there. Press on the model.');
  }
  const tiles = new Map<number, Uint32Array>();
  const wordAt = (texel: number): number => {
    const tile = Math.floor(texel / TILE_TEXELS);
    let words = tiles.get(tile);
    if (!words) {
      const bytes = rgbaOf(tile);
      tiles.set(tile, (words = new Uint32Array(bytes.buffer, bytes.byteOffset, TILE_TEXELS)));
    }
    return words[texel % TILE_TEXELS]!;
  };
  const likeBegin = likeness(wordAt(begin), tolerance);
  const { faceParts, parts } = surface.mesh;
  const leaves = new Set(except.map((name) => parts.indexOf(name)));
  const like = (texel: number): number =>
    leaves.size > 0 && leaves.has(faceParts[codeAt(surface, texel) >> 2]!) ? 0 : likeBegin(wordAt(texel));
  const out = new Map<number, Uint8Array>();
  const set = (texel: number, value: number): void => {
    const tile = Math.floor(texel / TILE_TEXELS);
    let values = out.get(tile);
    if (!values) out.set(tile, (values = new Uint8Array(TILE_TEXELS)));
    values[texel % TILE_TEXELS] = value;
  };
  if (everywhere) {
    for (const tile of filledTiles(surface)) {
      const codes = codesOfTile(surface, tile)!;
      for (let i = 0; i < TILE_TEXELS; i++)
        if (codes[i]! >= 0 && (codes[i]! & 3) === 3)
          set(tile * TILE_TEXELS + i, like(tile * TILE_TEXELS + i));
    }
  } else
    floodTexels(surface, topologyFor(surface.mesh), begin, like).forEach((value, texel) => set(texel, value));
  fillGutter(surface, out, set);
  return out;
}

/** The texel itself, or for one of the gutter what lies just inside of it; -1 where there is none. */
function coveredAt(surface: SurfaceMap, texel: number): number {
  const tile = Math.floor(texel / TILE_TEXELS);
  if (!(tile < surface.slotOfTile.length) || surface.slotOfTile[tile]! < 0) return -1;
  if (isCovered(surface, texel)) return texel;
  const homes = new Int32Array(TILE_TEXELS);
  gutterHomes(surface, tile, homes);
  return homes[texel % TILE_TEXELS]!;
}

/** Gutter has what lies just inside of it. */
function fillGutter(surface: SurfaceMap, out: Flooded, set: (texel: number, value: number) => void): void {
  const homes = new Int32Array(TILE_TEXELS);
  for (const tile of filledTiles(surface)) {
    gutterHomes(surface, tile, homes);
    homes.forEach((home, i) => {
      if (home < 0) return;
      const value = out.get(Math.floor(home / TILE_TEXELS))?.[home % TILE_TEXELS] ?? 0;
      if (value > 0) set(tile * TILE_TEXELS + i, value);
    });
  }
}

/**
 * A colour laid over a plane where it is flooded.
 *
 * @param present a tile of the plane as it is
 * @param keepAlpha where it is transparent it stays so
 */
export function laidOver(
  area: Flooded,
  color: string,
  plane: number,
  present: (tile: number) => Uint8Array | undefined,
  keepAlpha: boolean,
): TileState[] {
  const { r, g, b } = hexToRgb(color);
  return [...area].flatMap(([tile, values]): TileState[] => {
    const before = present(tile);
    if (keepAlpha && !before) return [];
    const bytes = before ? before.slice() : new Uint8Array(TILE_BYTES);
    for (let i = 0; i < TILE_TEXELS; i++) {
      const top = values[i]! / 255;
      if (top === 0) continue;
      const under = bytes[i * 4 + 3]! / 255;
      const alpha = keepAlpha ? under : top + under * (1 - top);
      if (alpha === 0) continue;
      // Straight alpha: each colour counts by what it covers.
      const share = keepAlpha ? top : top / alpha;
      [r, g, b].forEach((c, k) => {
        bytes[i * 4 + k] = Math.round(bytes[i * 4 + k]! + (c - bytes[i * 4 + k]!) * share);
      });
      bytes[i * 4 + 3] = Math.round(alpha * 255);
    }
    return [{ plane, tile, bytes }];
  });
}
