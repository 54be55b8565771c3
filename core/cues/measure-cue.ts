import type { UvMesh } from '../mesh';
import { spannedTiles, texelCount, TILE_TEXELS, type SurfaceMap } from '../surface';
import type { CueSpec } from './cue';
import { createOcclusionCaster, smoothCue } from './occlusion';
import { buildRayScene } from './ray-scene';
import { facingCue, heightCue } from './simple-cues';

/**
 * A whole cue on one thread, as the command line and the tests make it.
 *
 * @param onProgress told the part done, 0..1; may throw to stop
 * @returns 0..65535 a texel in tiled order, 0 where nothing lies
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
      const values = new Uint16Array(texelCount(map));
      const tiles = spannedTiles(map.sheets);
      for (let t = 0; t < tiles; t++) {
        values.set(caster.tile(t, false), t * TILE_TEXELS);
        onProgress((t + 1) / tiles);
      }
      return smoothCue(map, values);
    }
  }
}
