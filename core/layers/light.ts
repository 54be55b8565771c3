import { z } from 'zod';
import { lightAt, prepareLight } from '../light';
import { NOWHERE, TILE_TEXELS } from '../surface';
import { layerId, nodeBase } from './layer-base';
import type { DerivedKind } from './layer-kind';

const schema = z.strictObject({
  ...nodeBase,
  kind: z.literal('light'),
  /** Which of the project's light plans. */
  light: layerId,
});

export type LightLayer = z.infer<typeof schema>;

/** A light plan as paint. */
export const lightKind = {
  kind: 'light',
  schema,
  inRecipes: true,
  form: 'derived',
  boundless: false,
  inputs: ({ light }, names) => `${names.surface} ${names.light(light)}`,
  painter: ({ light: id }, { light, places }) => {
    const plan = light(id);
    if (!plan) return () => null;
    const prepared = prepareLight(plan);
    return (tile) => {
      const at = places.tile(tile);
      if (!at) return null;
      const words = new Uint16Array(TILE_TEXELS * 4);
      for (let i = 0; i < TILE_TEXELS; i++) {
        if (at.px[i]! >= NOWHERE) continue;
        lightAt(prepared, at.nx[i]! / 32767, at.ny[i]! / 32767, at.nz[i]! / 32767, words, i * 4, 65535);
        words[i * 4 + 3] = 65535;
      }
      return { form: 'rgba16', words };
    };
  },
} as const satisfies DerivedKind<LightLayer>;
