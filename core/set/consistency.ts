import { dot, length, normalize, type Vec3, median } from '../math';
import type { AssetFacts } from './asset-facts';

/** In what an asset differs from the rest of its set. */
export type Difference = 'palette' | 'density' | 'values' | 'light';

/** One asset that stands out. */
export interface Outlier {
  /** Place of the asset among those compared. */
  readonly asset: number;
  readonly of: Difference;
  /** A sentence, without the asset's name. */
  readonly says: string;
}

/** What holds for a set as a whole. */
export interface Consistency {
  /** Texels a unit of length. */
  readonly density: number;
  /** Lightness L*. */
  readonly values: readonly [dark: number, middle: number, light: number];
  /** From where most are lit; null where that can't be told. */
  readonly light: Vec3 | null;
  readonly outliers: readonly Outlier[];
}

/** ΔE that the mean of an asset's colours may be from the palette, and how much farther than the set's median. Two colours that far apart are told by their names (common practice). */
const FAR_COLORS = 6;
const FARTHER_COLORS = 3;
/** Densities within this factor of the median look alike (common practice: within half and twice). */
const DENSITY_FACTOR = 1.6;
/** L* that the dark, middle or light end may be off the median. */
const VALUES_OFF = 14;
/** Degrees that a light may be off, where it explains this part of the values. */
const LIGHT_OFF = 40;
const CERTAIN = 0.12;

/** Compares the assets of a set with one another. */
export function consistencyOf(assets: readonly AssetFacts[]): Consistency {
  const density = median(assets.map((a) => a.density));
  const values = [0, 1, 2].map((k) => median(assets.map((a) => a.values[k]!))) as [number, number, number];
  const lit = assets.filter((a) => a.light && a.light.certainty >= CERTAIN);
  const light = lit.length > 1 ? meanDirection(lit.map((a) => a.light!.direction)) : null;
  const palette = median(assets.flatMap((a) => a.paletteDistance ?? []));
  const outliers: Outlier[] = [];
  // One alone stands out from nothing but from the palette.
  const isSet = assets.length > 1;
  // Of two neither is the odd one: the second is told beside the first.
  const [first] = assets;
  const beside = assets.length === 2 && first ? first : { density, values };
  const others = assets.length === 2 ? 'the other' : 'the set';
  assets.forEach((facts, asset) => {
    const { paletteDistance: far, light: own } = facts;
    if (far !== null && far > FAR_COLORS && far > palette + (isSet ? FARTHER_COLORS : 0)) {
      const says = `Its colours are ΔE ${far.toFixed(1)} from the palette in the mean, those of the set ${palette.toFixed(1)}.`;
      outliers.push({ asset, of: 'palette', says });
    }
    if (!isSet) return;
    const factor = beside.density > 0 ? facts.density / beside.density : 1;
    if (factor > DENSITY_FACTOR || factor < 1 / DENSITY_FACTOR) {
      const much =
        factor > 1 ? `${factor.toFixed(1)} times as many` : `only ${Math.round(factor * 100)} % of the`;
      outliers.push({ asset, of: 'density', says: `It has ${much} texels a length that ${others} has.` });
    }
    const ends = ['dark', 'middle', 'light'] as const;
    const off = ends
      .map((end, k) => ({ end, by: facts.values[k]! - beside.values[k]! }))
      .sort((a, b) => Math.abs(b.by) - Math.abs(a.by))[0]!;
    if (Math.abs(off.by) > VALUES_OFF) {
      const how = off.by > 0 ? 'lighter' : 'darker';
      const what = off.end === 'middle' ? 'As a whole it is' : `Its ${off.end}s are`;
      outliers.push({
        asset,
        of: 'values',
        says: `${what} L* ${Math.round(Math.abs(off.by))} ${how} than ${others}’s.`,
      });
    }
    if (light && own && own.certainty >= CERTAIN) {
      const angle = (Math.acos(Math.min(1, Math.max(-1, dot(light, own.direction)))) * 180) / Math.PI;
      if (angle > LIGHT_OFF)
        outliers.push({ asset, of: 'light', says: `It is lit ${Math.round(angle)}° off the set’s light.` });
    }
  });
  return { density, values, light, outliers };
}

/** The mean of directions; of those, an odd one weighs no more than the others. */
function meanDirection(directions: readonly Vec3[]): Vec3 | null {
  // The direction from which the others are least far: a mean would be drawn toward one that is quite wrong.
  const apart = (a: Vec3): number =>
    directions.reduce((sum, b) => sum + Math.acos(Math.min(1, Math.max(-1, dot(a, b)))), 0);
  const centre = [...directions].sort((a, b) => apart(a) - apart(b))[0];
  if (!centre) return null;
  const near = directions.filter((d) => dot(d, centre) > Math.cos((LIGHT_OFF * Math.PI) / 180));
  const sum = near.reduce<Vec3>((s, d) => [s[0] + d[0], s[1] + d[1], s[2] + d[2]], [0, 0, 0]);
  return length(sum) > 1e-6 ? normalize(sum) : centre;
}
