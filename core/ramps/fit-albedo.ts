import {
  codesOfTile,
  filledTiles,
  INSIDE,
  placeOfTexel,
  PlaceReader,
  TILE_TEXELS,
  type SurfaceMap,
} from '../surface';
import { fitToRamps, type Fit, type PaintedPlace } from './fit-ramps';
import type { ProjectRamp } from './project-ramps';

/** A part and the ramp on which it comes nearest to what is painted. */
export interface PartFit {
  readonly part: string;
  readonly fit: Fit;
}

/** Places of a part that are looked at: the mean over more differs by less than 0.1 ΔE on the demo's parts. */
const PLACES = 400;

/**
 * For every part of a painted model the ramp, the direction and the run that come nearest to its albedo.
 *
 * @param rows the albedo of each sheet at its own size, RGBA rows from the top
 * @returns parts that have paint, in the order of the model
 */
export function fitAlbedo(
  surface: SurfaceMap,
  rows: readonly Uint8Array[],
  ramps: readonly ProjectRamp[],
  onProgress: (done: number) => void = () => undefined,
): PartFit[] {
  const { parts } = surface.mesh;
  const places = paintedPlaces(surface, rows);
  return parts.flatMap((part, i) => {
    onProgress(i / parts.length);
    const fit = fitToRamps(places[i]!, ramps);
    return fit ? [{ part, fit }] : [];
  });
}

/** Painted places of each part, evenly over its texels. @param rows as for `fitAlbedo` */
export function paintedPlaces(surface: SurfaceMap, rows: readonly Uint8Array[]): PaintedPlace[][] {
  const { mesh, sheets } = surface;
  const counts = new Float64Array(mesh.parts.length);
  const eachTexel = (visit: (texel: number, part: number) => void): void => {
    for (const tile of filledTiles(surface)) {
      const codes = codesOfTile(surface, tile)!;
      for (let i = 0; i < TILE_TEXELS; i++) {
        const code = codes[i]!;
        if (code >= 0 && (code & 3) === INSIDE) visit(tile * TILE_TEXELS + i, mesh.faceParts[code >> 2]!);
      }
    }
  };
  eachTexel((_, part) => counts[part]!++);
  const out: PaintedPlace[][] = mesh.parts.map(() => []);
  const seen = new Float64Array(mesh.parts.length);
  const reader = new PlaceReader(surface);
  eachTexel((texel, part) => {
    // The k-th place is taken when k of so many parts of the texels have gone by.
    const before = Math.floor((seen[part]! * PLACES) / counts[part]!);
    const after = Math.floor((++seen[part]! * PLACES) / counts[part]!);
    if (before === after) return;
    const { sheet, x, y } = placeOfTexel(sheets, texel);
    const o = (y * sheets[sheet]!.size + x) * 4;
    const rgba = rows[sheet]!;
    if (rgba[o + 3] === 0) return;
    const places = reader.tile(Math.floor(texel / TILE_TEXELS))!;
    const i = texel % TILE_TEXELS;
    out[part]!.push({
      at: [places.px[i]!, places.py[i]!, places.pz[i]!],
      rgb: { r: rgba[o]!, g: rgba[o + 1]!, b: rgba[o + 2]! },
    });
  });
  return out;
}
