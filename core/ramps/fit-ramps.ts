import {
  ciede2000,
  oklabToLinearSrgb,
  linearToSrgb,
  rampTable,
  rgbToCielab,
  rgbToOklab,
  type Oklab,
} from '../color';
import { clamp01, normalize, type Vec3 } from '../math';
import type { ProjectRamp, AssignedMapping } from './project-ramps';

/** A place of a part and what was painted there. */
export interface PaintedPlace {
  readonly at: Vec3;
  /** sRGB-encoded, 0..255. */
  readonly rgb: { readonly r: number; readonly g: number; readonly b: number };
}

/** How a part would lie on a ramp, and how far that is from what was painted. */
export interface Fit {
  readonly ramp: number;
  readonly run: AssignedMapping;
  readonly from: number;
  readonly to: number;
  /** Mean CIEDE2000 over the places. */
  readonly deltaE: number;
}

/** Places of a ramp that are looked at. */
const STEPS = 48;

/**
 * The ramp, direction and run on which some places come nearest to what was painted there. For each ramp every place's own best place on it
 * is looked for; a plane through these tells the direction in which they rise (least squares), and the sides of the model are tried as
 * well; along each, a line through them tells where the run begins and ends, and both ends are then moved to where the colours are nearest.
 *
 * @param places at least one
 * @returns null if there are none, or no ramp
 */
export function fitToRamps(places: readonly PaintedPlace[], ramps: readonly ProjectRamp[]): Fit | null {
  if (places.length === 0 || ramps.length === 0) return null;
  const labs = places.map(({ rgb }) => rgbToOklab(rgb));
  const tables = ramps.map((ramp) => tableOf(ramp.colors));
  let best: (Omit<Fit, 'deltaE'> & { readonly error: number }) | null = null;
  // Ramps whose colours are nearest come first: the others mostly can't be better, whatever their run.
  const ordered = ramps
    .map((ramp, i) => ({ ramp, table: tables[i]!, ...nearestOn(tables[i]!, labs) }))
    .sort((a, b) => a.least - b.least);
  for (const { ramp, table, wanted, least } of ordered) {
    if (best && least >= best.error) break;
    for (const direction of [risingAlong(places, wanted), ...SIDES]) {
      if (!direction) continue;
      const along = shares(places, direction);
      if (!along) continue;
      const fitted = fitRun(along, wanted, labs, table);
      if (!best || fitted.error < best.error) {
        best = { ramp: ramp.id, run: { kind: 'straight', direction: [...direction] }, ...fitted };
      }
    }
  }
  if (!best) return null;
  const table = tables[ramps.findIndex((r) => r.id === best.ramp)]!;
  const along = shares(places, best.run.kind === 'straight' ? best.run.direction : [0, 1, 0])!;
  const { ramp, run, from, to } = best;
  return { ramp, run, from, to, deltaE: differenceOf(places, along, table, from, to) };
}

const SIDES: readonly Vec3[] = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];

/** A ramp's colours as they are mixed on the sheet. */
function tableOf(colors: readonly string[]): Oklab[] {
  const stops = colors.map((color, k) => ({ at: k / (colors.length - 1), color }));
  const table = rampTable({ stops, mixing: 'oklab', hardness: 0 }, STEPS);
  return Array.from({ length: STEPS }, (_, i) =>
    rgbToOklab({ r: table[i * 3]! * 255, g: table[i * 3 + 1]! * 255, b: table[i * 3 + 2]! * 255 }),
  );
}

const apart = (p: Oklab, q: Oklab): number => Math.hypot(p.L - q.L, p.a - q.a, p.b - q.b);

/** For each colour the place of the ramp that is nearest to it, and their mean distance: no run can be better. */
function nearestOn(
  table: readonly Oklab[],
  labs: readonly Oklab[],
): { readonly wanted: Float64Array; readonly least: number } {
  let sum = 0;
  const wanted = Float64Array.from(labs, (lab) => {
    let [best, at] = [Infinity, 0];
    table.forEach((color, i) => {
      const d = apart(color, lab);
      if (d < best) [best, at] = [d, i];
    });
    sum += best;
    return at / (STEPS - 1);
  });
  return { wanted, least: sum / labs.length };
}

/** The direction in which values rise, by least squares over places; null where there is none. */
function risingAlong(places: readonly PaintedPlace[], values: Float64Array): Vec3 | null {
  const n = places.length;
  const mean = [0, 0, 0];
  let middle = 0;
  places.forEach(({ at }, i) => {
    for (let k = 0; k < 3; k++) mean[k]! += at[k]! / n;
    middle += values[i]! / n;
  });
  const m = [0, 0, 0, 0, 0, 0, 0, 0, 0];
  const r = [0, 0, 0];
  places.forEach(({ at }, i) => {
    const d = at.map((x, k) => x - mean[k]!);
    for (let a = 0; a < 3; a++) {
      r[a]! += d[a]! * (values[i]! - middle);
      for (let b = 0; b < 3; b++) m[a * 3 + b]! += d[a]! * d[b]!;
    }
  });
  // What lies flat has no extent across: a little of it is put in, so that the plane is always one.
  const little = (m[0]! + m[4]! + m[8]!) * 1e-6 + 1e-12;
  for (const k of [0, 4, 8]) m[k]! += little;
  const g = solve3(m, r);
  return g && Math.hypot(...g) > 1e-9 ? normalize(g) : null;
}

/** Cramer's rule. */
function solve3(m: readonly number[], r: readonly number[]): Vec3 | null {
  const det = (a: readonly number[]): number =>
    a[0]! * (a[4]! * a[8]! - a[5]! * a[7]!) -
    a[1]! * (a[3]! * a[8]! - a[5]! * a[6]!) +
    a[2]! * (a[3]! * a[7]! - a[4]! * a[6]!);
  const whole = det(m);
  if (!(Math.abs(whole) > 0)) return null;
  const column = (k: number): number =>
    det(m.map((x, i) => (i % 3 === k ? r[Math.floor(i / 3)]! : x))) / whole;
  return [column(0), column(1), column(2)];
}

/** How far along a direction places lie, 0..1; null where they have no extent. */
function shares(places: readonly PaintedPlace[], d: Vec3): Float64Array | null {
  const out = Float64Array.from(places, ({ at }) => at[0] * d[0] + at[1] * d[1] + at[2] * d[2]);
  const low = out.reduce((a, b) => Math.min(a, b), Infinity);
  const high = out.reduce((a, b) => Math.max(a, b), -Infinity);
  if (!(high - low > 1e-9)) return null;
  return out.map((x) => (x - low) / (high - low));
}

const colorAt = (table: readonly Oklab[], at: number): Oklab => table[Math.round(clamp01(at) * (STEPS - 1))]!;

/** Where a run begins and ends on its ramp so that colours are nearest. */
function fitRun(
  along: Float64Array,
  wanted: Float64Array,
  labs: readonly Oklab[],
  table: readonly Oklab[],
): { readonly from: number; readonly to: number; readonly error: number } {
  const errorOf = (from: number, to: number): number => {
    let sum = 0;
    for (let i = 0; i < labs.length; i++)
      sum += apart(colorAt(table, from + (to - from) * along[i]!), labs[i]!);
    return sum / labs.length;
  };
  let [from, to] = lineThrough(along, wanted);
  let error = errorOf(from, to);
  for (let step = 0.25; step > 0.01; step /= 2) {
    for (let better = true; better;) {
      better = false;
      for (const [df, dt] of [
        [step, 0],
        [-step, 0],
        [0, step],
        [0, -step],
        [step, step],
        [-step, -step],
      ] as const) {
        const [f, t] = [bounded(from + df), bounded(to + dt)];
        const next = errorOf(f, t);
        if (next < error - 1e-9) {
          [from, to, error, better] = [f, t, next, true];
        }
      }
    }
  }
  return { from, to, error };
}

const bounded = (x: number): number => Math.min(2, Math.max(-1, x));

/** The straight line nearest to values over places 0..1: its values at 0 and at 1. */
function lineThrough(x: Float64Array, y: Float64Array): [number, number] {
  const n = x.length;
  let [mx, my] = [0, 0];
  for (let i = 0; i < n; i++) {
    mx += x[i]! / n;
    my += y[i]! / n;
  }
  let [xy, xx] = [0, 0];
  for (let i = 0; i < n; i++) {
    xy += (x[i]! - mx) * (y[i]! - my);
    xx += (x[i]! - mx) ** 2;
  }
  const slope = xx > 0 ? xy / xx : 0;
  return [bounded(my - slope * mx), bounded(my + slope * (1 - mx))];
}

/** Mean CIEDE2000 between what was painted and what the run gives. */
function differenceOf(
  places: readonly PaintedPlace[],
  along: Float64Array,
  table: readonly Oklab[],
  from: number,
  to: number,
): number {
  let sum = 0;
  places.forEach(({ rgb }, i) => {
    const [r, g, b] = oklabToLinearSrgb(colorAt(table, from + (to - from) * along[i]!)).map((c) =>
      Math.round(linearToSrgb(clamp01(c)) * 255),
    ) as [number, number, number];
    sum += ciede2000(rgbToCielab(rgb), rgbToCielab({ r, g, b })).deltaE;
  });
  return sum / places.length;
}
