import { rgbToHex } from '../../color';
import { add, dot, length, normalize, scale, type Vec3 } from '../../math';
import type { UvMesh } from '../../mesh';
import { solve } from '../camera/levenberg';
import { degreesBetween, type PaintedLight } from './painted-light';
import { normalSeen, type SeenModel } from '../camera/see-model';

/** A light as a light plan has it. */
export interface PlanColor {
  readonly color: string;
  readonly strength: number;
}

/** What a light plan would have to be so that its light layer lights the model as a picture is lit. */
export interface PictureLight {
  readonly direction: Vec3;
  /** How much of the values' differences it explains, 0..1. */
  readonly certainty: number;
  readonly key: PlanColor;
  readonly sky: PlanColor;
  readonly ground: PlanColor;
}

/** The light that parts agree on, each counted by how sure it is and how much is seen of it; null where none is told. */
export function agreedLight(
  lights: readonly (PaintedLight | null)[],
  pixels: readonly number[],
): PaintedLight | null {
  let sum: Vec3 = [0, 0, 0];
  let [sure, whole] = [0, 0];
  lights.forEach((light, p) => {
    if (!light) return;
    const weight = light.certainty * pixels[p]!;
    sum = add(sum, scale(light.direction, weight));
    sure += weight;
    whole += pixels[p]!;
  });
  return length(sum) > 1e-9 && whole > 0 ? { direction: normalize(sum), certainty: sure / whole } : null;
}

/** Parts whose light comes from elsewhere than the others', degrees; those that aren't sure enough to tell are left out. */
export function disagreeing(
  lights: readonly (PaintedLight | null)[],
  agreed: Vec3,
): { part: number; degrees: number }[] {
  return lights
    .flatMap((light, part) => {
      if (!light || light.certainty < SURE) return [];
      const degrees = degreesBetween(light.direction, agreed);
      return degrees > APART ? [{ part, degrees }] : [];
    })
    .sort((a, b) => b.degrees - a.degrees);
}

export const SURE = 0.3;
const APART = 25;

/**
 * Colours of key, sky and ground that light a model as a picture is lit, from a direction: least squares over what the light would have
 * to be on each pixel, as a soft-light layer over the part's mean colour (W3C Compositing and Blending Level 1, 10.1.9, solved for the
 * source near the middle).
 *
 * @param rows RGBA of the picture, transparent where it isn't the model
 */
export function pictureLight(
  mesh: UvMesh,
  seen: SeenModel,
  rows: Uint8Array,
  light: PaintedLight,
): PictureLight | null {
  const means = mesh.parts.map(() => [0, 0, 0, 0]);
  const { faces } = seen;
  for (let i = 0; i < faces.length; i++) {
    if (faces[i]! < 0 || rows[i * 4 + 3] === 0) continue;
    const mean = means[mesh.faceParts[faces[i]!]!]!;
    for (let c = 0; c < 3; c++) mean[c]! += rows[i * 4 + c]! / 255;
    mean[3]!++;
  }
  const normal = new Float64Array(9);
  const right = [new Float64Array(3), new Float64Array(3), new Float64Array(3)];
  let count = 0;
  for (let i = 0; i < faces.length; i += 3) {
    if (faces[i]! < 0 || rows[i * 4 + 3] === 0) continue;
    const mean = means[mesh.faceParts[faces[i]!]!]!;
    const n = normalSeen(mesh, seen, i);
    const basis = [Math.max(0, dot(n, light.direction)), (1 + n[1]) / 2, (1 - n[1]) / 2];
    for (let a = 0; a < 3; a++) for (let b = 0; b < 3; b++) normal[a * 3 + b]! += basis[a]! * basis[b]!;
    for (let c = 0; c < 3; c++) {
      const m = mean[c]! / mean[3]!;
      const source = 0.5 + (rows[i * 4 + c]! / 255 - m) / (2 * Math.max(0.06, m * (1 - m)));
      for (let a = 0; a < 3; a++) right[c]![a]! += basis[a]! * Math.min(1.2, Math.max(-0.2, source));
    }
    count++;
  }
  if (count < 24) return null;
  for (let a = 0; a < 3; a++) normal[a * 4]! += count * 1e-3;
  const solved = right.map((r) => solve(normal.slice(), r, 3));
  if (solved.some((x) => x === null)) return null;
  const colorOf = (a: number): PlanColor => {
    const channels = solved.map((x) => Math.max(0, x![a]!));
    const strength = Math.min(2, Math.max(...channels));
    if (!(strength > 1e-3)) return { color: '#000000', strength: 0 };
    const [r, g, b] = channels.map((x) => Math.round(Math.min(1, x / strength) * 255)) as [
      number,
      number,
      number,
    ];
    return { color: rgbToHex({ r, g, b }), strength: Math.round(strength * 100) / 100 };
  };
  return { ...light, key: colorOf(0), sky: colorOf(1), ground: colorOf(2) };
}
