import { sheetOfFace, type SurfacePoint } from '../mesh';
import {
  codesOfTile,
  filledTiles,
  INSIDE,
  PlaceReader,
  placeOfTexel,
  ChannelSampler,
  TILE_BYTES,
  TILE_TEXELS,
  type SurfaceMap,
} from '../surface';
import type { ModelLinks } from '../follow';
import { placeInLayout } from './place';

/** Parts whose texels stay where they are, by their numbers on either model. */
export interface KeptParts {
  readonly now: ReadonlySet<number>;
  readonly was: ReadonlySet<number>;
}

/** Where one new texel stands for several old ones, at the most so many each way are averaged. */
const MOST_STEPS = 4;

/**
 * A plane's pixels as they look on another surface, resampled once.
 *
 * @param links how places of the new model are found on the old one; null where triangles of the same number are the same place
 * @param kept parts whose texels stay where they are: both surfaces have sheets of the same sizes then
 */
export function resampleChannel(
  from: SurfaceMap,
  to: SurfaceMap,
  tiles: ReadonlyMap<number, Uint8Array>,
  links: ModelLinks | null,
  kept: KeptParts | null = null,
): Map<number, Uint8Array> {
  const out = new Map<number, Uint8Array>();
  if (tiles.size === 0) return out;
  const { mesh } = to;
  const sampler = new ChannelSampler(from, tiles);
  const reader = new PlaceReader(to);
  const place: SurfacePoint = { face: -1, w0: 1, w1: 0, w2: 0, distance: 0 };
  // What lies on nothing now, and lay beside a kept part, is its border.
  const isKept = (code: number, before: number): boolean =>
    code >= 0
      ? kept!.now.has(mesh.faceParts[code >> 2]!)
      : before >= 0 && kept!.was.has(from.mesh.faceParts[before >> 2]!);
  for (const tile of filledTiles(to)) {
    const codes = codesOfTile(to, tile)!;
    const was = kept && codesOfTile(from, tile);
    let bytes: Uint8Array | null = null;
    for (let k = 0; k < TILE_TEXELS; k++) {
      const code = codes[k]!;
      if (kept && isKept(code, was ? was[k]! : -1)) {
        const texels = tiles.get(tile);
        if (texels) (bytes ??= new Uint8Array(TILE_BYTES)).set(texels.subarray(k * 4, k * 4 + 4), k * 4);
        continue;
      }
      if (code < 0) continue;
      const texel = tile * TILE_TEXELS + k;
      const face = code >> 2;
      sampler.begin();
      if (links) {
        const at = reader.tile(tile)!;
        if (!links.find(mesh.faceParts[face]!, at.px[k]!, at.py[k]!, at.pz[k]!, place)) continue;
        sampler.add(place);
      } else if ((code & 3) === INSIDE) {
        const { sheet, x, y } = placeOfTexel(to.sheets, texel);
        const { size, texelLength } = to.sheets[sheet]!;
        const steps = stepsOf(texelLength, from.sheets[sheetOfFace(from.mesh, face)]!.texelLength);
        for (let s = 0; s < steps * steps; s++) {
          const u = (x + ((s % steps) + 0.5) / steps) / size;
          const v = 1 - (y + (Math.floor(s / steps) + 0.5) / steps) / size;
          placeInLayout(mesh, face, u, v, place);
          sampler.add(place);
        }
      } else {
        reader.locate(texel, place);
        sampler.add(place);
      }
      if (!sampler.finish()) continue;
      bytes ??= new Uint8Array(TILE_BYTES);
      bytes.set(sampler.rgba, k * 4);
    }
    if (bytes) out.set(tile, bytes);
  }
  return out;
}

/** How many old texels lie along a new one. @param texelLength of either, model units */
const stepsOf = (texelLength: number, old: number): number =>
  old > 0 ? Math.max(1, Math.min(MOST_STEPS, Math.round(texelLength / old))) : 1;
