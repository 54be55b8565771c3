import { formTiles, TILE_TEXELS, type SurfaceMap } from '../surface';
import { CoreError } from '../errors';
import type { InPoses } from '../motion';
import { cueKind, posesOf, type CueSpec } from './cue';
import { ownCueSurface, type CueSurface } from './cue-surface';
import { fillMissed } from './fill-missed';
import { takenOf } from './in-poses';
import { smoothCue } from './smooth-cue';
import type { TileCaster } from './tile-caster';

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
  if (kind.form === 'placed') {
    const values = (ground.poses ?? [ground]).map((posed) => kind.measure(posed, spec));
    return fillMissed(ground, takenOf(values, takeOf(spec)));
  }
  const caster = casterFor(ground, spec);
  const values = new Uint16Array(map.codes.length);
  formTiles(map).forEach((tile, i, all) => {
    values.set(caster.tile(tile, false), map.slotOfTile[tile]! * TILE_TEXELS);
    options.onProgress?.((i + 1) / all.length);
  });
  return finishCast(ground, spec, values);
}

/** Casts a cue's rays tile by tile, over all poses in which it is measured. @throws CoreError `bad-argument` if none are cast for it */
export function casterFor(ground: CueSurface, spec: CueSpec): TileCaster {
  const kind = cueKind(spec);
  if (kind.form !== 'rays') throw new CoreError('bad-argument', `No rays are cast for ${spec.cue}.`);
  const casters = (ground.poses ?? [ground]).map((posed) => kind.caster(posed, spec));
  return {
    tile: (tile, coarse) =>
      takenOf(
        casters.map((caster) => caster.tile(tile, coarse)),
        takeOf(spec),
      ),
  };
}

const takeOf = (spec: CueSpec): InPoses['take'] => posesOf(spec)?.take ?? 'mean';

/** What becomes of cast values when all tiles are there: evened out over the pattern of the rays, and filled where rays met nothing. */
export function finishCast(ground: CueSurface, spec: CueSpec, values: Uint16Array): Uint16Array {
  const kind = cueKind(spec);
  const rays = kind.form === 'rays' ? kind.rays(spec) : 1;
  return smoothCue(ground.map, fillMissed(ground, values), rays);
}
