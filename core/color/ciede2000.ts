import type { Cielab } from './cielab';

/** The distance and its three parts, signed: positive means that the second colour is lighter, more vivid, further round. */
export interface ColorDifference {
  readonly deltaE: number;
  readonly deltaL: number;
  readonly deltaC: number;
  /** Signed hue difference ΔH' in the units of ΔE (not an angle). */
  readonly deltaH: number;
}

const RAD = Math.PI / 180;
const cosDeg = (d: number): number => Math.cos(d * RAD);
const POW25_7 = 25 ** 7;

function hueDegrees(b: number, a: number): number {
  if (a === 0 && b === 0) return 0;
  const h = Math.atan2(b, a) / RAD;
  return h < 0 ? h + 360 : h;
}

/**
 * CIEDE2000 with unit weights (G. Sharma, W. Wu, E. N. Dalal, "The CIEDE2000 color-difference formula", Color Research
 * and Application 30(1), 2005, equations 2 to 22).
 */
export function ciede2000(one: Cielab, two: Cielab): ColorDifference {
  const c1 = Math.hypot(one.a, one.b);
  const c2 = Math.hypot(two.a, two.b);
  const cMean7 = ((c1 + c2) / 2) ** 7;
  const g = 0.5 * (1 - Math.sqrt(cMean7 / (cMean7 + POW25_7)));
  const a1 = (1 + g) * one.a;
  const a2 = (1 + g) * two.a;
  const C1 = Math.hypot(a1, one.b);
  const C2 = Math.hypot(a2, two.b);
  const h1 = hueDegrees(one.b, a1);
  const h2 = hueDegrees(two.b, a2);

  const deltaL = two.L - one.L;
  const deltaC = C2 - C1;
  let dh = 0;
  if (C1 * C2 !== 0) {
    dh = h2 - h1;
    if (dh > 180) dh -= 360;
    else if (dh < -180) dh += 360;
  }
  const deltaH = 2 * Math.sqrt(C1 * C2) * Math.sin((dh * RAD) / 2);

  const L = (one.L + two.L) / 2;
  const C = (C1 + C2) / 2;
  let h = h1 + h2;
  if (C1 * C2 !== 0) {
    if (Math.abs(h1 - h2) <= 180) h /= 2;
    else h = h < 360 ? (h + 360) / 2 : (h - 360) / 2;
  }
  const t =
    1 - 0.17 * cosDeg(h - 30) + 0.24 * cosDeg(2 * h) + 0.32 * cosDeg(3 * h + 6) - 0.2 * cosDeg(4 * h - 63);
  const C7 = C ** 7;
  const rt = -2 * Math.sqrt(C7 / (C7 + POW25_7)) * Math.sin(60 * RAD * Math.exp(-(((h - 275) / 25) ** 2)));
  const l50 = (L - 50) ** 2;
  const sl = deltaL / (1 + (0.015 * l50) / Math.sqrt(20 + l50));
  const sc = deltaC / (1 + 0.045 * C);
  const sh = deltaH / (1 + 0.015 * C * t);
  const deltaE = Math.sqrt(Math.max(0, sl * sl + sc * sc + sh * sh + rt * sc * sh));
  return { deltaE, deltaL, deltaC, deltaH };
}
