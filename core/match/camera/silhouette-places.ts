import type { UvMesh } from '../../mesh';
import type { SeenModel } from './see-model';
import { contourOf, nearestTo } from './silhouette';

/** Where a part's outline leaves that of the picture. */
export interface OutlinePlace {
  readonly part: string;
  /** The model is too thick there, or too thin. */
  readonly is: 'thick' | 'thin';
  /** By how much, in percent of the picture's height. */
  readonly percent: number;
  /** Pixels of the picture. */
  readonly at: readonly [x: number, y: number];
}

/** Less than this is drawn just so, parts of the height. */
const TOLERANCE = 0.006;

/** A place on which only a few pixels agree is a slip of the pen, in parts of the height. */
const LEAST_RUN = 0.008;

/**
 * Where the model's outline lies outside of the picture's figure or within it, part by part: for each the place that is farthest off
 * either way, the worst first.
 *
 * @param mask 1 a pixel that belongs to the model in the picture
 */
export function outlinePlaces(
  mesh: UvMesh,
  { faces }: SeenModel,
  mask: Uint8Array,
  width: number,
  height: number,
): OutlinePlace[] {
  const own = Uint8Array.from(faces, (f) => (f >= 0 ? 1 : 0));
  const [ownLine, theirLine] = [contourOf(own, width, height), contourOf(mask, width, height)];
  const [nearOwn, nearTheir] = [nearestTo(ownLine, width, height), nearestTo(theirLine, width, height)];
  const far = (i: number, j: number): number =>
    Math.hypot((i % width) - (j % width), Math.floor(i / width) - Math.floor(j / width));
  /** Distances by part and way. */
  const found = new Map<
    string,
    { part: number; is: 'thick' | 'thin'; all: [off: number, pixel: number][] }
  >();
  const note = (part: number, is: 'thick' | 'thin', off: number, pixel: number): void => {
    if (off < TOLERANCE * height) return;
    const key = `${part} ${is}`;
    const list = found.get(key) ?? { part, is, all: [] };
    list.all.push([off, pixel]);
    found.set(key, list);
  };
  for (let i = 0; i < faces.length; i++) {
    if (ownLine[i] && nearTheir[i]! >= 0)
      note(mesh.faceParts[faces[i]!]!, mask[i] ? 'thin' : 'thick', far(i, nearTheir[i]!), i);
    // What the picture has beyond the model belongs to the part that is nearest.
    if (theirLine[i] && !own[i] && nearOwn[i]! >= 0)
      note(mesh.faceParts[faces[nearOwn[i]!]!]!, 'thin', far(i, nearOwn[i]!), i);
  }
  return [...found.values()]
    .flatMap(({ part, is, all }): OutlinePlace[] => {
      if (all.length < LEAST_RUN * height) return [];
      all.sort((a, b) => b[0] - a[0]);
      // The twentieth part that is worst is left out: single pixels stick out.
      const [off, pixel] = all[Math.floor(all.length * 0.05)]!;
      return [
        {
          part: mesh.parts[part]!,
          is,
          percent: (off / height) * 100,
          at: [(pixel % width) + 0.5, Math.floor(pixel / width) + 0.5],
        },
      ];
    })
    .sort((a, b) => b.percent - a.percent);
}

/** How a part is seen in both where the picture's parts are told. */
export interface PartSilhouette {
  readonly part: string;
  readonly iou: number;
}

/** @param partMask number of the part that a pixel of the picture shows; negative where that isn't told */
export function partSilhouettes(mesh: UvMesh, { faces }: SeenModel, partMask: Int16Array): PartSilhouette[] {
  const sums = mesh.parts.map(() => ({ both: 0, either: 0, told: 0 }));
  for (let i = 0; i < faces.length; i++) {
    const is = faces[i]! >= 0 ? mesh.faceParts[faces[i]!]! : -1;
    const told = partMask[i]!;
    if (is >= 0) sums[is]!.either++;
    if (told < 0) continue;
    sums[told]!.told++;
    if (told === is) sums[told]!.both++;
    else sums[told]!.either++;
  }
  return sums.flatMap(({ both, either, told }, p) =>
    told > 0 && either > 0 ? [{ part: mesh.parts[p]!, iou: both / either }] : [],
  );
}
