import type { PaletteColor, Rgb } from '../../color';
import type { Vec3 } from '../../math';
import type { PartBend } from '../bend/bend';
import type { ColorRange } from './color-range';
import type { EdgeMeasures } from './edge-measures';
import type { PaintedLight } from './painted-light';
import type { PictureLight } from './picture-light';
import type { SilhouetteMatch } from '../camera/silhouette';
import type { OutlinePlace, PartSilhouette } from '../camera/silhouette-places';
import type { SpanMatch } from './spans';
import type { AreaMatch, ToneName } from './tones-seen';
import type { ValueGroup } from './value-groups';

/** A part of the model, or a region of it, by its colours. */
export interface NamedArea extends AreaMatch {
  readonly of: 'part' | 'region';
  readonly part: string;
}

/** Colours of the reference beside those of the model that they go with best. */
export interface PalettePair {
  readonly reference: PaletteColor;
  readonly model: PaletteColor;
  readonly deltaE: number;
}

/** Where a part's paint is lit from. */
export interface PartLight {
  readonly part: string;
  readonly direction: Vec3;
  readonly certainty: number;
  /** Between this and the same part of the reference, degrees; null where that can't be told. */
  readonly degrees: number | null;
}

/** The light as a whole. */
export interface LightMatch {
  /** What the model's parts agree on, and the reference's; null where none is told. */
  readonly model: PaintedLight | null;
  readonly reference: PictureLight | null;
  /** Between the two, degrees. */
  readonly degrees: number | null;
  /** Parts of the model that are lit from elsewhere than the rest. */
  readonly disagree: readonly { readonly part: string; readonly degrees: number }[];
}

/** Something of both pictures. */
export interface Both<T> {
  readonly reference: T;
  readonly model: T;
}

export interface MatchReport {
  readonly silhouette: SilhouetteMatch & {
    readonly places: readonly OutlinePlace[];
    readonly parts: readonly PartSilhouette[];
  };
  readonly deltaE: { readonly mean: number; readonly p50: number; readonly p95: number };
  readonly parts: readonly NamedArea[];
  readonly regions: readonly NamedArea[];
  readonly palette: readonly PalettePair[];
  /** Shares of pixels by how light they are: CIELAB lightness in steps of 5, the darkest first. */
  readonly values: Both<readonly number[]>;
  readonly groups: Both<readonly ValueGroup[]>;
  readonly merging: readonly {
    readonly parts: readonly [string, string];
    readonly apart: number;
    readonly wanted: number;
  }[];
  readonly colors: Both<ColorRange>;
  readonly light: readonly PartLight[];
  readonly lightAll: LightMatch;
  readonly edges: Both<EdgeMeasures>;
  readonly spans: readonly SpanMatch[];
  /** What the drawing bends, the most first; empty where the picture is no free drawing. */
  readonly bends: readonly PartBend[];
  /** What would help most, the first first. */
  readonly advice: readonly Advice[];
}

/** Something that would bring a model nearer to its reference, in words. */
export interface Advice {
  readonly kind: 'color' | 'tone' | 'merge' | 'light' | 'outline' | 'proportion';
  /** “Apron’s shadow is too blue”. */
  readonly title: string;
  /** “ΔE 8.0, a tenth of the picture”. */
  readonly detail: string;
  /** Name of the part or region that it is about; null: the whole. */
  readonly area: string | null;
  readonly of: NamedArea['of'];
  readonly tone: ToneName | null;
  /** The colours wanted and painted, where it is about one. */
  readonly colors: { readonly reference: Rgb; readonly model: Rgb } | null;
  /** Where to look, pixels of the picture; null: nowhere in particular. */
  readonly at: readonly [x: number, y: number] | null;
  /** What of the project can be changed for it by itself. */
  readonly apply: 'color' | 'tones' | 'light' | null;
  /** How much it would help, in the unit of the mean ΔE of the whole picture, roughly. */
  readonly weight: number;
}
