import { hexToRgb, rampTable } from '../color';
import { clamp01, smoothstep, valueNoise } from '../math';
import type { LightPlan } from './light-plan';

type Steps = NonNullable<LightPlan['steps']>;
type BorderLine = NonNullable<Steps['line']>;
type Light = Float64Array | number[];

const TABLE = 256;

/** Where tones are asked for; lengths in model units. */
export interface TonePlace {
  x: number;
  y: number;
  z: number;
  /** By how much the light's lightness changes in one unit of length along the surface. */
  slope: number;
  /** The side of a texel. */
  texel: number;
  /** The part of the key light that is seen, 0..1. */
  seen: number;
}

/**
 * Light in a few tones: its lightness goes in steps, each of one colour. Borders may be drawn like a line, and what stands in the cast
 * shadow may have a tone of its own.
 *
 * @param diagonal of the model's box, model units
 * @returns changes a light's r, g, b in place; `part` by its name. `place` is read only where `asksPlace` says so
 */
export function toneSteps(
  steps: Steps,
  diagonal: number,
): (light: Light, part: string, place: TonePlace) => void {
  const own = new Map(steps.ramps.map(([part, ramp]) => [part, rampTable(ramp, TABLE)]));
  const all = steps.ramp && rampTable(steps.ramp, TABLE);
  const line = steps.line && preparedLine(steps.line, diagonal);
  const shadow = steps.shadow === null ? null : channels(steps.shadow);
  const deeper = new Float64Array(3);
  return (light, part, place) => {
    const value = clamp01(lightness(light));
    const border = line ? borderAt(line, steps, value, place) : null;
    const tone = border ? border.tone : stepped(value, steps.count, steps.edge);
    const table = own.get(part) ?? all;
    if (table) {
      const at = Math.round(tone * (TABLE - 1)) * 3;
      for (let c = 0; c < 3; c++) light[c] = table[at + c]!;
    } else {
      const factor = value > 0 ? tone / value : 0;
      for (let c = 0; c < 3; c++) light[c] = light[c]! * factor;
    }
    if (line && border && border.edge > 0) {
      if (!line.color) deeperTone(light, deeper);
      const edge = line.color ?? deeper;
      for (let c = 0; c < 3; c++) light[c] = light[c]! + (edge[c]! - light[c]!) * border.edge;
    }
    if (shadow) castTone(light, shadow, shadowEdge(steps, line, place));
  };
}

/** Whether tones of a plan ask where they lie. */
export const asksPlace = (steps: Steps): boolean => steps.line !== null;

/** A darker and more saturated colour than one of the light. Both 0..1 a channel, sRGB-encoded. */
function deeperTone(light: ArrayLike<number>, out: Float64Array): void {
  const grey = lightness(light);
  for (let c = 0; c < 3; c++) out[c] = clamp01((grey + (light[c]! - grey) * 1.8) * 0.72);
}

/** How light a light is: 0 upward, sRGB-encoded. */
export const lightness = (c: ArrayLike<number>): number => 0.2126 * c[0]! + 0.7152 * c[1]! + 0.0722 * c[2]!;

function channels(color: string): readonly [number, number, number] {
  const { r, g, b } = hexToRgb(color);
  return [r / 255, g / 255, b / 255];
}

/**
 * A value in tones: 0 in the darkest, 1 in the lightest.
 *
 * @param edge width of a border, in parts of a tone
 */
export function stepped(value: number, count: number, edge: number): number {
  const at = clamp01(value) * count;
  const half = Math.max(edge / 2, 1e-6);
  let tone = 0;
  for (let border = 1; border < count; border++) tone += smoothstep(border - half, border + half, at);
  return tone / (count - 1);
}

interface PreparedLine {
  readonly scale: number;
  readonly waver: number;
  readonly width: number;
  readonly strength: number;
  readonly seed: number;
  readonly color: readonly [number, number, number] | null;
}

/** A wave as high as its length is the most that still reads as one border. */
const preparedLine = (line: BorderLine, diagonal: number): PreparedLine => ({
  scale: line.scale * diagonal,
  waver: line.waver * line.scale * diagonal,
  width: line.width * diagonal,
  strength: line.strength,
  seed: line.seed,
  color: line.color === null ? null : channels(line.color),
});

/** -1..1, in waves. */
const wave = ({ scale, seed }: PreparedLine, { x, y, z }: TonePlace, shift: number): number =>
  2 * valueNoise(x / scale + shift, y / scale, z / scale, seed, 2) - 1;

/** Less slope than this, over the length of a texel, has no border near: the number only keeps from dividing by 0. */
const LEVEL = 1e-9;

/**
 * The tone at a place, and how much of the line along the nearest border covers it. Distances from a border are those along the surface:
 * by how much the value differs, over its slope. So waver and width are the same wherever the light falls off fast or slowly.
 */
function borderAt(
  line: PreparedLine,
  steps: Steps,
  value: number,
  place: TonePlace,
): { tone: number; edge: number } {
  const slope = Math.max(place.slope, LEVEL / place.texel);
  const away = line.waver > 0 ? line.waver * wave(line, place, 0) : 0;
  const width = line.width > 0 ? line.width * (1 + 0.45 * wave(line, place, 57)) : 0;
  // Half a texel on either side is what a sharp border covers in part.
  const half = Math.max(steps.edge / (2 * steps.count * slope), place.texel / 2);
  let tone = 0;
  let edge = 0;
  for (let border = 1; border < steps.count; border++) {
    const distance = (value - border / steps.count) / slope + away;
    tone += smoothstep(-half, half, distance);
    if (width > 0) {
      const within = clamp01(0.5 - distance / place.texel) * clamp01(0.5 + (distance + width) / place.texel);
      edge = Math.max(edge, within);
    }
  }
  return { tone: tone / (steps.count - 1), edge: edge * line.strength };
}

/** Rays tell the border of a shadow no more sharply than this. */
const SHADOW_EDGE = 0.12;

/** How much of the cast shadow's own tone lies at a place. */
function shadowEdge(steps: Steps, line: PreparedLine | null, place: TonePlace): number {
  const half = Math.max(steps.edge / 2, SHADOW_EDGE);
  const away = line && line.waver > 0 ? 0.3 * Math.min(1, (line.waver / line.scale) * 2) : 0;
  const middle = 0.5 + (line && away > 0 ? away * wave(line, place, 113) : 0);
  return 1 - smoothstep(middle - half, middle + half, place.seen);
}

/** Lays the cast shadow's tone; what is darker of itself stays. */
function castTone(light: Light, shadow: readonly number[], cover: number): void {
  if (cover === 0 || lightness(light) <= lightness(shadow)) return;
  for (let c = 0; c < 3; c++) light[c] = light[c]! + (shadow[c]! - light[c]!) * cover;
}
