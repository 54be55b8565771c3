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
 * Parts that came with pictures of their own were made for sheets of their own.
 *
 * @param pictures of each part; null where it has none
 */
export function sheetsOfPictures(mesh: UvMesh, pictures: readonly unknown[]): UvMesh {
  const known: unknown[] = [];
  return mesh.parts.reduce((m, _, part) => {
    const picture = pictures[part];
    if (!picture) return m;
    if (!known.includes(picture)) known.push(picture);
    const sheet = Math.min(known.indexOf(picture), MAX_SHEETS - 1);
    return sheet === 0 ? m : putOnSheet(m, [part], sheet);
  }, mesh);
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
