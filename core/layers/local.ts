import { z } from 'zod';
import { hexColor, hexToRgb } from '../color';
import { codesOfTile, TILE_TEXELS } from '../surface';
import { nodeBase } from './layer-base';
import type { DerivedKind } from './layer-kind';

const own = {
  kind: z.literal('local'),
  /** Name of a part and its colour. */
  colors: z.array(z.tuple([z.string().max(200), hexColor])).max(65_535),
  /** For parts that have none. */
  fallback: hexColor,
};
const schema = z.strictObject({ ...nodeBase, ...own });

export type LocalLayer = z.infer<typeof schema>;

/** The colour of a part by its name. */
export const localColor = ({ colors, fallback }: LocalLayer, part: string): string =>
  colors.find(([name]) => name === part)?.[1] ?? fallback;

/** The layer's colours with one part's changed. */
export const withLocalColor = (
  { colors }: Pick<LocalLayer, 'colors'>,
  part: string,
  color: string,
): LocalLayer['colors'] => [...colors.filter(([name]) => name !== part), [part, color]];

/** A colour as one little-endian RGBA word with full alpha. */
function packColor(hex: string): number {
  const { r, g, b } = hexToRgb(hex);
  return (r | (g << 8) | (b << 16) | 0xff000000) >>> 0;
}

/** Local colours: one flat colour a part. */
export const localKind = {
  kind: 'local',
  schema,
  inRecipes: true,
  form: 'derived',
  boundless: false,
  inputs: ({ colors, fallback }, { surface }) => `${surface} ${JSON.stringify([colors, fallback])}`,
  painter: (layer, { surface }) => {
    const { parts, faceParts } = surface.mesh;
    const colors = new Map(layer.colors);
    const words = Uint32Array.from(parts, (name) => packColor(colors.get(name) ?? layer.fallback));
    return (tile) => {
      const codes = codesOfTile(surface, tile);
      if (!codes) return null;
      const out = new Uint32Array(TILE_TEXELS);
      for (let i = 0; i < TILE_TEXELS; i++) {
        const code = codes[i]!;
        if (code >= 0) out[i] = words[faceParts[code >> 2]!]!;
      }
      return { form: 'rgba8', bytes: new Uint8Array(out.buffer) };
    };
  },
} as const satisfies DerivedKind<LocalLayer>;
