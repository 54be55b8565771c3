import { CoreError } from '../errors';
import { MAX_SHEETS, type Mesh, type UvMesh } from './mesh';
import { pickOrigins } from './origins';

/** The sheet that a part lies on, 0 upward. */
export const sheetOfPart = (mesh: Mesh, part: number): number => mesh.partSheets?.[part] ?? 0;

/** Number of the sheet that a triangle lies on. */
export const sheetOfFace = (mesh: Mesh, face: number): number => sheetOfPart(mesh, mesh.faceParts[face]!);

/** How many sheets the parts need. */
export const sheetCount = (mesh: Mesh): number => Math.max(0, ...(mesh.partSheets ?? [])) + 1;

/** The sheet of each vertex; null where all lie on the first. Vertices are never shared by parts of different sheets. */
export function vertexSheets(mesh: Mesh): Float32Array | null {
  if (!mesh.partSheets) return null;
  const out = new Float32Array(mesh.positions.length / 3);
  mesh.indices.forEach((v, c) => (out[v] = sheetOfFace(mesh, Math.floor(c / 3))));
  return out;
}

/**
 * The mesh with some parts on another sheet. Their UVs stay as they are.
 *
 * @throws CoreError `bad-argument` beyond MAX_SHEETS
 */
export function putOnSheet<M extends Mesh>(mesh: M, parts: readonly number[], sheet: number): M {
  if (!Number.isInteger(sheet) || sheet < 0 || sheet >= MAX_SHEETS) {
    throw new CoreError('bad-argument', `A project has up to ${MAX_SHEETS} sheets. Choose one of them.`);
  }
  const sheets = mesh.parts.map((_, p) => (parts.includes(p) ? sheet : sheetOfPart(mesh, p)));
  return withSheets(ownVertices(mesh), sheets);
}

/**
 * Parts that came with pictures of their own were made for sheets of their own. Those without one lie on the first sheet if they have room
 * there, and on another one together if they don't.
 *
 * @param pictures of each part; null where it has none
 */
export function sheetsOfPictures(mesh: UvMesh, pictures: readonly unknown[]): UvMesh {
  const known = [...new Set(pictures.filter(Boolean))];
  const plain = mesh.parts.flatMap((_, part) => (pictures[part] ? [] : [part]));
  const onFirst = mesh.parts.flatMap((_, part) => (pictures[part] === known[0] ? [part] : []));
  const free = known.length > 0 && plain.length > 0 && known.length < MAX_SHEETS;
  const own = free && lieOver(mesh, new Set(plain), new Set(onFirst)) ? known.length : 0;
  return mesh.parts.reduce((m, _, part) => {
    const at = pictures[part] ? Math.min(known.indexOf(pictures[part]), MAX_SHEETS - 1) : own;
    return at === 0 ? m : putOnSheet(m, [part], at);
  }, mesh);
}

/** Cells a side in which it is looked for whether parts lie over one another on a sheet. */
const CELLS = 64;

/** Whether some parts cover what others cover on the sheet, on more than a hundredth of it. */
function lieOver(mesh: UvMesh, some: ReadonlySet<number>, others: ReadonlySet<number>): boolean {
  const cover = (parts: ReadonlySet<number>): Uint8Array => {
    const cells = new Uint8Array(CELLS * CELLS);
    const { indices, uvs, faceParts } = mesh;
    for (let f = 0; f < faceParts.length; f++) {
      if (!parts.has(faceParts[f]!)) continue;
      const at = (axis: number, weights: readonly number[]): number => {
        const x = weights.reduce((sum, w, k) => sum + w * uvs[indices[f * 3 + k]! * 2 + axis]!, 0);
        return Math.min(CELLS - 1, Math.floor((x - Math.floor(x)) * CELLS));
      };
      for (const weights of spread(mesh, f)) cells[at(1, weights) * CELLS + at(0, weights)] = 1;
    }
    return cells;
  };
  const [a, b] = [cover(some), cover(others)];
  return a.reduce((n, x, i) => n + (x & b[i]!), 0) > (CELLS * CELLS) / 100;
}

/** Places spread over a triangle, about one in each cell that it covers, as weights of its corners. */
function* spread({ indices, uvs }: UvMesh, face: number): Iterable<readonly [number, number, number]> {
  const [a, b, c] = [0, 1, 2].map((k) => indices[face * 3 + k]! * 2) as [number, number, number];
  const far = (v: number, w: number): number => Math.hypot(uvs[v]! - uvs[w]!, uvs[v + 1]! - uvs[w + 1]!);
  const steps = Math.min(CELLS, 1 + Math.ceil(Math.max(far(a, b), far(b, c), far(c, a)) * CELLS));
  for (let i = 0; i < steps; i++) {
    for (let j = 0; j < steps - i; j++) {
      const [u, v] = [(i + 1 / 3) / steps, (j + 1 / 3) / steps];
      yield [u, v, 1 - u - v];
    }
  }
}

/** Takes a sheet on which nothing lies out of the numbering. @throws CoreError `bad-argument` if something lies on it */
export function withoutSheet<M extends Mesh>(mesh: M, sheet: number): M {
  const sheets = mesh.parts.map((_, p) => sheetOfPart(mesh, p));
  if (sheets.includes(sheet)) {
    throw new CoreError(
      'bad-argument',
      'Parts still lie on that sheet. Put them on another one first, then it can be removed.',
    );
  }
  return withSheets(
    mesh,
    sheets.map((s) => (s > sheet ? s - 1 : s)),
  );
}

function withSheets<M extends Mesh>(mesh: M, sheets: readonly number[]): M {
  const { partSheets: _was, ...rest } = mesh;
  return (sheets.some((s) => s > 0) ? { ...rest, partSheets: sheets } : rest) as M;
}

/** Splits vertices that several parts share, so that each belongs to one. */
export function ownVertices<M extends Mesh>(mesh: M): M {
  const count = mesh.positions.length / 3;
  const owner = new Int32Array(count).fill(-1);
  const copies = new Map<string, number>();
  const from: number[] = [];
  const indices = mesh.indices.map((v, c) => {
    const part = mesh.faceParts[Math.floor(c / 3)]!;
    if (owner[v]! < 0) owner[v] = part;
    if (owner[v] === part) return v;
    const key = `${v} ${part}`;
    let copy = copies.get(key);
    if (copy === undefined) {
      copies.set(key, (copy = count + from.length));
      from.push(v);
    }
    return copy;
  });
  if (from.length === 0) return mesh;
  const grown = (data: Float32Array, stride: number): Float32Array => {
    const out = new Float32Array(data.length + from.length * stride);
    out.set(data);
    from.forEach((v, i) => out.set(data.subarray(v * stride, (v + 1) * stride), data.length + i * stride));
    return out;
  };
  return {
    ...mesh,
    positions: grown(mesh.positions, 3),
    normals: grown(mesh.normals, 3),
    uvs: mesh.uvs && grown(mesh.uvs, 2),
    ...pickOrigins(mesh, count + from.length, (v) => (v < count ? v : from[v - count]!)),
    indices,
  };
}

/** What lies on one sheet. */
export interface SheetPiece {
  readonly sheet: number;
  /** Its triangles only; vertices and parts keep their numbers. */
  readonly mesh: UvMesh;
  /** The number of each of its triangles in the whole mesh. */
  readonly faces: Uint32Array;
}

/** The triangles on one sheet as a mesh of their own. Vertices stay; normals and positions are shared. */
export function pieceOnSheet(mesh: UvMesh, sheet: number): SheetPiece {
  const all = Uint32Array.from({ length: mesh.faceParts.length }, (_, f) => f);
  if (!mesh.partSheets && sheet === 0) return { sheet, mesh, faces: all };
  const faces = all.filter((f) => sheetOfFace(mesh, f) === sheet);
  const { partSheets: _all, polygons, ...rest } = mesh;
  const indices = new Uint32Array(faces.length * 3);
  faces.forEach((f, i) => indices.set(mesh.indices.subarray(f * 3, f * 3 + 3), i * 3));
  return {
    sheet,
    faces,
    mesh: {
      ...rest,
      indices,
      faceParts: Uint16Array.from(faces, (f) => mesh.faceParts[f]!),
      ...(polygons ? { polygons: Uint32Array.from(faces, (f) => polygons[f]!) } : {}),
    },
  };
}
