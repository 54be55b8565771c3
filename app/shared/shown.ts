import type { PoseMap } from '../../core/cues';
import type { Difference } from '../../core/match';
import type { HeatKind } from '../../core/unwrap';

/** What the picture shows on the model. */
export type Shown =
  | { readonly of: 'paint' }
  /** One layer without the others, or where its mask lets it cover. */
  | { readonly of: 'layer' | 'mask'; readonly layer: number }
  /** How far the paint is from the chosen reference. */
  | { readonly of: 'distance'; readonly difference: Difference }
  /** Even squares with letters. */
  | { readonly of: 'checker' }
  /** How the layout stretches the surface. */
  | { readonly of: 'heat'; readonly heat: HeatKind }
  /** How the pose that is shown lies to the paint. */
  | { readonly of: 'pose'; readonly map: PoseMap };

export const PAINT: Shown = { of: 'paint' };

/** In what light paint is shown: as it is stored, under plain lamps, only how light or dark it is, or as a toon shader shows it. */
export type PaintLight = 'unlit' | 'lit' | 'values' | 'toon';

/** Whether it tells about the layout instead of the paint. */
export const isOfLayout = (shown: Shown): boolean => shown.of === 'checker' || shown.of === 'heat';

/** The layer that is looked at by itself, if any. */
export const shownLayer = (shown: Shown): number | null => ('layer' in shown ? shown.layer : null);

/** The lamps of the lit check. Directions are unit vectors toward the lamp, in the model's space; colours sRGB-encoded. */
export interface CheckLights {
  readonly key: readonly [number, number, number];
  /** A second lamp from the other side. */
  readonly back: boolean;
  readonly sky: string;
  readonly ground: string;
}

const LENGTH = Math.hypot(0.3, 0.6, 0.75);
export const PLAIN_LIGHTS: CheckLights = {
  key: [0.3 / LENGTH, 0.6 / LENGTH, 0.75 / LENGTH],
  back: false,
  sky: '#595959',
  ground: '#595959',
};

/** How a toon shader would show the model. */
export interface ToonLook {
  /** Tones of the light. */
  readonly tones: number;
  /** How soft the border between tones is, in parts of a tone. */
  readonly edge: number;
  /** What the paint is multiplied by where it is darkest. */
  readonly shade: string;
  /** Width of the outline, parts of the model's diagonal, and its colour. */
  readonly width: number;
  readonly outline: string;
  /** What the paint becomes where it keeps a highlight. */
  readonly highlight: string;
  /** Lit by the normals of the light plan's stand-ins, where it has any. */
  readonly standIns: boolean;
}

export const PLAIN_TOON: ToonLook = {
  tones: 2,
  edge: 0.04,
  shade: '#8f86b0',
  width: 0.004,
  outline: '#231b22',
  highlight: '#fff6e0',
  standIns: true,
};
