import { smoothstep, type Vec3 } from '../core/math';
import { PALETTE } from './palette';

/** Distance from p to a segment. */
function toSegment(
  p: readonly [number, number],
  a: readonly [number, number],
  b: readonly [number, number],
): number {
  const dx = b[0] - a[0];
  const dy = b[1] - a[1];
  const t = Math.min(1, Math.max(0, ((p[0] - a[0]) * dx + (p[1] - a[1]) * dy) / (dx * dx + dy * dy)));
  return Math.hypot(p[0] - a[0] - dx * t, p[1] - a[1] - dy * t);
}

/** The otter's mouth as it is drawn and painted: points (x, y) on the front, left to right. */
export const MOUTH: readonly (readonly [number, number])[] = [
  [-0.2, 1.245],
  [-0.15, 1.205],
  [-0.09, 1.2],
  [-0.03, 1.225],
  [0, 1.265],
  [0.03, 1.225],
  [0.09, 1.2],
  [0.15, 1.205],
  [0.2, 1.245],
];

export const CHEEKS = [
  [-0.27, 1.27],
  [0.27, 1.27],
] as const;

export const EYE_LIGHTS = [
  [-0.235, 1.53],
  [0.195, 1.53],
] as const;

/** Freckles where the whiskers grow. */
export const FRECKLES = [
  [0.15, 1.32],
  [0.2, 1.28],
  [0.14, 1.265],
] as const;

/** What an illustrator adds by hand on the otter's face and belly. */
export function otterDetail(part: string, p: Vec3): { color: string; amount: number } | null {
  const at = [p[0], p[1]] as const;
  if (part === 'Eyes' && p[2] > 0.36) {
    const d = Math.min(...EYE_LIGHTS.map(([x, y]) => Math.hypot(at[0] - x, at[1] - y)));
    return { color: '#fffaf0', amount: 1 - smoothstep(0.018, 0.026, d) };
  }
  if (part === 'Muzzle') {
    const line = Math.min(
      ...MOUTH.slice(1).map((b, i) => toSegment(at, MOUTH[i]!, b)),
      toSegment(at, [0, 1.265], [0, 1.33]),
    );
    const mouth = 1 - smoothstep(0.008, 0.014, line);
    if (mouth > 0) return { color: '#5a3038', amount: mouth };
    const freckle = Math.min(...FRECKLES.map(([x, y]) => Math.hypot(Math.abs(at[0]) - x, at[1] - y)));
    if (freckle < 0.016)
      return { color: PALETTE.furShadow, amount: 0.75 * (1 - smoothstep(0.009, 0.015, freckle)) };
    const cheek = Math.min(...CHEEKS.map(([x, y]) => Math.hypot(at[0] - x, at[1] - y)));
    return { color: '#f08a6c', amount: 0.55 * (1 - smoothstep(0.03, 0.12, cheek)) };
  }
  if (part === 'Apron' && p[1] < 0.3) {
    return { color: PALETTE.pocket, amount: 1 - smoothstep(0.012, 0.018, Math.abs(p[1] - 0.245)) };
  }
  return null;
}
