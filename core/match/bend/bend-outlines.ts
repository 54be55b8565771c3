import { blurred } from '../measures/blur';
import { contourOf, nearestTo } from '../camera/silhouette';

/** So many places of a part's outline are looked at, at most, and so many tell something, at least. */
export const [MOST_PLACES, LEAST_PLACES] = [160, 12];

/** Outlines are smoothed by this before their direction is told, parts of the height. */
export const SMOOTH = 0.006;

export interface Outlines {
  /** 1 a pixel of the contour. */
  readonly model: Uint8Array;
  /** The contour pixel of the picture that is nearest to each pixel; -1: none. */
  readonly nearest: Int32Array;
  /** Smooth coverage of either, for the way that an outline faces. */
  readonly smooth: { readonly model: Float32Array; readonly picture: Float32Array };
}

export function outlinesOf(
  model: ArrayLike<number>,
  picture: Uint8Array,
  width: number,
  height: number,
): Outlines {
  const sigma = Math.max(1, SMOOTH * height);
  const own = Uint8Array.from(model);
  return {
    model: contourOf(own, width, height),
    nearest: nearestTo(contourOf(picture, width, height), width, height),
    smooth: {
      model: blurred(Float32Array.from(own), width, height, sigma),
      picture: blurred(Float32Array.from(picture), width, height, sigma),
    },
  };
}

/** A part's own outlines, where the picture's parts are told. */
export function ownOutlines(
  partOf: Int16Array,
  partMask: Int16Array | null,
  part: number,
  width: number,
  height: number,
): Outlines | null {
  if (!partMask?.includes(part)) return null;
  const of = (from: Int16Array): Uint8Array => Uint8Array.from(from, (p) => (p === part ? 1 : 0));
  return outlinesOf(of(partOf), of(partMask), width, height);
}

/** Contour pixels at which a part is seen. */
export function placesOf(contour: Uint8Array, partOf: Int16Array, part: number): number[] {
  const all: number[] = [];
  contour.forEach((c, i) => {
    if (c && partOf[i] === part) all.push(i);
  });
  return all;
}

export function thinned(all: readonly number[]): number[] {
  const step = Math.max(1, all.length / MOST_PLACES);
  return Array.from({ length: Math.floor(all.length / step) }, (_, k) => all[Math.floor(k * step)]!);
}

/** How many pixels of a part lie beside something else. */
export function borderLength(partOf: Int16Array, part: number, width: number): number {
  let count = 0;
  for (let i = 0; i < partOf.length; i++) {
    if (partOf[i] !== part) continue;
    const isInside = [i - 1, i + 1, i - width, i + width].every((j) => partOf[j] === part);
    if (!isInside) count++;
  }
  return count;
}

/** The way that an outline faces, unit; none where nothing is told. */
export function facing(smooth: Float32Array, i: number, width: number, height: number): [number, number] {
  const [x, y] = [i % width, Math.floor(i / width)];
  const at = (cx: number, cy: number): number =>
    smooth[Math.min(height - 1, Math.max(0, cy)) * width + Math.min(width - 1, Math.max(0, cx))]!;
  const [dx, dy] = [at(x - 1, y) - at(x + 1, y), at(x, y - 1) - at(x, y + 1)];
  const l = Math.hypot(dx, dy);
  return l > 0 ? [dx / l, dy / l] : [0, 0];
}
