import { z } from 'zod';
import { rampSchema, rampTable } from '../color';
import { cueSpec, followCue, type CueSpec } from '../cues';
import { prepareLight, wrapped } from '../light';
import { THRESHOLDS } from '../math';
import { codesOfTile, SUB_TEXELS, TILE_TEXELS } from '../surface';
import { followTargets } from '../follow';
import { derivedBase, layerId } from './layer-base';
import type { DerivedKind, LayerInputs } from './layer-kind';
import { applyLevels, levelsSchema } from './levels';
import { castOf } from './light';
import { regionNames } from './local';
import { regionsAmong, targetSchema } from './target';
import { chosenBy } from './chosen-by';

const shared = {
  levels: levelsSchema,
  invert: z.boolean(),
  /** How much it counts. */
  weight: z.number().min(0).max(1),
  /** It is one of those whose weighted mean is taken, or it darkens what that comes to. */
  join: z.enum(['mix', 'multiply']),
};

/** Something that a tone is mixed from. */
export const ingredientSchema = z.discriminatedUnion('from', [
  z.strictObject({ from: z.literal('cue'), cue: cueSpec, ...shared }),
  /** The key light of a plan, with its shadow. */
  z.strictObject({ from: z.literal('key'), light: layerId, ...shared }),
]);

const schema = z.strictObject({
  ...derivedBase,
  kind: z.literal('tone'),
  mix: z.array(ingredientSchema).min(1).max(8),
  /** For the mixed tone as a whole. */
  levels: levelsSchema,
  /** Colours from dark to light. */
  ramp: rampSchema,
  /** Ramps of parts and regions that have their own; those of regions lie over those of parts. */
  ramps: z
    .array(z.strictObject({ of: targetSchema, ramp: rampSchema }))
    .max(2000)
    .default([]),
});

export type ToneLayer = z.infer<typeof schema>;
export type Ingredient = z.infer<typeof ingredientSchema>;

/** Tones that a ramp is divided into: finer than eight bits of colour show. */
/** A level of eight bits, of sixteen. */
const LEVEL = 65535 / 255;

const TABLE = 2048;

const keysOf = (mix: readonly Ingredient[]): number[] =>
  mix.flatMap((m) => (m.from === 'key' ? [m.light] : []));

/** A mix of cues as a tone from dark to light, through a ramp of colours. */
export const toneKind = {
  kind: 'tone',
  schema,
  inRecipes: true,
  form: 'derived',
  boundless: false,
  cues: ({ mix }, { light }) =>
    mix.flatMap((m): CueSpec[] => {
      if (m.from === 'cue') return [m.cue];
      const plan = light(m.light);
      const cast = plan && castOf(plan);
      return cast ? [cast] : [];
    }),
  regions: ({ ramps }) => regionsAmong(ramps.map((r) => r.of)),
  parts: ({ ramps }) => ramps.flatMap(({ of }) => ('part' in of ? [of.part] : [])),
  withPlayers: (layer, players) => ({ ...layer, ramps: players.targets(layer.ramps) }),
  withoutRegion: (layer, region) => ({
    ...layer,
    ramps: layer.ramps.filter(({ of }) => !('region' in of && of.region === region)),
  }),
  lights: ({ mix }) => keysOf(mix),
  withLights: (layer, numbers) => ({
    ...layer,
    mix: layer.mix.map((m) => (m.from === 'key' ? { ...m, light: numbers.get(m.light) ?? m.light } : m)),
  }),
  follow: (layer, model) => ({
    ...layer,
    ramps: followTargets(layer.ramps, model.names),
    mix: layer.mix.map((m) => (m.from === 'cue' ? { ...m, cue: followCue(m.cue, model) } : m)),
  }),
  inputs: ({ mix, levels, ramp, ramps }, names) =>
    [
      names.surface,
      JSON.stringify([mix, levels, ramp, ramps]),
      ...mix.flatMap((m) => (m.from === 'cue' ? [names.cue(m.cue)] : [])),
      ...keysOf(mix).map((id) => names.light(id)),
      regionNames(regionsAmong(ramps.map((r) => r.of)), names),
    ].join(' '),
  painter: (layer, inputs) => {
    const { surface } = inputs;
    const { faceParts } = surface.mesh;
    const tones = layer.mix.map((m) => ingredientOf(m, inputs));
    const plain = rampTable(layer.ramp, TABLE);
    const own = layer.ramps.map(({ ramp }) => rampTable(ramp, TABLE));
    const { ofPart, over } = chosenBy(
      layer.ramps.map((r) => r.of),
      inputs,
    );
    const shape = Float32Array.from({ length: TABLE }, (_, i) => applyLevels(layer.levels, i / (TABLE - 1)));
    return (tile) => {
      const codes = codesOfTile(surface, tile);
      if (!codes) return null;
      const value = toneOfTile(tones.map((of) => of(tile)));
      const words = new Uint16Array(TILE_TEXELS * 4);
      for (let i = 0; i < TILE_TEXELS; i++) {
        const code = codes[i]!;
        if (code < 0) continue;
        const tone = shape[Math.round(value(i) * (TABLE - 1))]!;
        const at = Math.round(tone * (TABLE - 1)) * 3;
        const index = ofPart[faceParts[code >> 2]!]!;
        const table = index < 0 ? plain : own[index]!;
        // Rounded to a level of eight bits elsewhere at each texel: a ramp of few levels has no bands.
        const off = (THRESHOLDS[i & (SUB_TEXELS - 1)]! - 0.5) * LEVEL;
        for (let c = 0; c < 3; c++) {
          let v = table[at + c]!;
          for (const { index: region, shape: area } of over) {
            const covered = area.at(tile, i, code) / 255;
            if (covered > 0) v += (own[region]![at + c]! - v) * covered;
          }
          words[i * 4 + c] = Math.min(65535, Math.max(0, Math.round(v * 65535 + off)));
        }
        words[i * 4 + 3] = 65535;
      }
      return { form: 'rgba16', words };
    };
  },
} as const satisfies DerivedKind<ToneLayer>;

interface Tone {
  readonly weight: number;
  readonly join: Ingredient['join'];
  /** 0..1 of a texel of the tile. */
  readonly at: (texel: number) => number;
}

/** What mixed tones come to: the weighted mean of those that are mixed, darkened by the others. */
function toneOfTile(tones: readonly Tone[]): (texel: number) => number {
  const mixed = tones.filter((t) => t.join === 'mix');
  const darkening = tones.filter((t) => t.join === 'multiply');
  const whole = mixed.reduce((sum, t) => sum + t.weight, 0);
  return (i) => {
    let value = whole > 0 ? 0 : 1;
    for (const t of mixed) if (whole > 0) value += (t.at(i) * t.weight) / whole;
    for (const t of darkening) value *= 1 - t.weight * (1 - t.at(i));
    return value < 0 ? 0 : value > 1 ? 1 : value;
  };
}

function ingredientOf(m: Ingredient, inputs: LayerInputs): (tile: number) => Tone {
  const { weight, join } = m;
  const shaped = (x: number): number => {
    const y = applyLevels(m.levels, x);
    return m.invert ? 1 - y : y;
  };
  const { slotOfTile } = inputs.surface;
  if (m.from === 'cue') {
    const cue = inputs.cue(m.cue);
    const curve = Float32Array.from({ length: 65536 }, (_, v) => shaped(v / 65535));
    return (tile) => {
      const base = slotOfTile[tile]! * TILE_TEXELS;
      // What isn't measured yet darkens nothing.
      return { weight: cue ? weight : 0, join, at: (i) => (cue ? curve[cue[base + i]!]! : 1) };
    };
  }
  const plan = inputs.light(m.light);
  if (!plan) return () => ({ weight: 0, join, at: () => 1 });
  const { direction: d, wrap } = prepareLight(plan);
  const cast = castOf(plan);
  const seen = cast && inputs.cue(cast, `cast ${m.light}`);
  return (tile) => {
    const at = inputs.places.tile(tile)!;
    const base = slotOfTile[tile]! * TILE_TEXELS;
    return {
      weight,
      join,
      at: (i) => {
        const cos = (at.nx[i]! * d[0] + at.ny[i]! * d[1] + at.nz[i]! * d[2]) / 32767;
        const lit = wrapped(cos, wrap);
        return shaped(seen ? lit * (1 - plan.key.shadow * (1 - seen[base + i]! / 65535)) : lit);
      },
    };
  };
}
