import type { Picture } from '../formats';
import { clamp01, smoothstep } from '../math';
import { SUB } from '../surface';
import { UNROLLED_STRIDE, type Unrolled } from '../mesh';
import { hasShades, type BrushShape } from './brush';
import { curveTable, readCurve, type CurveTable } from './curve-table';
import { FACING_FULL, FACING_NONE, type Dab, type RasterSlot } from './dab';
import { pixelsPerTexel, tipCoverage, tipLevel, tipOf, type TipPicture } from './tips';

/** A tip that lies against the surface fades between these depths, in parts of its radius. */
const DEPTH_FULL = 0.5;
const DEPTH_NONE = 1;

/** One that is seen from the eye goes so much deeper than it is wide. */
const EYE_DEPTH = 4;

/** What a brush makes of its dabs beyond a plain ball, got ready once a stroke. */
export interface TipWork {
  readonly brush: BrushShape;
  readonly picture: TipPicture | null;
  readonly profile: CurveTable | null;
}

/** What is known of a sub-tile. */
export interface TipSlot extends RasterSlot {
  /** Codes of its texels; see SurfaceMap. */
  readonly codes: Int32Array;
  /** How much the grain lets through, 0..1 a texel; null: all. */
  readonly grain: Float32Array | null;
  /** Which shade each texel has; null where all have one. */
  readonly shades: Uint8Array | null;
  /** Where the sub-tile lies on its sheet: its first texel, x from the left, y from the top. */
  readonly x: number;
  readonly y: number;
}

/** How the surface under a dab is laid flat. */
export type LaidFlat =
  /** By the way over it; u runs along the dab's long side. */
  | { readonly by: 'surface'; readonly unrolled: Unrolled }
  /** As it lies on the sheet: the dab's middle and its long side there, texels. */
  | {
      readonly by: 'sheet';
      readonly x: number;
      readonly y: number;
      readonly along: readonly [number, number];
    };

/** Where dabs build up, one that covers so much gives its shade to what lies there. */
const SHADE_OVER = 0.3;

/** Numbers that are kept of where a texel lies on a tip. */
export const ON_TIP = 2;

/** @param pictureOf reads the project's pictures; left out: there are none */
export const tipWork = (
  brush: BrushShape,
  pictureOf: (id: number) => Picture | null = () => null,
): TipWork => ({
  brush,
  picture: tipOf(brush, pictureOf),
  profile: brush.profile && curveTable(brush.profile),
});

/** Whether a brush's dabs are plain balls, which have a kernel of their own. */
export const isPlainBall = (brush: BrushShape): boolean => {
  const { tip, lies, profile, roundness, grain, builds } = brush;
  const isBall = tip === 'round' && lies === 'against' && !profile && roundness === 1;
  return isBall && !grain && !builds && !hasShades(brush);
};

/** How far from its middle a dab may touch a texel, model units. */
export const dabReach = (dab: Dab, { lies }: BrushShape): number =>
  lies === 'eye' ? dab.radius * Math.hypot(1, EYE_DEPTH) : dab.radius;

/**
 * Lays a dab with any tip into a sub-tile's coverage.
 *
 * @param flat null where the tip lies against the surface or comes from the eye
 * @param texel length of a texel's side, model units
 * @param onTip receives where each texel lies on the tip, along it and to its left, 1 at the rim; NaN where it doesn't cover
 * @returns whether anything changed
 */
export function layTip(
  slot: TipSlot,
  dab: Dab,
  { brush, picture, profile }: TipWork,
  flat: LaidFlat | null,
  texel: number,
  onTip: Float32Array | null = null,
): boolean {
  const { px, py, pz, nx, ny, nz, reach, mask, codes, grain, shades } = slot;
  const unrolled = flat?.by === 'surface' ? flat.unrolled : null;
  const onSheet = flat?.by === 'sheet' ? flat : null;
  const { x, y, z, radius, inner, strength, facing } = dab;
  const [wx, wy, wz] = dab.normal;
  const [ux, uy, uz] = dab.along;
  const hand = dab.flipped ? -1 : 1;
  const [vx, vy, vz] = [hand * (wy * uz - wz * uy), hand * (wz * ux - wx * uz), hand * (wx * uy - wy * ux)];
  const depth = brush.lies === 'eye' ? radius * EYE_DEPTH : radius;
  const far = (brush.lies === 'eye' ? dabReach(dab, brush) : radius) ** 2;
  const isBall = !picture && brush.lies === 'against';
  const level = picture && tipLevel(picture, pixelsPerTexel(radius / texel));
  const tipSide = level?.side ?? 0;
  const tipValues = level?.values;
  const { builds } = brush;
  const flatter = 1 / (radius * brush.roundness);
  const fade = 1 / Math.max(radius - inner, 1e-12);
  const maps = unrolled?.maps;
  let lastFace = -1;
  let map = -1;
  let changed = false;
  onTip?.fill(NaN);
  for (let i = 0; i < mask.length; i++) {
    if (reach[i] === 0) continue;
    const most = strength * (grain ? grain[i]! : 1) * (reach[i]! / 255);
    // Dabs overlap: much of what lies under one is covered already by as much as it could give.
    if (!builds && !onTip && mask[i]! >= Math.fround(most)) continue;
    const qx = px[i]! - x;
    const qy = py[i]! - y;
    const qz = pz[i]! - z;
    const straight = qx * qx + qy * qy + qz * qz;
    if (straight >= far && !onSheet) continue;
    let a: number;
    let b: number;
    let deep = 0;
    if (maps) {
      const face = codes[i]! >> 2;
      if (face !== lastFace) {
        lastFace = face;
        map = unrolled.indexOf(face) * UNROLLED_STRIDE;
      }
      if (map < 0) continue;
      a = maps[map]! * px[i]! + maps[map + 1]! * py[i]! + maps[map + 2]! * pz[i]! + maps[map + 3]!;
      b =
        hand * (maps[map + 4]! * px[i]! + maps[map + 5]! * py[i]! + maps[map + 6]! * pz[i]! + maps[map + 7]!);
      // No way over the surface is shorter than the straight one.
      const flat = a * a + b * b;
      if (flat < straight) {
        const longer = Math.sqrt(straight / Math.max(flat, 1e-30));
        a *= longer;
        b *= longer;
      }
    } else if (onSheet) {
      const dx = (slot.x + (i & (SUB - 1)) + 0.5 - onSheet.x) * texel;
      const dy = (slot.y + (i >> 5) + 0.5 - onSheet.y) * texel;
      a = dx * onSheet.along[0] + dy * onSheet.along[1];
      // Rows go downward: left of the way is the other way round.
      b = hand * (dx * onSheet.along[1] - dy * onSheet.along[0]);
    } else {
      a = qx * ux + qy * uy + qz * uz;
      b = qx * vx + qy * vy + qz * vz;
      deep = qx * wx + qy * wy + qz * wz;
    }
    a /= radius;
    b *= flatter;
    const c = isBall ? deep / radius : 0;
    const r2 = a * a + b * b + c * c;
    if (r2 >= 1) continue;
    const r = Math.sqrt(r2);
    let w = profile ? readCurve(profile, r) : smoothFall((r * radius - inner) * fade);
    if (tipValues) w *= tipCoverage(tipSide, tipValues, a, b);
    if (!isBall && !flat) w *= smoothstep(DEPTH_NONE, DEPTH_FULL, Math.abs(deep) / depth);
    w *= most;
    if (facing) {
      const cos = (nx[i]! * facing[0] + ny[i]! * facing[1] + nz[i]! * facing[2]) / 32767;
      w *= smoothstep(FACING_NONE, FACING_FULL, cos);
    }
    if (!(w > 0)) continue;
    if (onTip) {
      onTip[i * ON_TIP] = a;
      onTip[i * ON_TIP + 1] = b;
    }
    const old = mask[i]!;
    if (builds) mask[i] = old + (1 - old) * w;
    else if (w > old) mask[i] = w;
    else continue;
    if (shades && (!builds || w >= SHADE_OVER || old === 0)) shades[i] = dab.shade;
    changed = true;
  }
  return changed;
}

/** From 1 at 0 smoothly to 0 at 1. */
function smoothFall(t: number): number {
  const s = clamp01(1 - t);
  return s * s * (3 - 2 * s);
}
