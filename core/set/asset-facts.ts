import { ownersOf } from '../delivery';
import { ciede2000, paletteOf, rgbToCielab, hexToRgb, type Cielab, type PaletteColor } from '../color';
import type { Picture } from '../formats';
import { fitLight, type PaintedLight, type ValuedNormal } from '../match';
import { faceGeometry, subjectBounds, subjectOf, sheetOfFace, triangleCount, type UvMesh } from '../mesh';
import type { Vec3 } from '../math';

/** What an asset looks like, in numbers that can be held beside those of others. */
export interface AssetFacts {
  readonly triangles: number;
  /** In units of the model. */
  readonly size: readonly [width: number, height: number, depth: number];
  /** Its main colours by the surface that they cover, the largest share first. */
  readonly palette: readonly PaletteColor[];
  /** How far its colours are from the nearest of the set's, CIEDE2000 by surface: the mean; null where there is no palette. */
  readonly paletteDistance: number | null;
  /** Texels a unit of length of the model: half of the surface has more. */
  readonly density: number;
  /** Lightness L* (0..100) below which 5, 50 and 95 hundredths of the surface lie. */
  readonly values: readonly [dark: number, middle: number, light: number];
  /** From where its values are lit; null where that can't be told. */
  readonly light: PaintedLight | null;
}

const MAIN_COLORS = 8;

/** Texels a side at which colours are counted: more tell nothing more. */
const MOST_SIDE = 512;

/** Places of one part by which the light is told. */
const PLACES_A_PART = 160;

/**
 * Measures a painted asset.
 *
 * @param sheets albedo of each sheet, rows from the top
 * @param swatches colours of its set's palette, `#rrggbb`
 */
export function assetFacts(
  model: UvMesh,
  sheets: readonly Picture[],
  swatches: readonly string[],
): AssetFacts {
  // Backdrops are no part of what is compared.
  const mesh = subjectOf(model);
  const surface = surfaceTexels(mesh, sheets);
  const labs = swatches.map((hex) => rgbToCielab(hexToRgb(hex)));
  let [whole, apart] = [0, 0];
  const lightness: Weighed[] = [];
  const painted = new Uint8Array(surface.length * 4);
  const known = new Map<number, number>();
  surface.forEach(({ rgb: [r, g, b], lab, weight }, i) => {
    painted.set([r, g, b, 255], i * 4);
    whole += weight;
    lightness.push({ value: lab.L, weight });
    if (labs.length === 0) return;
    const key = (r << 16) | (g << 8) | b;
    let distance = known.get(key);
    if (distance === undefined) known.set(key, (distance = nearestOf(lab, labs)));
    apart += distance * weight;
  });
  lightness.sort(byValue);
  const bounds = subjectBounds(mesh);
  return {
    triangles: triangleCount(mesh),
    size: [0, 1, 2].map((k) => bounds.max[k]! - bounds.min[k]!) as [number, number, number],
    palette: paletteOf(painted, MAIN_COLORS),
    paletteDistance: labs.length > 0 && whole > 0 ? apart / whole : null,
    density: medianDensity(mesh, sheets),
    values: [0.05, 0.5, 0.95].map((part) => quantile(lightness, part, whole)) as [number, number, number],
    light: paintedFrom(mesh, surface),
  };
}

/** What was measured of an asset, in the units of its set. @param scale how many of them one of its own is */
export const atScale = (facts: AssetFacts, scale: number): AssetFacts => ({
  ...facts,
  size: [facts.size[0] * scale, facts.size[1] * scale, facts.size[2] * scale],
  density: facts.density / scale,
});

interface SurfaceTexel {
  readonly face: number;
  readonly rgb: readonly [number, number, number];
  readonly lab: Cielab;
  /** Area of the surface for which it stands. */
  readonly weight: number;
}

/** Texels of the surface, of each sheet a grid of them. */
function surfaceTexels(mesh: UvMesh, sheets: readonly Picture[]): SurfaceTexel[] {
  const out: SurfaceTexel[] = [];
  const { areas } = faceGeometry(mesh);
  sheets.forEach(({ rgba, width }, sheet) => {
    const side = Math.min(width, MOST_SIDE);
    const { face } = ownersOf(mesh, side, sheet);
    const counts = new Map<number, number>();
    for (const f of face) if (f >= 0) counts.set(f, (counts.get(f) ?? 0) + 1);
    const step = width / side;
    face.forEach((f, i) => {
      if (f < 0) return;
      const x = Math.floor(((i % side) + 0.5) * step);
      const y = Math.floor((Math.floor(i / side) + 0.5) * step);
      const t = (y * width + x) * 4;
      const rgb = [rgba[t]!, rgba[t + 1]!, rgba[t + 2]!] as const;
      const lab = rgbToCielab({ r: rgb[0], g: rgb[1], b: rgb[2] });
      out.push({ face: f, rgb, lab, weight: areas[f]! / counts.get(f)! });
    });
  });
  return out;
}

const nearestOf = (lab: Cielab, labs: readonly Cielab[]): number =>
  labs.reduce((least, other) => Math.min(least, ciede2000(lab, other).deltaE), Infinity);

/** The value that so much of the whole weight doesn't go beyond. @param sorted by value */
function quantile(sorted: readonly Weighed[], part: number, whole: number): number {
  let sum = 0;
  for (const { value, weight } of sorted) {
    sum += weight;
    if (sum >= part * whole) return value;
  }
  return 0;
}

interface Weighed {
  readonly value: number;
  readonly weight: number;
}

const byValue = (a: Weighed, b: Weighed): number => a.value - b.value;

/** Half of the surface has more texels a unit of length. */
function medianDensity(mesh: UvMesh, sheets: readonly Picture[]): number {
  const { areas } = faceGeometry(mesh);
  const { indices, uvs } = mesh;
  const faces = Array.from(areas, (area, f) => {
    const [a, b, c] = [0, 1, 2].map((k) => indices[f * 3 + k]! * 2) as [number, number, number];
    const flat =
      Math.abs(
        (uvs[b]! - uvs[a]!) * (uvs[c + 1]! - uvs[a + 1]!) - (uvs[c]! - uvs[a]!) * (uvs[b + 1]! - uvs[a + 1]!),
      ) / 2;
    const side = (sheets[sheetOfFace(mesh, f)] ?? sheets[0]!).width;
    return { value: area > 0 ? Math.sqrt(flat / area) * side : 0, weight: area };
  });
  const whole = faces.reduce((sum, { weight }) => sum + weight, 0);
  return quantile(faces.sort(byValue), 0.5, whole);
}

/** From where the values are lit, each beside the mean of its part: parts differ by their local colours too. */
function paintedFrom(mesh: UvMesh, texels: readonly SurfaceTexel[]): PaintedLight | null {
  const { normals } = faceGeometry(mesh);
  const parts = new Map<number, SurfaceTexel[]>();
  for (const texel of texels) {
    const part = mesh.faceParts[texel.face]!;
    const list = parts.get(part);
    if (list) list.push(texel);
    else parts.set(part, [texel]);
  }
  const places: ValuedNormal[] = [];
  for (const list of parts.values()) {
    const step = Math.max(1, Math.floor(list.length / PLACES_A_PART));
    const some = list.filter((_, i) => i % step === 0);
    const mean = some.reduce((sum, { lab }) => sum + lab.L, 0) / some.length;
    for (const { face, lab } of some) {
      const normal: Vec3 = [normals[face * 3]!, normals[face * 3 + 1]!, normals[face * 3 + 2]!];
      places.push({ normal, value: lab.L - mean });
    }
  }
  return fitLight(places);
}
