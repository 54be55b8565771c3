import { z } from 'zod';

/** A set of triangles as runs in growing order: first triangle, how many, and so on. */
export const faceRunsSchema = z.array(z.int().nonnegative()).refine((runs) => {
  if (runs.length % 2) return false;
  for (let i = 0; i < runs.length; i += 2) {
    if (runs[i + 1]! < 1) return false;
    if (i > 0 && runs[i]! <= runs[i - 2]! + runs[i - 1]! - 1) return false;
  }
  return true;
}, 'runs of triangles are expected: first, how many, in growing order');

export type FaceRuns = z.infer<typeof faceRunsSchema>;

/** @param has tells whether triangle f is in the set */
export function faceRuns(faces: number, has: (face: number) => boolean): FaceRuns {
  const out: number[] = [];
  for (let f = 0; f < faces; f++) {
    if (!has(f)) continue;
    const first = f;
    while (f + 1 < faces && has(f + 1)) f++;
    out.push(first, f - first + 1);
  }
  return out;
}

/** 1 for each triangle of the set. */
export function faceMask(faces: number, runs: FaceRuns): Uint8Array {
  const out = new Uint8Array(faces);
  for (let i = 0; i < runs.length; i += 2) out.fill(1, runs[i], runs[i]! + runs[i + 1]!);
  return out;
}
