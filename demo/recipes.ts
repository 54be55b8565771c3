import { USUAL_BRUSHWORK, type Brushwork } from '../core/brushwork';
import type { Ramp } from '../core/color';
import { CUE_KINDS, cueSpec, type CueName, type CueSpec } from '../core/cues';
import {
  PLAIN_LEVELS,
  parseRecipe,
  type Ingredient,
  type MaskStep,
  type NewLayer,
  type Recipe,
} from '../core/engine';
import { DEFAULT_LIGHT_PLAN, patchedPlan, type LightPatch } from '../core/light';

/** The recipes of the shelf, made for the stall and what stands about it; each lays on any model. */

const LIGHT = 0;

const cue = <C extends CueName>(name: C, patch: object = {}): CueSpec =>
  cueSpec.parse({ ...CUE_KINDS[name].usual, ...patch });

const through = (spec: CueSpec, low: number, high: number, invert = false): MaskStep => ({
  from: 'cue',
  join: 'multiply',
  levels: { ...PLAIN_LEVELS, low, high },
  invert,
  cue: spec,
});

const ramp = (
  mixing: Ramp['mixing'],
  hardness: number,
  ...stops: readonly (readonly [at: number, color: string])[]
): Ramp => ({
  stops: stops.map(([at, color]) => ({ at, color })),
  mixing,
  hardness,
});

const key = (weight = 1): Ingredient => ({
  from: 'key',
  light: LIGHT,
  join: 'mix',
  weight,
  levels: PLAIN_LEVELS,
  invert: false,
});

const mixed = (
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

const strokes = (patch: Partial<Brushwork>): { strokes: Brushwork } => ({
  strokes: { ...USUAL_BRUSHWORK, ...patch },
});

const OPEN = cue('occlusion', { rays: 48 });

/** What most of them have in common: darker where little sky is seen, edges that catch the light. */
const shade = (color: string, opacity: number): NewLayer => ({
  kind: 'wash',
  name: 'In the crevices',
  color,
  blend: 'multiply',
  opacity,
  mask: [through(OPEN, 0.15, 0.95, true)],
});

const lifted = (color: string, opacity: number, patch: Partial<Brushwork> | null = null): NewLayer => ({
  kind: 'wash',
  name: 'Edges lifted',
  color,
  opacity,
  mask: [through(cue('ridge', { scale: 0.018 }), 0.3, 0.9)],
  ...(patch ? strokes({ under: 0, ...patch }) : {}),
});

function recipe(name: string, says: string, light: LightPatch, layers: readonly NewLayer[]): Recipe {
  return parseRecipe({
    format: 'zanahoria-recipe',
    version: 3,
    name,
    says,
    lights: [{ id: LIGHT, name: 'Stall lamp', plan: patchedPlan(DEFAULT_LIGHT_PLAN, light) }],
    layers: layers.map((layer, i) => ({ ...layer, id: i + 1 })),
  });
}

const SOFT_SHADOW: LightPatch = { key: { shadow: 0.55, size: 12 } };

/** By the names of their files. */
export const RECIPES: Readonly<Record<string, Recipe>> = {
  'worn-painted-wood': recipe(
    'Worn painted wood',
    'Paint on boards that rubbed off at the edges and shows its grain.',
    SOFT_SHADOW,
    [
      {
        kind: 'tone',
        name: 'Paint, light and shadow',
        mix: [key(), mixed(cue('facing'), 0.35), mixed(OPEN, 0.55, 'multiply')],
        levels: PLAIN_LEVELS,
        ramp: ramp('oklab', 0.1, [0.05, '#1d3a44'], [0.45, '#2f7475'], [0.85, '#8fc3ad']),
        ...strokes({
          size: 0.028,
          length: 5,
          along: 'axis',
          direction: [1, 0, 0],
          bristle: 0.6,
          hueJitter: 6,
        }),
      },
      {
        kind: 'wash',
        name: 'Grain of the boards',
        color: '#163037',
        blend: 'multiply',
        opacity: 0.45,
        mask: [
          through(
            cue('grain', { kind: 'ridged', scale: 46, seed: 3, stretch: { direction: [1, 0, 0], by: 9 } }),
            0.55,
            0.95,
          ),
        ],
      },
      {
        kind: 'wash',
        name: 'Rubbed to the wood',
        color: '#b98a58',
        opacity: 0.95,
        mask: [
          through(cue('ridge', { scale: 0.02 }), 0.3, 0.62),
          through(cue('grain', { kind: 'value', scale: 34, seed: 8 }), 0.4, 0.62),
        ],
      },
      shade('#3a2140', 0.7),
    ],
  ),
  'glazed-clay': recipe(
    'Glazed clay',
    'A pot that was dipped: glaze pools in the hollows and breaks warm over the rims.',
    { key: { shadow: 0.4, size: 10 }, polish: { amount: 0.35, crispness: 0.75, highlight: 0.9, edges: 0 } },
    [
      {
        kind: 'tone',
        name: 'Glaze',
        mix: [key(), mixed(OPEN, 0.5, 'multiply'), mixed(cue('height'), 0.2)],
        levels: PLAIN_LEVELS,
        ramp: ramp('oklch', 0, [0, '#20304a'], [0.4, '#3f6f8f'], [0.75, '#a7c9bf'], [1, '#f0e6c8']),
        ...strokes({ size: 0.05, length: 2.4, along: 'axis', edge: 0.7, bristle: 0.15, hueJitter: 5 }),
      },
      {
        kind: 'wash',
        name: 'Breaks over the rims',
        color: '#a9663a',
        opacity: 0.85,
        mask: [
          through(cue('ridge', { scale: 0.022, weights: { fine: 0, medium: 1, broad: 0.2 } }), 0.3, 0.85),
        ],
      },
      {
        kind: 'wash',
        name: 'Pools in the hollows',
        color: '#16273f',
        blend: 'multiply',
        opacity: 0.7,
        mask: [through(cue('crease', { scale: 0.05 }), 0.1, 0.7)],
      },
      { kind: 'light', name: 'Gloss', light: LIGHT, blend: 'soft-light', opacity: 0.7 },
      shade('#2b2140', 0.55),
    ],
  ),
  'hammered-copper': recipe(
    'Hammered copper',
    'Metal with a dent beside a dent: sky and ground lie in it, and green sits where no hand comes.',
    {
      key: { shadow: 0.35, size: 6, strength: 0.6 },
      sky: { color: '#bcd0ec', strength: 0.35 },
      horizon: { color: '#f2c890', strength: 0.25 },
      ground: { color: '#4a2430', strength: 0.55 },
      polish: { amount: 0.75, crispness: 0.6, highlight: 1.1, edges: 0.5 },
    },
    [
      {
        kind: 'tone',
        name: 'Copper',
        mix: [key(), mixed(cue('facing'), 0.6), mixed(OPEN, 0.5, 'multiply')],
        levels: PLAIN_LEVELS,
        ramp: ramp('oklab', 0.15, [0.08, '#2e100f'], [0.45, '#8a3f22'], [0.75, '#cf7640'], [0.98, '#ffd39a']),
      },
      {
        kind: 'wash',
        name: 'Dents',
        color: '#5a2418',
        opacity: 0.4,
        blend: 'multiply',
        mask: [through(cue('grain', { kind: 'cellular', scale: 26, seed: 5 }), 0.35, 0.85, true)],
      },
      { kind: 'light', name: 'What it mirrors', light: LIGHT, blend: 'overlay', opacity: 0.45 },
      {
        kind: 'wash',
        name: 'Green in the folds',
        color: '#4f9a86',
        opacity: 0.65,
        mask: [
          through(OPEN, 0.1, 0.6, true),
          through(cue('grain', { kind: 'value', scale: 18, seed: 12 }), 0.4, 0.65),
        ],
      },
      lifted('#ffe9c4', 0.5),
    ],
  ),
  'lit-oiled-paper': recipe(
    'Oiled paper, lit from inside',
    'A lantern: bright where it is thin, amber toward its ribs.',
    { key: { strength: 0.25, shadow: 0 }, sky: { color: '#46506e', strength: 0.4 } },
    [
      {
        kind: 'tone',
        name: 'Glow',
        mix: [
          mixed(cue('thickness', { distance: 0.25 }), 0.6, 'mix', true),
          mixed(cue('nearness', { point: [0, 0, 0], radius: 0.55 }), 1),
          mixed(OPEN, 0.25, 'multiply'),
        ],
        levels: { low: 0.05, high: 0.85, gamma: 1 },
        ramp: ramp('oklch', 0, [0, '#5a1a24'], [0.35, '#c2452a'], [0.7, '#f6a040'], [1, '#fff2c0']),
        ...strokes({ size: 0.05, length: 2, along: 'form', edge: 0.9, bristle: 0.1, hueJitter: 4 }),
      },
      {
        kind: 'wash',
        name: 'Fibres',
        color: '#fff6dc',
        opacity: 0.3,
        blend: 'soft-light',
        mask: [through(cue('grain', { kind: 'ridged', scale: 60, seed: 2 }), 0.6, 0.95)],
      },
      {
        kind: 'wash',
        name: 'Ribs',
        color: '#6b2420',
        opacity: 0.6,
        blend: 'multiply',
        mask: [through(cue('ridge', { scale: 0.016 }), 0.3, 0.85)],
      },
    ],
  ),
  'wet-fur': recipe(
    'Wet fur',
    'Strands that lie down the form and shine along their tops.',
    { key: { shadow: 0.5, size: 10 }, rim: { strength: 0.35, ofView: false, direction: [0.6, 0.5, -0.7] } },
    [
      {
        kind: 'tone',
        name: 'Fur, light and shadow',
        mix: [key(), mixed(OPEN, 0.65, 'multiply')],
        levels: PLAIN_LEVELS,
        ramp: ramp('oklab', 0.15, [0.02, '#2b1826'], [0.4, '#6a3f2c'], [0.75, '#a9744a'], [1, '#e8c08a']),
        ...strokes({
          size: 0.012,
          length: 8,
          along: 'down',
          overlap: 0.6,
          edge: 0.25,
          bristle: 0.75,
          small: 0.5,
          hueJitter: 7,
          lightJitter: 0.07,
          angleJitter: 16,
        }),
      },
      {
        kind: 'wash',
        name: 'Wet shine',
        color: '#f4e2c8',
        opacity: 0.55,
        blend: 'screen',
        mask: [through(cue('facing', { direction: [-0.5, 0.75, 0.6] }), 0.86, 1)],
        ...strokes({
          size: 0.01,
          length: 9,
          along: 'down',
          overlap: 0.3,
          amount: 0.55,
          under: 0,
          bristle: 0.6,
        }),
      },
      shade('#38203a', 0.75),
    ],
  ),
  'woven-cloth': recipe(
    'Woven cloth',
    'Folds in two tones, threads across, frayed light at the hems.',
    SOFT_SHADOW,
    [
      {
        kind: 'tone',
        name: 'Cloth, light and shadow',
        mix: [
          key(),
          mixed(OPEN, 0.6, 'multiply'),
          mixed(cue('crease', { scale: 0.04 }), 0.4, 'multiply', true),
        ],
        levels: PLAIN_LEVELS,
        ramp: ramp('oklab', 0.45, [0.1, '#5a1f30'], [0.5, '#b8442c'], [0.9, '#f0955a']),
      },
      {
        kind: 'wash',
        name: 'Threads across',
        color: '#7a2a2a',
        opacity: 0.35,
        blend: 'multiply',
        mask: [
          through(
            cue('grain', { kind: 'value', scale: 120, seed: 4, stretch: { direction: [1, 0, 0], by: 14 } }),
            0.5,
            0.8,
          ),
        ],
      },
      {
        kind: 'wash',
        name: 'Threads down',
        color: '#ffd9a8',
        opacity: 0.25,
        blend: 'soft-light',
        mask: [
          through(
            cue('grain', { kind: 'value', scale: 120, seed: 9, stretch: { direction: [0, 1, 0], by: 14 } }),
            0.5,
            0.8,
          ),
        ],
      },
      lifted('#ffe2bd', 0.55, { size: 0.01, length: 3, along: 'form', overlap: 0.4 }),
      shade('#3d1c3c', 0.7),
    ],
  ),
  'turnip-skin': recipe(
    'Turnip skin',
    'Cream below, a blush of violet above, fine rings and a little earth.',
    { key: { shadow: 0.35, size: 14 }, polish: { amount: 0.12, crispness: 0.4, highlight: 0.5, edges: 0 } },
    [
      {
        kind: 'tone',
        name: 'Cream',
        mix: [key(), mixed(OPEN, 0.5, 'multiply')],
        levels: PLAIN_LEVELS,
        ramp: ramp('oklab', 0.05, [0.05, '#9a7f86'], [0.5, '#e9dcc0'], [0.95, '#fffaf0']),
        ...strokes({ size: 0.035, length: 3, along: 'axis', edge: 0.6, bristle: 0.3 }),
      },
      {
        kind: 'tone',
        name: 'Violet from above',
        blend: 'multiply',
        opacity: 0.9,
        mix: [
          mixed(cue('height', { from: 0.35, to: 0.95 }), 1),
          mixed(cue('grain', { scale: 14, seed: 6 }), 0.35),
        ],
        levels: { low: 0.2, high: 0.75, gamma: 1 },
        ramp: ramp('oklab', 0, [0, '#ffffff'], [0.5, '#e0a8c4'], [1, '#9a4a86']),
        ...strokes({ size: 0.03, length: 4, along: 'down', edge: 0.5, bristle: 0.55, under: 1 }),
      },
      {
        kind: 'wash',
        name: 'Rings',
        color: '#8a6a70',
        opacity: 0.3,
        blend: 'multiply',
        mask: [
          through(
            cue('grain', {
              kind: 'ridged',
              scale: 30,
              seed: 11,
              stretch: { direction: [1, 0, 0.2], by: 12 },
            }),
            0.7,
            0.98,
          ),
        ],
      },
      {
        kind: 'wash',
        name: 'Earth',
        color: '#5a3d2c',
        opacity: 0.6,
        mask: [through(OPEN, 0.1, 0.55, true), through(cue('grain', { scale: 24, seed: 15 }), 0.45, 0.7)],
      },
    ],
  ),
  'stone-kerb': recipe(
    'Stone kerb',
    'Blue-grey stone with warm light on top, chipped edges and damp at its foot.',
    { key: { shadow: 0.65, size: 8 } },
    [
      {
        kind: 'tone',
        name: 'Stone, light and shadow',
        mix: [key(), mixed(cue('facing'), 0.5), mixed(OPEN, 0.6, 'multiply')],
        levels: PLAIN_LEVELS,
        ramp: ramp('oklab', 0.3, [0.05, '#252a40'], [0.45, '#5c6580'], [0.8, '#98978f'], [1, '#e2d2b0']),
        ...strokes({ size: 0.045, length: 2, along: 'form', overlap: 0.5, bristle: 0.5, lightJitter: 0.06 }),
      },
      {
        kind: 'wash',
        name: 'Pits',
        color: '#23263a',
        opacity: 0.4,
        blend: 'multiply',
        mask: [through(cue('grain', { kind: 'cellular', scale: 60, seed: 7 }), 0, 0.35, true)],
      },
      lifted('#f6e6c8', 0.75, { size: 0.014, length: 2.2, along: 'form', overlap: 0.45, bristle: 0.3 }),
      {
        kind: 'wash',
        name: 'Damp at the foot',
        color: '#2f4a44',
        opacity: 0.6,
        blend: 'multiply',
        mask: [
          through(cue('height', { from: 0, to: 0.4 }), 0.1, 1, true),
          through(cue('grain', { scale: 16, seed: 21 }), 0.3, 0.6),
        ],
      },
      shade('#2a2038', 0.75),
    ],
  ),
};
