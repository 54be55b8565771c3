import { z } from 'zod';
import { hexColor, hexToRgb } from '../../core/color';
import { derivedBase } from '../../core/layers/layer-base';
import type { DerivedKind } from '../../core/layers/layer-kind';
import { TILE_TEXELS } from '../../core/surface';

const schema = z.strictObject({
  ...derivedBase,
  kind: z.literal('bands'),
  color: hexColor,
  /** Height of a band, model units; every second one is painted. */
  height: z.number().positive().max(1e6),
});
type BandsLayer = z.infer<typeof schema>;

/** Bands of one colour around the model, one above the other. */
export const bandsKind = {
  kind: 'bands',
  schema,
  inRecipes: true,
  form: 'derived',
  boundless: false,
  // All that its texels are made from: as long as this stays the same, they are not made again.
  inputs: ({ color, height }, names) => `${color} ${height} ${names.surface}`,
  painter: ({ color, height }, { places }) => {
    const { r, g, b } = hexToRgb(color);
    return (tile) => {
      const at = places.tile(tile);
      // Nothing of the surface lies there.
      if (!at) return null;
      const bytes = new Uint8Array(TILE_TEXELS * 4);
      for (let i = 0; i < TILE_TEXELS; i++)
        if (Math.floor(at.py[i]! / height) % 2 === 0) bytes.set([r, g, b, 255], i * 4);
      return { form: 'rgba8', bytes };
    };
  },
} as const satisfies DerivedKind<BandsLayer>;
