import { pieceOnSheet, sheetCount, topologyOf, type UvMesh } from '../mesh';
import { slantIslands, snapBorders, type Slant } from './seams/border-lines';
import { cornerUvs, withCornerUvs } from './corner-uvs';
import { cutWhereFlat } from './seams/cut-through';
import { flattenFaces, type FlattenFaces } from './edit-layout';
import { projectFaces, type Projection } from './flatten/projections';
import { joinSheets, type JoinSheets } from './join-sheets';
import { packLayout, type PackLayout } from './pack/pack-layout';
import { straightenFaces } from './flatten/straighten';
import { stackTwins } from './twins';
import { twinsApart } from './apart';
import { marksOnPiece } from './piece-marks';
import type { CutPlan } from './natural/natural-plan';
import { doneHere, type Working } from './natural/component-work';
import { planningModel, unwrapping, type PlanHow, type UnwrapOptions } from './unwrap-model';

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
  /** Straight borders onto whole texels. */
  | { readonly do: 'snap-borders'; readonly faces: readonly number[]; readonly sizes: readonly number[] }
  | {
      readonly do: 'slant';
      readonly faces: readonly number[];
      readonly sizes: readonly number[];
      readonly slant: Slant;
    }
  /** Seams are led straight, through triangles: the mesh is cut along them, and laid out along them anew. Its triangles get other numbers. */
  | ({
      readonly do: 'cut-through';
      readonly seams: readonly number[];
      readonly how: Omit<PackLayout, 'size' | 'even' | 'pins'>;
    } & OnSheets)
  /** Mirrored twins onto one another. */
  | { readonly do: 'stack'; readonly faces: readonly number[] }
  /** All parts on the first sheet, and packed. */
  | { readonly do: 'join'; readonly how: JoinSheets }
  /** Twins off one another, and packed. */
  | ({
      readonly do: 'apart';
      readonly faces: readonly number[];
      readonly how: Omit<PackLayout, 'size'>;
    } & OnSheets);

/**
 * @param faces of an edit may be empty: then all triangles are meant
 * @throws CoreError `unwrap-folds`, `unwrap-no-grid` and others; nothing is changed then
 */
export const applyLayoutEdit = (
  mesh: UvMesh,
  edit: LayoutEdit,
  onProgress?: (done: number) => void,
): UvMesh => doneHere(editingLayout(mesh, edit, onProgress));

/** The same as work that several may share. */
export function* editingLayout(
  mesh: UvMesh,
  edit: LayoutEdit,
  onProgress?: (done: number) => void,
): Working<UvMesh> {
  const all = (faces: readonly number[]): readonly number[] =>
    faces.length ? faces : Array.from({ length: mesh.faceParts.length }, (_, f) => f);
  switch (edit.do) {
    case 'unwrap':
      return yield* onEachSheet(mesh, edit, (piece, size, done, faces) =>
        unwrapping(piece, {
          ...edit.how,
          ...marksOnPiece(mesh, faces, edit.how),
          size,
          onProgress: (part) => onProgress?.(done(part)),
        }),
      );
    case 'flatten':
      return flattenFaces(mesh, { ...edit.how, ...(onProgress ? { onProgress } : {}) });
    case 'pack':
      return yield* packEachSheet(mesh, edit, edit.how);
    case 'cut-through': {
      const cut = cutWhereFlat(mesh, edgesOf(mesh, edit.seams));
      onProgress?.(CUT);
      if (cut.mesh.faceParts.length === mesh.faceParts.length) return mesh;
      const how = { seams: cut.seams, faces: [] };
      const flat = flattenFaces(cut.mesh, {
        ...how,
        onProgress: (done) => onProgress?.(CUT + (1 - CUT) * done),
      });
      return yield* packEachSheet(flat, edit, { ...edit.how, even: false, pins: [] });
    }
    case 'project':
      return projectFaces(mesh, all(edit.faces), edit.projection);
    case 'straighten':
      return straightenFaces(mesh, all(edit.faces));
    case 'snap-borders':
      return snapBorders(mesh, all(edit.faces), edit.sizes);
    case 'slant':
      return slantIslands(mesh, all(edit.faces), edit.sizes, edit.slant);
    case 'stack':
      return stackTwins(mesh, edit.faces);
    case 'join':
      return joinSheets(mesh, edit.how);
    case 'apart':
      return yield* packEachSheet(twinsApart(mesh, edit.faces), edit, edit.how);
  }
}

/** Part of the work that is done when the mesh is cut. */
const CUT = 0.3;

/** 1 for each edge that is named by a corner along it. */
function edgesOf(mesh: UvMesh, corners: readonly number[]): Uint8Array {
  const { edges } = topologyOf(mesh);
  const out = new Uint8Array(edges.uses.length);
  for (const c of corners) out[edges.ofCorner[c]!] = 1;
  return out;
}

function packEachSheet(mesh: UvMesh, where: OnSheets, how: Omit<PackLayout, 'size'>): Working<UvMesh> {
  return onEachSheet(mesh, where, function* (piece, size, _done, faces) {
    const own = new Map(how.pins.length ? Array.from(faces, (f, i) => [f, i] as const) : []);
    const pins = how.pins.flatMap((f) => own.get(f) ?? []);
    return packLayout(piece, { ...how, pins, size });
  });
}

/** All the ways to cut what lies on a sheet. @param sheet null for a model of one sheet */
export function* planningLayout(mesh: UvMesh, sheet: number | null, how: PlanHow): Working<CutPlan> {
  const { mesh: piece, faces } = pieceOnSheet(mesh, sheet ?? 0);
  return yield* planningModel(piece, { ...how, ...marksOnPiece(mesh, faces, how) });
}

/** Lays out what lies on each sheet by itself and puts it together again. */
function* onEachSheet(
  mesh: UvMesh,
  { sizes, sheet: only }: OnSheets,
  work: (
    piece: UvMesh,
    size: number,
    progress: (part: number) => number,
    faces: Uint32Array,
  ) => Working<UvMesh>,
): Working<UvMesh> {
  const sheets = sizes.map((_, s) => s).filter((s) => only === null || s === only);
  if (sheetCount(mesh) === 1 && sheets.includes(0)) {
    return yield* work(mesh, sizes[0]!, (part) => part, pieceOnSheet(mesh, 0).faces);
  }
  const uvs = cornerUvs(mesh);
  for (const [n, sheet] of sheets.entries()) {
    const piece = pieceOnSheet(mesh, sheet);
    if (piece.faces.length === 0) continue;
    const made = yield* work(piece.mesh, sizes[sheet]!, (part) => (n + part) / sheets.length, piece.faces);
    const own = cornerUvs(made);
    piece.faces.forEach((f, i) => uvs.set(own.subarray(i * 6, i * 6 + 6), f * 6));
  }
  return withCornerUvs(mesh, uvs);
}
