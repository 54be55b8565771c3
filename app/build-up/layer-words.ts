import type { Layer, LayerKind, WashLayer } from '../../core/engine';
import { DEFAULT_CUES } from '../../core/cues';

export const KIND_WORDS: Record<LayerKind, string> = {
  local: 'parts',
  wash: 'wash',
  light: 'light',
  paint: 'paint',
};

const CUE_WORDS = { occlusion: 'occlusion', height: 'height', facing: 'facing' } as const;

/** @param region name of the region that masks it */
export function describeLayer(layer: Layer, region: string | undefined): string {
  const what = layer.kind === 'wash' ? `${CUE_WORDS[layer.source.cue]} wash` : KIND_WORDS[layer.kind];
  return [what, layer.blend.replace('-', ' '), ...(region ? [region] : [])].join(' · ');
}

const base = { id: 0, visible: true, opacity: 1, blend: 'normal' } as const;

const wash = (
  patch: Pick<WashLayer, 'name' | 'color' | 'source' | 'levels' | 'invert' | 'blend' | 'opacity'>,
): WashLayer => ({
  ...base,
  kind: 'wash',
  ...patch,
});

/** What “Add” offers, ready to be of use. */
export const NEW_LAYERS: readonly { readonly title: string; readonly says: string; readonly layer: Layer }[] =
  [
    {
      title: 'Paint',
      says: 'pixels by hand',
      layer: { ...base, kind: 'paint', name: 'Paint' },
    },
    {
      title: 'Occlusion wash',
      says: 'a tint where little sky is seen',
      layer: wash({
        name: 'Occlusion',
        color: '#5b3a5e',
        source: DEFAULT_CUES.occlusion,
        levels: { low: 0.1, high: 0.95, gamma: 1 },
        invert: true,
        blend: 'multiply',
        opacity: 0.8,
      }),
    },
    {
      title: 'Ground wash',
      says: 'darker toward the feet',
      layer: wash({
        name: 'Toward the ground',
        color: '#43304f',
        source: DEFAULT_CUES.height,
        levels: { low: 0, high: 0.5, gamma: 1 },
        invert: true,
        blend: 'normal',
        opacity: 0.5,
      }),
    },
    {
      title: 'Facing wash',
      says: 'a tint on what looks up',
      layer: wash({
        name: 'Looking up',
        color: '#fff0cf',
        source: { cue: 'facing', direction: [0, 1, 0] },
        levels: { low: 0.55, high: 1, gamma: 1 },
        invert: false,
        blend: 'soft-light',
        opacity: 0.5,
      }),
    },
    {
      title: 'Light',
      says: 'key, sky and ground',
      layer: { ...base, kind: 'light', name: 'Key and sky', blend: 'soft-light' },
    },
    {
      title: 'Local colour',
      says: 'one colour a part',
      layer: { ...base, kind: 'local', name: 'Local colour', colors: {}, fallback: '#b6aca2' },
    },
  ];
