import { ciede2000, rgbToCielab } from '../../color';
import type { Picture } from '../../formats';
import type { UvMesh } from '../../mesh';
import type { Owners } from './owners';

/** Texels of one part, and one of its triangles where some are. */
export interface PartTexels {
  readonly part: string;
  readonly texels: number;
  readonly face: number;
}

/** Counts what is found, part by part, the most first. */
function countByPart(mesh: UvMesh, owners: Owners, isFound: (texel: number) => boolean): PartTexels[] {
  const counts = new Map<number, { texels: number; face: number }>();
  owners.face.forEach((face, i) => {
    if (face < 0 || !isFound(i)) return;
    const part = mesh.faceParts[face]!;
    const known = counts.get(part);
    counts.set(part, { texels: (known?.texels ?? 0) + 1, face: known?.face ?? face });
  });
  return [...counts]
    .map(([part, found]) => ({ part: mesh.parts[part]!, ...found }))
    .sort((a, b) => b.texels - a.texels);
}

/** Texels of the surface that have no colour, or one that shows through. */
export const unpaintedTexels = (mesh: UvMesh, { rgba }: Picture, owners: Owners): PartTexels[] =>
  countByPart(mesh, owners, (i) => rgba[i * 4 + 3]! < 255);

/**
 * Texels whose lightness lies outside what an albedo may have.
 *
 * @param range lightness L* (CIELAB), 0..100
 */
export function texelsOutside(
  mesh: UvMesh,
  { rgba }: Picture,
  owners: Owners,
  [low, high]: readonly [number, number],
): PartTexels[] {
  if (low <= 0 && high >= 100) return [];
  return countByPart(mesh, owners, (i) => {
    if (rgba[i * 4 + 3] === 0) return false;
    const { L } = rgbToCielab({ r: rgba[i * 4]!, g: rgba[i * 4 + 1]!, b: rgba[i * 4 + 2]! });
    return L < low || L > high;
  });
}

/** How far colour reaches past the islands, in texels: Infinity where it goes everywhere. */
export function bleedFound({ rgba }: Picture, { face, squared }: Owners): number {
  let nearest = Infinity;
  for (let i = 0; i < face.length; i++) {
    // The border itself may run through a texel whose middle lies outside.
    if (face[i]! < 0 && rgba[i * 4 + 3] === 0 && squared[i]! > 2) nearest = Math.min(nearest, squared[i]!);
  }
  return nearest === Infinity ? Infinity : Math.max(0, Math.ceil(Math.sqrt(nearest)) - 1);
}

/** The two islands that lie nearest to one another. */
export interface Gap {
  /** Texels between them. */
  readonly texels: number;
  /** A triangle of each. */
  readonly faces: readonly [number, number];
}

/** The narrowest gap between two islands of a sheet; null where there is one island at most. */
export function narrowestGap({ size, face, home, nearest, squared }: Owners): Gap | null {
  let best: Gap | null = null;
  const look = (i: number, j: number): void => {
    if (nearest[i] === nearest[j] || nearest[i]! < 0) return;
    // From a border to the middle of the last texel before the other's half; and the same on the other side.
    const texels = Math.sqrt(squared[i]!) + Math.sqrt(squared[j]!);
    if (!best || texels < best.texels)
      best = { texels: Math.round(texels), faces: [face[home[i]!]!, face[home[j]!]!] };
  };
  for (let y = 0; y < size; y++) {
    for (let x = 0; x < size; x++) {
      const i = y * size + x;
      if (x + 1 < size) look(i, i + 1);
      if (y + 1 < size) look(i, i + size);
    }
  }
  return best;
}

/** Plateaus of this part of the sheet's side at least, and so many in a row, are read as steps (common practice: bands are wide). */
const PLATEAU = 1 / 64;
const STEPS = 4;

/**
 * Texels that lie in steps: four plateaus or more along a row, each wide and one value above or below the last. A slope that is
 * finer than 8 bit can hold falls into them.
 */
export function bandedTexels(mesh: UvMesh, { rgba }: Picture, owners: Owners): PartTexels[] {
  const { size, face, nearest } = owners;
  const banded = new Uint8Array(face.length);
  for (let y = 0; y < size; y++) {
    for (let k = 0; k < 3; k++) markSteps(y, k);
  }
  return countByPart(mesh, owners, (i) => banded[i] === 1);

  function markSteps(y: number, k: number): void {
    const value = (x: number): number => rgba[(y * size + x) * 4 + k]!;
    let begun = 0;
    let plateaus = 0;
    let direction = 0;
    for (let x = 0; x < size;) {
      const row = y * size;
      let end = x + 1;
      while (
        end < size &&
        value(end) === value(x) &&
        nearest[row + end] === nearest[row + x] &&
        face[row + end]! >= 0
      )
        end++;
      const isWide = end - x >= PLATEAU * size && face[row + x]! >= 0;
      const step =
        end < size && nearest[row + end] === nearest[row + x] && face[row + end]! >= 0
          ? value(end) - value(x)
          : 0;
      if (isWide) {
        if (plateaus === 0) begun = x;
        plateaus++;
        if (plateaus >= STEPS) banded.fill(1, row + begun, row + end);
        const goesOn = Math.abs(step) === 1 && (direction === 0 || step === direction);
        direction = goesOn ? step : 0;
        if (!goesOn) plateaus = 0;
      } else {
        plateaus = 0;
        direction = 0;
      }
      x = end;
    }
  }
}

/** How far two pictures of one size are apart over the surface: mean and 95th hundredth (CIEDE2000). */
export function lostColors(before: Picture, after: Picture, { face }: Owners): { mean: number; p95: number } {
  const differences: number[] = [];
  // Every seventh texel tells as much.
  for (let i = 0; i < face.length; i += 7) {
    if (face[i]! < 0) continue;
    const lab = ({ rgba }: Picture) =>
      rgbToCielab({ r: rgba[i * 4]!, g: rgba[i * 4 + 1]!, b: rgba[i * 4 + 2]! });
    differences.push(ciede2000(lab(before), lab(after)).deltaE);
  }
  if (differences.length === 0) return { mean: 0, p95: 0 };
  differences.sort((a, b) => a - b);
  const mean = differences.reduce((sum, d) => sum + d, 0) / differences.length;
  return { mean, p95: differences[Math.floor(differences.length * 0.95)]! };
}
