import { CoreError } from '../errors';
import { findIslands, pieceOnSheet, sheetCount, topologyOf, type UvMesh } from '../mesh';
import { cornerUvs, withCornerUvs } from './corner-uvs';
import { flattenFaces, projectFaces, type FlattenFaces, type Projection } from './edit-layout';
import { packLayout, type PackLayout } from './pack-layout';
import { doubledArea, restShapes, shapeArea } from './rest-shape';
import { straightened } from './seam-edges';
import { stackTwins } from './twins';
import { unwrapModel, type UnwrapOptions } from './unwrap-model';

/** What fills whole sheets is done to each sheet by itself, or to one. */
export interface OnSheets {
  /** Texels a side of each sheet. */
  readonly sizes: readonly number[];
  /** Only this one; all where null. */
  readonly sheet: number | null;
}

/** A change of the layout, as it is asked of a worker. */
export type LayoutEdit =
  | ({ readonly do: 'unwrap'; readonly how: Omit<UnwrapOptions, 'onProgress' | 'size'> } & OnSheets)
  | { readonly do: 'flatten'; readonly how: Omit<FlattenFaces, 'onProgress'> }
  | ({ readonly do: 'pack'; readonly how: Omit<PackLayout, 'size'> } & OnSheets)
  | { readonly do: 'project'; readonly faces: readonly number[]; readonly projection: Projection }
  | { readonly do: 'straighten'; readonly faces: readonly number[] }
  /** Mirrored twins onto one another. */
  | { readonly do: 'stack'; readonly faces: readonly number[] };

/**
 * @param faces of an edit may be empty: then all triangles are meant
 * @throws CoreError `unwrap-folds`, `unwrap-no-grid` and others; nothing is changed then
 */
export function applyLayoutEdit(mesh: UvMesh, edit: LayoutEdit, onProgress?: (done: number) => void): UvMesh {
  const all = (faces: readonly number[]): readonly number[] =>
    faces.length ? faces : Array.from({ length: mesh.faceParts.length }, (_, f) => f);
  switch (edit.do) {
    case 'unwrap':
      return onEachSheet(mesh, edit, (piece, size, done) =>
        unwrapModel(piece, { ...edit.how, size, onProgress: (part) => onProgress?.(done(part)) }),
      );
    case 'flatten':
      return flattenFaces(mesh, { ...edit.how, ...(onProgress ? { onProgress } : {}) });
    case 'pack':
      return onEachSheet(mesh, edit, (piece, size, _done, faces) => {
        const own = new Map(edit.how.pins.length ? Array.from(faces, (f, i) => [f, i] as const) : []);
        const pins = edit.how.pins.flatMap((f) => own.get(f) ?? []);
        return packLayout(piece, { ...edit.how, pins, size });
      });
    case 'project':
      return projectFaces(mesh, all(edit.faces), edit.projection);
    case 'straighten':
      return straightenFaces(mesh, all(edit.faces));
    case 'stack':
      return stackTwins(mesh, edit.faces);
  }
}

/** Lays out what lies on each sheet by itself and puts it together again. */
function onEachSheet(
  mesh: UvMesh,
  { sizes, sheet: only }: OnSheets,
  work: (piece: UvMesh, size: number, progress: (part: number) => number, faces: Uint32Array) => UvMesh,
): UvMesh {
  const sheets = sizes.map((_, s) => s).filter((s) => only === null || s === only);
  if (sheetCount(mesh) === 1 && sheets.includes(0)) {
    return work(mesh, sizes[0]!, (part) => part, pieceOnSheet(mesh, 0).faces);
  }
  const uvs = cornerUvs(mesh);
  sheets.forEach((sheet, n) => {
    const piece = pieceOnSheet(mesh, sheet);
    if (piece.faces.length === 0) return;
    const made = work(piece.mesh, sizes[sheet]!, (part) => (n + part) / sheets.length, piece.faces);
    const own = cornerUvs(made);
    piece.faces.forEach((f, i) => uvs.set(own.subarray(i * 6, i * 6 + 6), f * 6));
  });
  return withCornerUvs(mesh, uvs);
}

/** @throws CoreError `unwrap-no-grid` if none of the islands is a grid of quads */
function straightenFaces(mesh: UvMesh, faces: readonly number[]): UvMesh {
  const topology = topologyOf(mesh);
  const { ofFace } = findIslands(mesh);
  const shapes = restShapes(mesh);
  const uvs = cornerUvs(mesh);
  const islands = new Map<number, number[]>();
  for (const f of faces) {
    const list = islands.get(ofFace[f]!);
    if (list) list.push(f);
    else islands.set(ofFace[f]!, [f]);
  }
  let done = 0;
  for (const list of islands.values()) {
    const straight = straightened(mesh, topology, list);
    if (!straight) continue;
    done++;
    let solid = 0;
    let flat = 0;
    for (const f of list) {
      solid += shapeArea(shapes, f);
      flat += Math.abs(doubledArea(mesh.indices, mesh.uvs, f)) / 2;
    }
    const scale = Math.sqrt((flat || 1) / (solid || 1));
    const mean = (of: (c: number) => number): number =>
      list.reduce((sum, f) => sum + of(f * 3) + of(f * 3 + 1) + of(f * 3 + 2), 0) / (list.length * 3);
    for (const axis of [0, 1] as const) {
      const shift = mean((c) => uvs[c * 2 + axis]!) - scale * mean((c) => straight.get(c)![axis]);
      for (const [c, place] of straight) uvs[c * 2 + axis] = place[axis] * scale + shift;
    }
  }
  if (done === 0) {
    throw new CoreError(
      'unwrap-no-grid',
      'Nothing there is a strip or a grid of quads, so it can’t be made straight. Choose an island whose quads lie in rows.',
    );
  }
  return withCornerUvs(mesh, uvs);
}
