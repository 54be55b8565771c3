import type { UvMesh } from '../mesh';
import { filledTiles, TILE_TEXELS, type SurfaceMap } from '../surface';
import type { CueSpec } from './cue';
import { createOcclusionCaster } from './occlusion';
import { buildRayScene } from './ray-scene';
import { facingCue, heightCue } from './simple-cues';
import { smoothCue } from './smooth-cue';

/**
 * A whole cue on one thread, as the command line and the tests make it.
 *
 * @param onProgress told the part done, 0..1; may throw to stop
 * @returns 0..65535 a texel in the order of the map's codes, 0 where nothing lies
 */
export function measureCue(
  mesh: UvMesh,
  map: SurfaceMap,
  spec: CueSpec,
  onProgress: (done: number) => void = () => undefined,
): Uint16Array {
  switch (spec.cue) {
    case 'height':
      return heightCue(mesh, map, spec.axis);
    case 'facing':
      return facingCue(map, spec.direction);
    case 'occlusion': {
      const caster = createOcclusionCaster(mesh, buildRayScene(mesh.positions, mesh.indices), map, spec);
      const values = new Uint16Array(map.codes.length);
      filledTiles(map).forEach((tile, i, all) => {
        values.set(caster.tile(tile, false), map.slotOfTile[tile]! * TILE_TEXELS);
        onProgress((i + 1) / all.length);
      });
      return smoothCue(map, values);
    }
  }
}
