import { formParts, type SurfacePoint, type UvMesh } from '../mesh';
import { IDENTITY, type Placing } from '../math';
import { ModelLinks } from './model-links';

/** What became of a model, as far as it can be told from both. */
export interface ModelMove {
  readonly from: UvMesh;
  readonly to: UvMesh;
  /** Triangles of the same number are the same ones, wherever they lie now. Otherwise places are found by name and nearness. */
  readonly byTriangle: boolean;
  /** How the model was placed anew, if that is all that happened to its shape. */
  readonly placing: Placing | null;
  /** Takes another model to where the old one stands. */
  readonly align: Placing | null;
  /** Parts that are called otherwise from now on: what they were called, and are. */
  readonly renamed: readonly (readonly [was: string, is: string])[];
  /** Whether parts of another model whose layout is as it was keep every texel; otherwise all of it is looked for by place. */
  readonly keepsSheets?: boolean;
}

/** Which triangles became which. */
export interface FaceMap {
  /** How many triangles there were. */
  readonly before: number;
  /** The former triangle of each that there is now; -1: it is new. */
  readonly source: Int32Array;
  /** Whether they are the very same triangles, corner by corner; otherwise each goes by the one nearest to its middle. */
  readonly exact: boolean;
  /** Whether all of them are, under their old numbers, and none came or went. */
  readonly identical: boolean;
  /** Parts of the model that comes, whose texels stay where they are. */
  readonly kept: readonly number[];
}

const formFaces = (mesh: UvMesh): number => {
  const own = formParts(mesh);
  const first = mesh.faceParts.findIndex((part) => part >= own);
  return first < 0 ? mesh.faceParts.length : first;
};

/** Tells which triangles became which. Those of flat backdrops go by the backdrop's name. */
export function faceMapOf(move: ModelMove): FaceMap {
  const { from, to } = move;
  const before = from.faceParts.length;
  const after = to.faceParts.length;
  const [formBefore, formAfter] = [formFaces(from), formFaces(to)];
  const exact =
    formBefore === formAfter && (move.byTriangle || sameTriangles(from, to, move.placing ?? IDENTITY));
  const source = new Int32Array(after).fill(-1);
  if (exact) for (let f = 0; f < formAfter; f++) source[f] = f;
  else nearestFaces(move, source.subarray(0, formAfter));
  const names = new Map(move.renamed);
  const backdrops = new Map<string, number>();
  for (let f = formBefore; f < before; f++) {
    const name = from.parts[from.faceParts[f]!]!;
    const now = names.get(name) ?? name;
    if (!backdrops.has(now)) backdrops.set(now, f);
  }
  const met = new Map<number, number>();
  for (let f = formAfter; f < after; f++) {
    const part = to.faceParts[f]!;
    const nth = met.get(part) ?? 0;
    met.set(part, nth + 1);
    const first = backdrops.get(to.parts[part]!);
    if (first !== undefined) source[f] = first + nth;
  }
  const identical = exact && before === after && source.every((s, f) => s === f);
  return { before, source, exact, identical, kept: [] };
}

/** Each triangle of another model goes by the place that lies nearest to its middle. */
function nearestFaces({ from, to, align }: ModelMove, out: Int32Array): void {
  const links = new ModelLinks(from, to, align ?? IDENTITY);
  const place: SurfacePoint = { face: -1, w0: 1, w1: 0, w2: 0, distance: 0 };
  const { indices, positions, faceParts } = to;
  const middle = (f: number, axis: number): number =>
    [0, 1, 2].reduce((sum, k) => sum + positions[indices[f * 3 + k]! * 3 + axis]!, 0) / 3;
  for (let f = 0; f < out.length; f++) {
    if (links.find(faceParts[f]!, middle(f, 0), middle(f, 1), middle(f, 2), place)) out[f] = place.face;
  }
}

/** Whether two meshes have the same triangles in the same places, whatever their layouts are, after `placing` the first. */
export function sameTriangles(a: UvMesh, b: UvMesh, placing: Placing = IDENTITY): boolean {
  if (a.indices.length !== b.indices.length) return false;
  // Placed positions are rounded to 32 bit again: they agree to a few units in the last place of the model's extent.
  const exact = placing === IDENTITY;
  const extent = b.positions.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
  for (let c = 0; c < a.indices.length; c++) {
    const i = a.indices[c]! * 3;
    const j = b.indices[c]! * 3;
    for (let k = 0; k < 3; k++) {
      const row = placing.slice(k * 4, k * 4 + 4);
      const x = exact
        ? a.positions[i + k]!
        : row[0]! * a.positions[i]! + row[1]! * a.positions[i + 1]! + row[2]! * a.positions[i + 2]! + row[3]!;
      if (exact ? x !== b.positions[j + k] : Math.abs(x - b.positions[j + k]!) > extent * 1e-6) return false;
    }
  }
  return true;
}
