import { formTiles, TILE_TEXELS, type SurfaceMap } from '../surface';
import { cueKind, type CueSpec } from './cue';
import { ownCueSurface, type CueSurface } from './cue-surface';
import { fillMissed } from './fill-missed';
import { smoothCue } from './smooth-cue';

export interface MeasureCueOptions {
  /** Where it is measured; left out: the surface's own model. */
  readonly ground?: CueSurface;
  /** Told the part done, 0..1; may throw to stop. */
  readonly onProgress?: (done: number) => void;
}

/**
 * A whole cue on one thread, as the command line and the tests make it.
 *
 * @returns 0..65535 a texel in the order of the map's codes, 0 where nothing lies
 */
export function measureCue(map: SurfaceMap, spec: CueSpec, options: MeasureCueOptions = {}): Uint16Array {
  const ground = options.ground ?? ownCueSurface(map);
  const kind = cueKind(spec);
  if (kind.form === 'placed') return fillMissed(ground, kind.measure(ground, spec));
  const caster = kind.caster(ground, spec);
  const values = new Uint16Array(map.codes.length);
  formTiles(map).forEach((tile, i, all) => {
    values.set(caster.tile(tile, false), map.slotOfTile[tile]! * TILE_TEXELS);
    options.onProgress?.((i + 1) / all.length);
  });
  return finishCast(ground, spec, values);
}

/** What becomes of cast values when all tiles are there: evened out over the pattern of the rays, and filled where rays met nothing. */
export function finishCast(ground: CueSurface, spec: CueSpec, values: Uint16Array): Uint16Array {
  const kind = cueKind(spec);
  const rays = kind.form === 'rays' ? kind.rays(spec) : 1;
  return smoothCue(ground.map, fillMissed(ground, values), rays);
}
