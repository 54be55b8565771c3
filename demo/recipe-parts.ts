import { bytesToBase64 } from '../core/base64';
import { USUAL_BRUSHWORK, type Brushwork } from '../core/brushwork';
import type { Ramp } from '../core/color';
import { CUE_KINDS, cueSpec, type CueName, type CueSpec } from '../core/cues';
import { PLAIN_LEVELS, type Ingredient, type MaskStep } from '../core/layers';
import { parseRecipe, type Recipe } from '../core/document';
import type { NewLayer } from '../core/commands';
import { encodePng } from '../core/formats';
import { DEFAULT_LIGHT_PLAN, patchedPlan, type LightPatch } from '../core/light';
import { PATTERNS } from './patterns';

/** What the shelf’s recipes are made of. */

export const LIGHT = 0;

export const cue = <C extends CueName>(name: C, patch: object = {}): CueSpec =>
  cueSpec.parse({ ...CUE_KINDS[name].usual, ...patch });

export const through = (spec: CueSpec, low: number, high: number, invert = false): MaskStep => ({
  from: 'cue',
  join: 'multiply',
  levels: { ...PLAIN_LEVELS, low, high },
  invert,
  cue: spec,
});

export const ramp = (
  mixing: Ramp['mixing'],
  hardness: number,
  ...stops: readonly (readonly [at: number, color: string])[]
): Ramp => ({
  stops: stops.map(([at, color]) => ({ at, color })),
  mixing,
  hardness,
});

export const key = (weight = 1): Ingredient => ({
  from: 'key',
  light: LIGHT,
  join: 'mix',
  weight,
  levels: PLAIN_LEVELS,
  invert: false,
});

export const mixed = (
  spec: CueSpec,
  weight: number,
  join: Ingredient['join'] = 'mix',
  invert = false,
): Ingredient => ({
  from: 'cue',
  cue: spec,
  join,
  weight,
  levels: PLAIN_LEVELS,
  invert,
});

export const strokes = (patch: Partial<Brushwork>): { strokes: Brushwork } => ({
  strokes: { ...USUAL_BRUSHWORK, ...patch },
});

export const OPEN = cue('occlusion', { rays: 48 });

/** What most of them have in common: darker where little sky is seen, edges that catch the light. */
export const shade = (color: string, opacity: number): NewLayer => ({
  kind: 'wash',
  name: 'In the crevices',
  color,
  blend: 'multiply',
  opacity,
  mask: [through(OPEN, 0.15, 0.95, true)],
});

export const lifted = (
  color: string,
  opacity: number,
  patch: Partial<Brushwork> | null = null,
): NewLayer => ({
  kind: 'wash',
  name: 'Edges lifted',
  color,
  opacity,
  mask: [through(cue('ridge', { scale: 0.018 }), 0.3, 0.9)],
  ...(patch ? strokes({ under: 0, ...patch }) : {}),
});

/** @param patterns by the names of their files; the first has the id 0 */
export function recipe(
  name: string,
  says: string,
  light: LightPatch,
  layers: readonly NewLayer[],
  patterns: readonly (keyof typeof PATTERNS)[] = [],
): Recipe {
  return parseRecipe({
    format: 'zanahoria-recipe',
    version: 5,
    name,
    says,
    lights: [{ id: LIGHT, name: 'Stall lamp', plan: patchedPlan(DEFAULT_LIGHT_PLAN, light) }],
    patterns: patterns.map((file, id) => {
      const { title, draw } = PATTERNS[file]!;
      const picture = draw();
      const { width, height } = picture;
      return { id, name: title, width, height, png: bytesToBase64(encodePng(picture)) };
    }),
    layers: layers.map((layer, i) => ({ ...layer, id: i + 1 })),
  });
}

export const SOFT_SHADOW: LightPatch = { key: { shadow: 0.55, size: 12 } };
