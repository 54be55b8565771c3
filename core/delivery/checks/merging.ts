import { ciede2000, rgbToCielab } from '../../color';
import type { Picture } from '../../formats';
import { seeModel, seenColors, type MatchCamera } from '../../match';
import { centreOf, diagonalOf, subjectBounds, subjectOf, type UvMesh } from '../../mesh';

/** Two parts whose colours can't be told apart where they meet. */
export interface Merging {
  readonly parts: readonly [string, string];
  /** Mean lightness L* of each where they meet. */
  readonly lightness: readonly [number, number];
  /** Mean over the pixels at which they meet (CIEDE2000). */
  readonly deltaE: number;
  readonly pixels: number;
  /** A triangle of the first, where they meet. */
  readonly face: number;
}

/** Sums over the pixels at which two parts meet. */
interface Meeting {
  readonly parts: readonly [number, number];
  readonly light: [number, number];
  sum: number;
  pixels: number;
  readonly face: number;
}

/** Where the model is looked at from: in front, and from both sides of it, a little from above (turned, tipped; degrees). */
const VIEWS = [
  [0, 8],
  [-40, 20],
  [40, 20],
] as const;

/** Parts that meet over fewer pixels than this aren't looked at. */
const FEW = 8;

/**
 * Parts that merge when the model is as small as in the game: over the pixels at which they meet, in three views, their colours differ by less
 * than the limit.
 *
 * @param sheets of each sheet its bled albedo and the halvings of that
 * @param height pixels over which the model's diagonal stands
 */
export function mergingParts(
  whole: UvMesh,
  sheets: readonly (readonly Picture[])[],
  height: number,
  limit: number,
): Merging[] {
  const mesh = subjectOf(whole);
  // As a card would read it: about one texel a pixel.
  const small = sheets.map((levels) => {
    const level = Math.round(Math.log2(Math.max(1, levels[0]!.width / (height * 3))));
    return levels[Math.min(levels.length - 1, level)]!;
  });
  const found = new Map<string, Meeting>();
  for (const [yaw, pitch] of VIEWS) {
    const seen = seeModel(mesh, gameCamera(mesh, yaw, pitch, height));
    const colors = seenColors(mesh, seen, small);
    const { width, faces } = seen;
    const lab = (i: number) =>
      rgbToCielab({ r: colors[i * 4]!, g: colors[i * 4 + 1]!, b: colors[i * 4 + 2]! });
    for (let i = 0; i < faces.length; i++) {
      if (faces[i]! < 0) continue;
      for (const j of [...((i + 1) % width > 0 ? [i + 1] : []), i + width]) {
        if (j >= faces.length || faces[j]! < 0) continue;
        const [p, q] = [mesh.faceParts[faces[i]!]!, mesh.faceParts[faces[j]!]!];
        if (p === q) continue;
        const key = p < q ? `${p} ${q}` : `${q} ${p}`;
        const entry = found.get(key) ?? { parts: [p, q], light: [0, 0], sum: 0, pixels: 0, face: faces[i]! };
        const [a, b] = [lab(i), lab(j)];
        entry.sum += ciede2000(a, b).deltaE;
        const isTurned = entry.parts[0] !== p;
        entry.light[0] += isTurned ? b.L : a.L;
        entry.light[1] += isTurned ? a.L : b.L;
        entry.pixels++;
        found.set(key, entry);
      }
    }
  }
  return [...found.values()]
    .filter(({ sum, pixels }) => pixels >= FEW && sum / pixels < limit)
    .map(({ parts: [p, q], light, sum, pixels, face }) => ({
      parts: [mesh.parts[p]!, mesh.parts[q]!] as const,
      lightness: [light[0] / pixels, light[1] / pixels] as const,
      deltaE: sum / pixels,
      pixels,
      face,
    }))
    .sort((a, b) => a.deltaE - b.deltaE);
}

const RAD = Math.PI / 180;
const FIELD = 20;

function gameCamera(mesh: UvMesh, yaw: number, pitch: number, height: number): MatchCamera {
  const bounds = subjectBounds(mesh);
  const target = centreOf(bounds);
  const distance = (diagonalOf(bounds) || 1) / 2 / Math.sin((FIELD / 2) * RAD);
  const [cy, sy, cp, sp] = [
    Math.cos(yaw * RAD),
    Math.sin(yaw * RAD),
    Math.cos(pitch * RAD),
    Math.sin(pitch * RAD),
  ];
  return {
    position: [target[0] + sy * cp * distance, target[1] + sp * distance, target[2] + cy * cp * distance],
    target,
    up: [0, 1, 0],
    fovY: FIELD,
    shift: [0, 0],
    width: height,
    height,
  };
}
