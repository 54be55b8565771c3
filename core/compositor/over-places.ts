import type { TileSource } from '../composite';
import type { SharedBy } from '../layers';
import { codesOfTile, layersOfTile, TILE_TEXELS, type SurfaceMap } from '../surface';

/**
 * Makes a painter that is asked place by place one of texels.
 *
 * @param paint what a tile has, of any layer of places
 * @returns the same for tiles of pixels
 */
export function overPlaces(
  surface: SurfaceMap,
  shared: SharedBy,
  paint: (tile: number) => TileSource | null,
): (tile: number) => TileSource | null {
  if (shared === 'first') return paint;
  return (tile) => {
    const layers = layersOfTile(surface, tile);
    if (layers.length < 2) return paint(tile);
    const sources = layers.map((layer) => ({ codes: codesOfTile(surface, layer)!, source: paint(layer) }));
    if (sources.every(({ source }) => source === null)) return null;
    return shared === 'mean' ? meanOf(sources, twinTest(surface)) : mostOf(sources);
  };
}

/** Whether two codes are places of twins: what merely lies on one another is none, and has nothing to do with one another. */
const twinTest =
  ({ islandOfFace, twinOf }: SurfaceMap) =>
  (first: number, code: number): boolean =>
    code >= 0 &&
    (code === first ||
      (islandOfFace[code >> 2] !== islandOfFace[first >> 2] &&
        twinOf[islandOfFace[code >> 2]!] === twinOf[islandOfFace[first >> 2]!]));

interface Layer {
  readonly codes: Int32Array;
  readonly source: TileSource | null;
}

/** The same for masks. @returns as `paint`: null where all is covered */
export function maskOverPlaces(
  surface: SurfaceMap,
  paint: (tile: number) => Uint16Array | null,
): (tile: number) => Uint16Array | null {
  return (tile) => {
    const layers = layersOfTile(surface, tile);
    if (layers.length < 2) return paint(tile);
    const masks = layers.map((layer) => ({ codes: codesOfTile(surface, layer)!, mask: paint(layer) }));
    if (masks.every(({ mask }) => mask === null)) return null;
    const areTwins = twinTest(surface);
    return Uint16Array.from({ length: TILE_TEXELS }, (_, i) => {
      let sum = 0;
      let places = 0;
      for (const { codes, mask } of masks) {
        if (!areTwins(masks[0]!.codes[i]!, codes[i]!)) continue;
        sum += mask ? mask[i]! : 65535;
        places++;
      }
      return places ? Math.round(sum / places) : 0;
    });
  };
}

/** One channel of a source, 0..1, straight. */
function channel(source: TileSource, o: number, c: number): number {
  switch (source.form) {
    case 'color':
      return c === 3 ? 1 : source.color[c as 0 | 1 | 2];
    case 'rgba8':
      return source.bytes[o + c]! / 255;
    case 'rgba16':
      return source.words[o + c]! / 65535;
  }
}

function meanOf(layers: readonly Layer[], areTwins: ReturnType<typeof twinTest>): TileSource {
  const words = new Uint16Array(TILE_TEXELS * 4);
  for (let i = 0; i < TILE_TEXELS; i++) {
    const o = i * 4;
    const sum = [0, 0, 0, 0];
    let places = 0;
    for (const { codes, source } of layers) {
      if (!areTwins(layers[0]!.codes[i]!, codes[i]!)) continue;
      places++;
      if (!source) continue;
      const alpha = channel(source, o, 3);
      for (let c = 0; c < 3; c++) sum[c]! += channel(source, o, c) * alpha;
      sum[3]! += alpha;
    }
    if (!places || !(sum[3]! > 0)) continue;
    for (let c = 0; c < 3; c++) words[o + c] = Math.round((sum[c]! / sum[3]!) * 65535);
    words[o + 3] = Math.round((sum[3]! / places) * 65535);
  }
  return { form: 'rgba16', words };
}

function mostOf(layers: readonly Layer[]): TileSource {
  const words = new Uint16Array(TILE_TEXELS * 4);
  for (let i = 0; i < TILE_TEXELS; i++) {
    const o = i * 4;
    let most = 0;
    for (const { codes, source } of layers) {
      const alpha = source && codes[i]! >= 0 ? channel(source, o, 3) : 0;
      if (!source || alpha <= most) continue;
      most = alpha;
      for (let c = 0; c < 4; c++) words[o + c] = Math.round(channel(source, o, c) * 65535);
    }
  }
  return { form: 'rgba16', words };
}
