/** Colours of distortion, readable by colour-blind people: orange, grey and blue differ in lightness too. Parts of 0..1. */
const BOTH_WAYS = [
  [0.8, 0.42, 0.08],
  [0.82, 0.82, 0.8],
  [0.08, 0.25, 0.55],
] as const;

/** From none, which is pale, to much, which is dark. */
const ONE_WAY = [
  [0.93, 0.92, 0.88],
  [0.62, 0.55, 0.7],
  [0.22, 0.12, 0.36],
] as const;

type Stops = typeof BOTH_WAYS | typeof ONE_WAY;

const vec3 = (color: readonly number[]): string => `vec3(${color.map((c) => c.toFixed(3)).join(', ')})`;
const between = ([a, b, c]: Stops): string =>
  `x < 0.5 ? mix(${vec3(a)}, ${vec3(b)}, x * 2.0) : mix(${vec3(b)}, ${vec3(c)}, min(1.0, x * 2.0 - 1.0))`;

/** For shaders: `vec3 heatColor(float x, bool bothWays)`, x 0..1. */
export const HEAT_GLSL = /* glsl */ `
vec3 heatColor(float x, bool bothWays) {
  return bothWays ? (${between(BOTH_WAYS)}) : (${between(ONE_WAY)});
}`;

/** The same of 256 steps both ways, as opaque RGBA. */
export function heatTable(): Uint8Array {
  const table = new Uint8Array(256 * 4).fill(255);
  const [low, middle, high] = BOTH_WAYS;
  for (let i = 0; i < 256; i++) {
    const x = i / 127.5;
    const [from, to, t] = x < 1 ? [low, middle, x] : [middle, high, x - 1];
    for (let c = 0; c < 3; c++) table[i * 4 + c] = Math.round((from[c]! + (to[c]! - from[c]!) * t) * 255);
  }
  return table;
}

/** The same as the picture of a legend. */
export function heatGradient(bothWays: boolean): string {
  const css = (bothWays ? BOTH_WAYS : ONE_WAY).map(
    (color) => `rgb(${color.map((c) => Math.round(c * 255)).join(' ')})`,
  );
  return `linear-gradient(90deg, ${css.join(', ')})`;
}
