import { z } from 'zod';
import { CoreError } from '../errors';
import { dot, normalize, type Vec3 } from '../math';
import type { Mesh, UvMesh } from '../mesh';
import { isInsideRamp, onRamp, rampBands, type RampSheet, type RampSize } from './ramp-sheet';

const vector = z.tuple([z.number(), z.number(), z.number()]);

/** How a part lies on a ramp. */
export const rampRunSchema = z.strictObject({
  ramp: z.string(),
  /** Along which it runs, model space. */
  direction: vector.refine(
    (d) => d.some((x) => x !== 0) && d.every(Number.isFinite),
    'a direction is not 0 in all three numbers',
  ),
  /** Where along the ramp the part's lowest and highest place along the direction lie, 0..1. */
  from: z.number().min(0).max(1),
  to: z.number().min(0).max(1),
});

export type RampRun = z.infer<typeof rampRunSchema>;

/** A part on its ramp. */
export interface OnRamp {
  readonly name: string;
  readonly ramp: string;
  /** Whether all that is read for it lies on its own ramp. */
  readonly inside: boolean;
}

/** A part's extent along its direction that is less than this part of the model's is none. */
const NO_EXTENT = 1e-6;

/**
 * A model whose UVs lie on a ramp sheet: each part's along its ramp, as high as its places lie along the direction. They overlap freely.
 *
 * @param runs by the name of the part; each part has one
 * @throws CoreError `bad-argument` with a sentence that names the part or the ramp
 */
export function putOnRamps(
  mesh: Mesh,
  sheet: RampSheet,
  size: RampSize,
  runs: ReadonlyMap<string, RampRun>,
): { readonly mesh: UvMesh; readonly parts: readonly OnRamp[] } {
  const bands = rampBands(sheet.ramps.length, size);
  const unknown = [...runs.keys()].find((name) => !mesh.parts.includes(name));
  if (unknown !== undefined) {
    throw new CoreError(
      'bad-argument',
      `There is no part called “${unknown}” in the model. It has: ${mesh.parts.join(', ')}.`,
    );
  }
  const split = splitByPart(mesh);
  const { positions: p, indices, faceParts } = split;
  const uvs = new Float32Array((p.length / 3) * 2);
  const partOfVertex = new Int32Array(p.length / 3).fill(-1);
  for (let c = 0; c < indices.length; c++) partOfVertex[indices[c]!] = faceParts[Math.floor(c / 3)]!;
  const spans = mesh.parts.map((name, part) => {
    const run = runs.get(name);
    if (!run) {
      throw new CoreError(
        'bad-argument',
        `The part “${name}” is on no ramp yet. Put it on one of: ${sheet.ramps.map((r) => r.name).join(', ')}.`,
      );
    }
    const ramp = sheet.ramps.findIndex((r) => r.name === run.ramp);
    if (ramp < 0) {
      throw new CoreError(
        'bad-argument',
        `The part “${name}” is to be on the ramp “${run.ramp}”, which isn't there. There are: ${sheet.ramps.map((r) => r.name).join(', ')}.`,
      );
    }
    return { run, band: bands[ramp]!, ...extentOf(split, partOfVertex, part, run.direction as Vec3) };
  });
  const whole = Math.max(...spans.map((s) => s.size));
  for (let v = 0; v < partOfVertex.length; v++) {
    const part = partOfVertex[v]!;
    if (part < 0) continue;
    const { run, band, low, high, way } = spans[part]!;
    if (high - low <= whole * NO_EXTENT) {
      throw new CoreError(
        'bad-argument',
        `The part “${mesh.parts[part]}” has no extent along ${run.direction.join(', ')}: it would lie on one place of its ramp. Choose another direction for it.`,
      );
    }
    const t = (dot([p[v * 3]!, p[v * 3 + 1]!, p[v * 3 + 2]!], way) - low) / (high - low);
    uvs.set(onRamp(band, run.from + (run.to - run.from) * t, size, sheet.lie), v * 2);
  }
  const parts = mesh.parts.map((name, part) => {
    const { run, band } = spans[part]!;
    const inside = partOfVertex.every(
      (of, v) => of !== part || isInsideRamp(band, [uvs[v * 2]!, uvs[v * 2 + 1]!], size, sheet.lie),
    );
    return { name, ramp: run.ramp, inside };
  });
  // All parts share the one sheet.
  const { partSheets: _, ...rest } = split;
  return { mesh: { ...rest, uvs }, parts };
}

/** From where to where a part reaches along a direction, and its size as a whole. */
function extentOf({ positions: p }: Mesh, partOfVertex: Int32Array, part: number, direction: Vec3) {
  const way = normalize(direction);
  let [low, high] = [Infinity, -Infinity];
  const box = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];
  partOfVertex.forEach((of, v) => {
    if (of !== part) return;
    const at: Vec3 = [p[v * 3]!, p[v * 3 + 1]!, p[v * 3 + 2]!];
    const d = dot(at, way);
    low = Math.min(low, d);
    high = Math.max(high, d);
    at.forEach((x, k) => {
      box[k] = Math.min(box[k]!, x);
      box[k + 3] = Math.max(box[k + 3]!, x);
    });
  });
  const size = Math.max(0, ...[0, 1, 2].map((k) => box[k + 3]! - box[k]!).filter(Number.isFinite));
  return { way, low, high, size };
}

/** A mesh no vertex of which belongs to two parts. */
function splitByPart(mesh: Mesh): Mesh {
  const { positions, normals, indices, faceParts } = mesh;
  const known = new Map<number, number>();
  const own: number[] = [];
  const next = new Uint32Array(indices.length);
  for (let c = 0; c < indices.length; c++) {
    const key = faceParts[Math.floor(c / 3)]! * (positions.length / 3) + indices[c]!;
    let v = known.get(key);
    if (v === undefined) {
      known.set(key, (v = own.length));
      own.push(indices[c]!);
    }
    next[c] = v;
  }
  const taken = (from: Float32Array): Float32Array =>
    Float32Array.from({ length: own.length * 3 }, (_, i) => from[own[Math.floor(i / 3)]! * 3 + (i % 3)]!);
  return { ...mesh, positions: taken(positions), normals: taken(normals), indices: next, uvs: null };
}
