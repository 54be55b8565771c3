import { PLAIN_LEVELS, type MaskStep } from '../../../core/layers';
import { usualPattern } from '../../../core/pattern';
import type { NewLayer } from '../../../core/commands';
import { CUE_KINDS, OFFERED_CUES, cueSpec, type CueName, type CueSpec } from '../../../core/cues';
import { CUE_WORDS } from '../../shared/cue-words';

const cueStep = (cue: CueSpec, low: number, high: number, invert: boolean): MaskStep => ({
  from: 'cue',
  join: 'multiply',
  levels: { ...PLAIN_LEVELS, low, high },
  invert,
  cue,
});

export const usualCue = (name: CueName): CueSpec => cueSpec.parse(CUE_KINDS[name].usual);

/** Low and high with which a cue is of use at once; the whole of it otherwise. */
const USUAL_LEVELS: Partial<Record<CueName, readonly [low: number, high: number]>> = {
  occlusion: [0.1, 0.95],
  facing: [0.5, 1],
};

/** Steps that a mask can get; regions and layers are offered by their names. */
export const NEW_STEPS: readonly {
  readonly title: string;
  readonly says: string;
  readonly step: MaskStep;
}[] = OFFERED_CUES.map((name) => {
  const [low, high] = USUAL_LEVELS[name] ?? [0, 1];
  return {
    title: CUE_WORDS[name][0],
    says: CUE_KINDS[name].says,
    step: cueStep(usualCue(name), low, high, false),
  };
});

export const newStep = (
  what: { region: number } | { layer: number } | { part: string } | { pattern: number },
): MaskStep => {
  const base = { join: 'multiply', levels: PLAIN_LEVELS, invert: false } as const;
  if ('part' in what) return { from: 'parts', ...base, parts: [what.part] };
  if ('pattern' in what) return { from: 'pattern', ...base, tiled: usualPattern(what.pattern) };
  return 'region' in what ? { from: 'region', ...base, ...what } : { from: 'layer', ...base, ...what };
};

export interface Offer {
  readonly title: string;
  readonly says: string;
  /** What is added; of a pattern, when it is known which. */
  readonly layer: NewLayer | ((pattern: number) => NewLayer);
}

/** What “Add” offers, ready to be of use. @param light the light plan that a light layer shows */
export const newLayers = (
  light: number,
): readonly { readonly title: string; readonly offers: readonly Offer[] }[] => [
  {
    title: 'By hand',
    offers: [
      { title: 'Paint', says: 'pixels by hand', layer: { kind: 'paint', name: 'Paint' } },
      { title: 'Ink', says: 'lines that stay lines', layer: { kind: 'ink', name: 'Ink' } },
    ],
  },
  {
    title: 'From the form',
    offers: [
      {
        title: 'Occlusion wash',
        says: 'a tint where little sky is seen',
        layer: {
          kind: 'wash',
          name: 'Occlusion',
          color: '#5b3a5e',
          mask: [cueStep(usualCue('occlusion'), 0.1, 0.95, true)],
          blend: 'multiply',
          opacity: 0.8,
        },
      },
      {
        title: 'Height wash',
        says: 'darker toward the feet',
        layer: {
          kind: 'wash',
          name: 'Toward the ground',
          color: '#43304f',
          mask: [cueStep(usualCue('height'), 0, 0.5, true)],
          opacity: 0.5,
        },
      },
      {
        title: 'Facing wash',
        says: 'a tint on what looks up',
        layer: {
          kind: 'wash',
          name: 'Looking up',
          color: '#fff0cf',
          mask: [cueStep({ cue: 'facing', direction: [0, 1, 0] }, 0.55, 1, false)],
          blend: 'soft-light',
          opacity: 0.5,
        },
      },
      {
        title: 'Ridge wash',
        says: 'edges lifted, where the form bulges',
        layer: {
          kind: 'wash',
          name: 'Edges lifted',
          color: '#fff3d6',
          mask: [cueStep(usualCue('ridge'), 0.15, 0.9, false)],
          blend: 'soft-light',
          opacity: 0.6,
        },
      },
      {
        title: 'Crease wash',
        says: 'a tint in folds and joints',
        layer: {
          kind: 'wash',
          name: 'In the folds',
          color: '#4a2f4d',
          mask: [cueStep(usualCue('crease'), 0.1, 0.9, false)],
          blend: 'multiply',
          opacity: 0.6,
        },
      },
      {
        title: 'Tone ramp',
        says: 'light, middle and shadow colours, by how the form is lit',
        layer: {
          kind: 'tone',
          name: 'Light and shadow',
          mix: [
            { from: 'key', light, join: 'mix', weight: 1, levels: PLAIN_LEVELS, invert: false },
            {
              from: 'cue',
              cue: usualCue('occlusion'),
              join: 'multiply',
              weight: 0.6,
              levels: PLAIN_LEVELS,
              invert: false,
            },
          ],
          levels: PLAIN_LEVELS,
          ramp: {
            stops: [
              { at: 0.05, color: '#4b3550' },
              { at: 0.5, color: '#b9765a' },
              { at: 0.9, color: '#f6d9a8' },
            ],
            mixing: 'oklab',
            hardness: 0.2,
          },
        },
      },
      {
        title: 'Grain wash',
        says: 'clouds, veins or cells in the stuff itself',
        layer: {
          kind: 'wash',
          name: 'Grain',
          color: '#6b4a3a',
          mask: [cueStep(usualCue('grain'), 0.35, 0.85, false)],
          blend: 'soft-light',
          opacity: 0.6,
        },
      },
      {
        title: 'Pattern',
        says: 'a picture tiled over the form',
        layer: (pattern) => ({
          kind: 'pattern',
          name: 'Pattern',
          tiled: usualPattern(pattern),
          blend: 'soft-light',
        }),
      },
      {
        title: 'Light',
        says: 'key, sky and ground',
        layer: { kind: 'light', name: 'Key and sky', light, blend: 'soft-light' },
      },
      {
        title: 'Local colour',
        says: 'one colour a part',
        layer: { kind: 'local', name: 'Local colour', colors: [], fallback: '#b6aca2' },
      },
    ],
  },
  {
    title: 'Changes what is below',
    offers: [
      {
        title: 'Hue and chroma',
        says: 'turned, richer, lighter',
        layer: {
          kind: 'adjust',
          name: 'Hue and chroma',
          change: { by: 'oklch', hue: 0, chroma: 1, lightness: 0 },
        },
      },
      {
        title: 'Levels',
        says: 'black point, white point, midtones',
        layer: {
          kind: 'adjust',
          name: 'Levels',
          change: { by: 'levels', ...PLAIN_LEVELS, outLow: 0, outHigh: 1 },
        },
      },
      {
        title: 'Curve',
        says: 'drawn from dark to light',
        layer: {
          kind: 'adjust',
          name: 'Curve',
          change: {
            by: 'curve',
            points: [
              [0, 0],
              [0.5, 0.5],
              [1, 1],
            ],
          },
        },
      },
      {
        title: 'Balance of tones',
        says: 'shadow, middle and light moved each by its own',
        layer: {
          kind: 'adjust',
          name: 'Balance of tones',
          change: {
            by: 'balance',
            stops: [0.3, 0.55, 0.8].map((at) => ({ at, lightness: 0, red: 0, yellow: 0 })),
          },
        },
      },
      {
        title: 'Colour ramp',
        says: 'lightness becomes colour',
        layer: {
          kind: 'adjust',
          name: 'Colour ramp',
          opacity: 0.5,
          change: {
            by: 'ramp',
            stops: [
              { at: 0, color: '#2c1e3d' },
              { at: 0.55, color: '#c0703c' },
              { at: 1, color: '#fff2d0' },
            ],
          },
        },
      },
    ],
  },
];
