import { CoreError } from '../errors';
import { contentHash } from '../math';
import type { Origins } from './origins';

/** The largest model that is taken in, in triangles. Painted game models have 500 to 50,000. */
export const MAX_TRIANGLES = 1_000_000;

/** The most parts a model may have: a part's index is kept in 16 bits, and 65,535 means “none”. */
export const MAX_PARTS = 65_535;

/** The most sheets a project can have: as many textures as one pass of WebGL2 surely reads beside its own. */
export const MAX_SHEETS = 8;

/** A triangle mesh in model space (y up, right-handed). Vertices are split wherever normal or UV differ. */
export interface Mesh {
  /** xyz a vertex, in the model's units. */
  readonly positions: Float32Array;
  /** Unit xyz a vertex. */
  readonly normals: Float32Array;
  /** uv a vertex, origin at the lower left of the sheet; null where the file had none. */
  readonly uvs: Float32Array | null;
  /** Three vertex indices a triangle, counter-clockwise seen from outside. */
  readonly indices: Uint32Array;
  /** Index into `parts`, a triangle. */
  readonly faceParts: Uint16Array;
  /** Unique names. */
  readonly parts: readonly string[];
  /** Polygon number a triangle, where the file had polygons of more than three corners: triangles of one stand together. */
  readonly polygons?: Uint32Array;
  /** The sheet that each part lies on, 0 upward; left out where all lie on the first. See sheets.ts. */
  readonly partSheets?: readonly number[];
  /** How many of the last parts are flat backdrops; left out where none is. See backdrops.ts. */
  readonly backdrops?: number;
  /** Where its vertices come from, where the file is kept that it was read from. */
  readonly origins?: Origins;
}

/** A mesh that has UVs, as everything after the Unwrap stage needs. */
export type UvMesh = Mesh & { readonly uvs: Float32Array };

/** Vertices, as split by UVs and normals. */
export const vertexCount = (mesh: Mesh): number => mesh.positions.length / 3;
/** Triangles. */
export const triangleCount = (mesh: Mesh): number => mesh.indices.length / 3;

/**
 * @throws CoreError `model-no-uvs`
 */
export function requireUvs(mesh: Mesh): UvMesh {
  if (!mesh.uvs) {
    throw new CoreError(
      'model-no-uvs',
      'This model has no UVs, so there is no sheet to paint on. Lay it out (Unwrap, or --unwrap on the command line), or choose a model with UVs.',
    );
  }
  return mesh as UvMesh;
}

/** Normals may be this much longer or shorter than 1: more than 16 bits of rounding, far less than shows. */
const UNIT = 0.02;

/**
 * The front door: a mesh that passes has finite numbers, lists of fitting lengths, indices in range, unit normals (0 where a vertex
 * has none) and at least one triangle.
 *
 * @throws CoreError `model-empty`, `model-too-large` or `model-bad-number`
 */
export function checkMesh(mesh: Mesh): Mesh {
  const { positions, normals, uvs, indices, faceParts, parts, polygons, partSheets, origins } = mesh;
  const bad = (what: string): never => {
    throw new CoreError('model-bad-number', `${what} The file is damaged; export or copy it again.`);
  };
  if (indices.length % 3 || positions.length % 3) {
    bad(
      `The model has ${indices.length} corners and ${positions.length} coordinates, which don’t go in threes.`,
    );
  }
  const triangles = triangleCount(mesh);
  if (triangles === 0) {
    throw new CoreError(
      'model-empty',
      'The file holds no triangles. Export the model with its faces and try again.',
    );
  }
  checkTriangleLimit(triangles);
  checkPartLimit(parts.length);
  const vertices = vertexCount(mesh);
  const fits = (length: number, wanted: number, what: string): void => {
    if (length !== wanted) bad(`The model has ${length} ${what} where ${wanted} are needed.`);
  };
  fits(normals.length, vertices * 3, 'numbers of normals');
  if (uvs) fits(uvs.length, vertices * 2, 'numbers of UVs');
  fits(faceParts.length, triangles, 'part numbers of triangles');
  if (polygons) fits(polygons.length, triangles, 'polygon numbers of triangles');
  if (origins) {
    fits(origins.from.length, vertices * 3, 'origins of vertices');
    fits(origins.weights.length, vertices * 3, 'weights of origins');
  }
  const wildNumber = (list: Float32Array): number => list.findIndex((x) => !Number.isFinite(x));
  const position = wildNumber(positions);
  if (position >= 0) {
    throw new CoreError(
      'model-bad-number',
      `Vertex ${Math.floor(position / 3)} has a position that is not a number. Mend the model in the program it comes from and export it again.`,
    );
  }
  const uv = uvs ? wildNumber(uvs) : -1;
  if (uv >= 0) {
    throw new CoreError(
      'model-bad-number',
      `Vertex ${Math.floor(uv / 2)} has a UV that is not a number. Unwrap the model again and export it anew.`,
    );
  }
  for (let v = 0; v < normals.length; v += 3) {
    const length = Math.hypot(normals[v]!, normals[v + 1]!, normals[v + 2]!);
    if (length !== 0 && !(Math.abs(length - 1) <= UNIT))
      bad(`The normal of vertex ${v / 3} is ${length} long, not 1.`);
  }
  const part = faceParts.find((p) => p >= parts.length);
  if (part !== undefined) bad(`A triangle belongs to part ${part}, but the model has only ${parts.length}.`);
  if (new Set(parts).size < parts.length) bad('Two parts of the model have the same name.');
  if (
    partSheets &&
    (partSheets.length !== parts.length || partSheets.some((s) => !(s >= 0 && s < MAX_SHEETS)))
  ) {
    throw new CoreError(
      'model-bad-number',
      `The model says of its ${parts.length} parts wrongly on which sheet each lies. The file is damaged; copy it again.`,
    );
  }
  const wild = indices.find((i) => i >= vertices);
  if (wild !== undefined) {
    throw new CoreError(
      'model-bad-number',
      `A triangle uses vertex ${wild}, but the model has only ${vertices}. The file is damaged; export it again.`,
    );
  }
  return mesh;
}

/** @throws CoreError `model-too-large` */
export function checkPartLimit(parts: number): void {
  if (parts > MAX_PARTS) {
    throw new CoreError(
      'model-too-large',
      `The model has ${parts} parts; up to ${MAX_PARTS} can be used. Join some of them and try again.`,
    );
  }
}

/** @throws CoreError `model-too-large` */
export function checkTriangleLimit(triangles: number): void {
  if (triangles > MAX_TRIANGLES) {
    throw new CoreError(
      'model-too-large',
      `The model has ${triangles.toLocaleString('en')} triangles; up to ${MAX_TRIANGLES.toLocaleString('en')} can be painted. Reduce it and try again.`,
    );
  }
}

/** Names a mesh by its contents. */
export const meshHash = (mesh: Mesh): string =>
  contentHash(
    mesh.positions,
    mesh.normals,
    mesh.uvs ?? new Float32Array(0),
    mesh.indices,
    mesh.faceParts,
    mesh.parts,
    ...(mesh.polygons ? [mesh.polygons] : []),
    ...(mesh.partSheets ? ['sheets', mesh.partSheets] : []),
    ...(mesh.backdrops ? ['backdrops', [mesh.backdrops]] : []),
    ...(mesh.origins ? ['origins', mesh.origins.from, mesh.origins.weights] : []),
  );
