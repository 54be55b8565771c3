import { z } from 'zod';
import { hexColor, hexToRgb } from '../color';
import { isBackdrop } from '../mesh';
import { codesOfTile, TILE_TEXELS } from '../surface';
import { followNames, followTargets } from '../follow';
import { derivedBase } from './layer-base';
import type { DerivedKind, InputNames } from './layer-kind';
import { regionsAmong, sameTarget, targetSchema, type Target } from './target';
import { chosenBy } from './chosen-by';

const own = {
  kind: z.literal('local'),
  /** Name of a part and its colour. */
  colors: z.array(z.tuple([z.string().max(200), hexColor])).max(65_535),
  /** A region and its colour, over those of parts; the later over the earlier. */
  regions: z
    .array(z.tuple([z.int().nonnegative(), hexColor]))
    .max(1000)
    .default([]),
  /** Which swatch of the palette a colour is: when that changes, so does it. */
  swatches: z
    .array(z.strictObject({ of: targetSchema, swatch: z.int().nonnegative() }))
    .max(66_535)
    .default([]),
  /** For parts that have none. */
  fallback: hexColor,
};
const schema = z.strictObject({ ...derivedBase, ...own });

export type LocalLayer = z.infer<typeof schema>;
type Colors = Pick<LocalLayer, 'colors' | 'regions' | 'swatches'>;

/** The colour of a part by its name. */
export const localColor = ({ colors, fallback }: LocalLayer, part: string): string =>
  colors.find(([name]) => name === part)?.[1] ?? fallback;

/**
 * The layer's colours with one changed.
 *
 * @param swatch the swatch that it is; null for a colour of its own
 */
export function withLocalColor(
  layer: Colors,
  of: Target,
  color: string,
  swatch: number | null = null,
): Colors {
  const swatches = layer.swatches.filter((s) => !sameTarget(s.of, of));
  if (swatch !== null) swatches.push({ of, swatch });
  if ('part' in of) {
    const colors = [
      ...layer.colors.filter(([name]) => name !== of.part),
      [of.part, color] as [string, string],
    ];
    return { colors, regions: layer.regions, swatches };
  }
  const known = layer.regions.findIndex(([id]) => id === of.region);
  const entry: [number, string] = [of.region, color];
  const regions = known < 0 ? [...layer.regions, entry] : layer.regions.with(known, entry);
  return { colors: layer.colors, regions, swatches };
}

/** The layer's colours when a swatch has become another colour. */
function withSwatchColor(layer: LocalLayer, swatch: number, color: string): LocalLayer {
  let next: Colors = layer;
  for (const link of layer.swatches)
    if (link.swatch === swatch) next = withLocalColor(next, link.of, color, swatch);
  return next === layer ? layer : { ...layer, ...next };
}

/** A colour as one little-endian RGBA word with full alpha. */
function packColor(hex: string): number {
  const { r, g, b } = hexToRgb(hex);
  return (r | (g << 8) | (b << 16) | 0xff000000) >>> 0;
}

/** One word laid over another, 0..255 of it. */
function over(below: number, above: number, covered: number): number {
  if (covered === 255) return above;
  let out = 0xff000000;
  for (let shift = 0; shift < 24; shift += 8) {
    const [a, b] = [(below >>> shift) & 255, (above >>> shift) & 255];
    out |= Math.round(a + ((b - a) * covered) / 255) << shift;
  }
  return out >>> 0;
}

/** Names the present state of regions. */
export const regionNames = (ids: readonly number[], names: InputNames): string =>
  ids.map((id) => names.region(id)).join(' ');

/** Local colours: one flat colour a part, and over it one a region. A backdrop has one only where it was given one. */
export const localKind = {
  kind: 'local',
  schema,
  inRecipes: true,
  form: 'derived',
  boundless: false,
  shared: 'first',
  onBackdrops: true,
  regions: ({ regions }) => regions.map(([id]) => id),
  parts: ({ colors }) => colors.map(([part]) => part),
  withPlayers: (layer, players) => ({ ...layer, colors: players.named(layer.colors) }),
  withoutRegion: (layer, region) => ({
    ...layer,
    regions: layer.regions.filter(([id]) => id !== region),
    swatches: layer.swatches.filter(({ of }) => !regionsAmong([of]).includes(region)),
  }),
  withSwatch: (layer, swatch, color) => withSwatchColor(layer, swatch, color),
  follow: (layer, { names }) => ({
    ...layer,
    colors: followNames(layer.colors, names),
    swatches: followTargets(layer.swatches, names),
  }),
  inputs: ({ colors, fallback, regions }, names) =>
    `${names.surface} ${JSON.stringify([colors, fallback, regions])} ${regionNames(
      regions.map(([id]) => id),
      names,
    )}`,
  painter: (layer, inputs) => {
    const { surface } = inputs;
    const { parts, faceParts } = surface.mesh;
    const colors = new Map(layer.colors);
    const words = Uint32Array.from(parts, (name, part) => {
      const own = colors.get(name) ?? (isBackdrop(surface.mesh, part) ? null : layer.fallback);
      return own === null ? 0 : packColor(own);
    });
    const { over: regions } = chosenBy(
      layer.regions.map(([region]) => ({ region })),
      inputs,
    );
    const ofRegion = layer.regions.map(([, color]) => packColor(color));
    return (tile) => {
      const codes = codesOfTile(surface, tile);
      if (!codes) return null;
      const out = new Uint32Array(TILE_TEXELS);
      for (let i = 0; i < TILE_TEXELS; i++) {
        const code = codes[i]!;
        if (code < 0) continue;
        let word = words[faceParts[code >> 2]!]!;
        for (const { index, shape } of regions) {
          const covered = shape.at(tile, i, code);
          if (covered > 0) word = over(word, ofRegion[index]!, covered);
        }
        out[i] = word;
      }
      return { form: 'rgba8', bytes: new Uint8Array(out.buffer) };
    };
  },
} as const satisfies DerivedKind<LocalLayer>;
