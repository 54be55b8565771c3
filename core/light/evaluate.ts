import { hexToRgb } from '../color';
import { normalize, smoothstep, type Vec3 } from '../math';
import type { LightPlan } from './light-plan';

type Channels = readonly [r: number, g: number, b: number];

/** A light plan ready to be evaluated: unit directions, channels 0..1 times strength. */
export interface PreparedLight {
  readonly key: Channels;
  readonly direction: Vec3;
  readonly wrap: number;
  readonly shadow: number;
  readonly tint: Channels;
  readonly sky: Channels;
  readonly horizon: Channels | null;
  readonly ground: Channels;
  /** Of the ground's light, how much is bounced, and how strongly. */
  readonly bounce: { readonly part: number; readonly strength: number };
  readonly rim: {
    readonly color: Channels;
    readonly direction: Vec3;
    readonly ofView: boolean;
    readonly low: number;
    readonly high: number;
  } | null;
  readonly polish: {
    readonly amount: number;
    readonly highlight: number;
    readonly near: number;
    readonly far: number;
    readonly edges: number;
  } | null;
  readonly lights: readonly { readonly color: Channels; readonly direction: Vec3; readonly wrap: number }[];
}

const channels = (color: string, strength: number): Channels => {
  const { r, g, b } = hexToRgb(color);
  return [(r / 255) * strength, (g / 255) * strength, (b / 255) * strength];
};

/** A plan as the evaluation wants it: colours times strength, 0..1, sRGB-encoded as layers blend. */
export function prepareLight(plan: LightPlan): PreparedLight {
  const { key, sky, horizon, ground, rim, polish, lights } = plan;
  const half = rim.edge / 2 + 1e-3;
  // A highlight as crisp as can be spans 3 degrees, the softest 60.
  const spread = (60 - 57 * polish.crispness) * (Math.PI / 180);
  return {
    key: channels(key.color, key.strength),
    direction: normalize(key.direction),
    wrap: key.wrap,
    shadow: key.shadow,
    tint: channels(key.tint, key.strength),
    sky: channels(sky.color, sky.strength),
    horizon: horizon.strength > 0 ? channels(horizon.color, horizon.strength) : null,
    ground: channels(ground.color, ground.strength),
    bounce: { part: ground.bounce, strength: ground.strength },
    rim:
      rim.strength > 0
        ? {
            color: channels(rim.color, rim.strength),
            direction: normalize(rim.direction),
            ofView: rim.ofView,
            low: 1 - rim.width - half,
            high: 1 - rim.width + half,
          }
        : null,
    polish:
      polish.amount > 0 || polish.edges > 0
        ? {
            amount: polish.amount,
            highlight: polish.highlight,
            near: Math.cos(spread * 0.5),
            far: Math.cos(spread),
            edges: polish.edges,
          }
        : null,
    lights: lights.map((l) => ({
      color: channels(l.color, l.strength),
      direction: normalize(l.direction),
      wrap: l.wrap,
    })),
  };
}

/** Wrapped Lambert: 0..1. @param cos between normal and light */
export const wrapped = (cos: number, wrap: number): number => Math.max(0, (cos + wrap) / (1 + wrap));

/** What is around a place besides its normal. */
export interface LightSurroundings {
  /** The part of the key light that is seen, 0..1. */
  seen: number;
  /** How much of a ridge the place lies on, 0..1. */
  ridge: number;
  /** The colour of what lies below, 0..1 a channel; null: the ground alone. */
  below: ArrayLike<number> | null;
}

/**
 * Light that reaches a surface: wrapped Lambert key with its cast shadow, a hemisphere of sky, horizon and ground, other lights, a rim,
 * and, the more polished the surface, what is mirrored in it. The sky's part of a plane tilted by t is (1 + cos t) / 2 (Liu and
 * Jordan 1963).
 *
 * @param nx, ny, nz unit normal
 * @param out receives r, g, b, sRGB-encoded; 0 upward, not cut off at 1
 */
export function lightAt(
  light: PreparedLight,
  nx: number,
  ny: number,
  nz: number,
  { seen, ridge, below }: LightSurroundings,
  out: Float64Array | number[],
): void {
  const { direction: d, key, tint, sky, ground, horizon, rim, polish } = light;
  const lit = wrapped(nx * d[0] + ny * d[1] + nz * d[2], light.wrap);
  const dark = light.shadow * (1 - seen);
  const up = (1 + ny) / 2;
  const down = 1 - up;
  // What looks to the side sees the horizon; sky and ground give way to it.
  const side = horizon ? 1 - Math.abs(ny) : 0;
  const bounced = below ? light.bounce.part : 0;
  for (let c = 0; c < 3; c++) {
    const under = below
      ? ground[c]! * (1 - bounced) + below[c]! * light.bounce.strength * bounced
      : ground[c]!;
    out[c] =
      lit * (key[c]! * (1 - dark) + tint[c]! * dark) +
      (sky[c]! * up + under * down) * (1 - side) +
      (horizon ? horizon[c]! * side : 0);
  }
  for (const other of light.lights) {
    const o = other.direction;
    const w = wrapped(nx * o[0] + ny * o[1] + nz * o[2], other.wrap);
    for (let c = 0; c < 3; c++) out[c]! += other.color[c]! * w;
  }
  if (polish) mirror(light, polish, nx, ny, nz, 1 - dark, ridge, out);
  if (rim) {
    const cos = nx * rim.direction[0] + ny * rim.direction[1] + nz * rim.direction[2];
    const w = smoothstep(rim.low, rim.high, rim.ofView ? 1 - Math.max(0, cos) : Math.max(0, cos));
    for (let c = 0; c < 3; c++) out[c]! += rim.color[c]! * w;
  }
}

/**
 * What a polished surface mirrors. There is no eye in an albedo: each place is looked at level, from straight before it, so that what is
 * mirrored lies in the plane of its normal and of the vertical.
 */
function mirror(
  { direction: d, sky, horizon, ground, key }: PreparedLight,
  { amount, highlight, near, far, edges }: NonNullable<PreparedLight['polish']>,
  nx: number,
  ny: number,
  nz: number,
  lit: number,
  ridge: number,
  out: Float64Array | number[],
): void {
  const level = Math.hypot(nx, nz);
  // Twice the normal's elevation: the mirrored direction's height and its part to the front.
  const ry = 2 * ny * level;
  const front = 2 * level * level - 1;
  const [hx, hz] = level > 1e-6 ? [nx / level, nz / level] : [0, 0];
  const cos = hx * front * d[0] + ry * d[1] + hz * front * d[2];
  const glint = highlight * lit * smoothstep(far, near, cos);
  const up = smoothstep(0, 0.35, ry);
  const down = smoothstep(0, 0.35, -ry);
  for (let c = 0; c < 3; c++) {
    const middle = horizon ? horizon[c]! : (sky[c]! + ground[c]!) / 2;
    const seen = sky[c]! * up + ground[c]! * down * 0.6 + middle * (1 - up - down);
    out[c] = out[c]! * (1 - amount) + amount * (seen * 1.6 + key[c]! * glint * 2) + edges * ridge * key[c]!;
  }
}
