import { z } from 'zod';
import { filledTiles, TILE_TEXELS } from '../../surface';
import type { CueKind } from '../cue-kind';
import { createOcclusionCaster } from '../occlusion';
import { buildRayScene } from '../ray-scene';
import { smoothCue } from '../smooth-cue';

const schema = z.strictObject({
  cue: z.literal('occlusion'),
  /** Rays a texel. */
  rays: z.int().min(1).max(4096),
  /** How far a ray looks, in parts of the model's diagonal; null looks without end. */
  reach: z.number().positive().nullable(),
});

/** The open part of the sky, cosine-weighted. */
export const occlusionKind = {
  schema,
  usual: { cue: 'occlusion', rays: 64, reach: 0.25 },
  says: 'How open a place lies: dark in crevices, under arms and where things touch.',
  key: ({ rays, reach }) => `occlusion ${rays} ${reach ?? 'endless'}`,
  measure: (mesh, map, spec, onProgress) => {
    const caster = createOcclusionCaster(mesh, buildRayScene(mesh.positions, mesh.indices), map, spec);
    const values = new Uint16Array(map.codes.length);
    filledTiles(map).forEach((tile, i, all) => {
      values.set(caster.tile(tile, false), map.slotOfTile[tile]! * TILE_TEXELS);
      onProgress((i + 1) / all.length);
    });
    return smoothCue(map, values);
  },
} as const satisfies CueKind<z.infer<typeof schema>>;
