import type { Vec3 } from '../math';
import {
  checkMesh,
  checkPartLimit,
  checkTriangleLimit,
  smoothNormals,
  unitNormals,
  weldExact,
  type Mesh,
} from '../mesh';

/** One drawable piece of a model file, in model space. */
export interface Piece {
  readonly name: string;
  readonly positions: Float32Array;
  readonly normals: Float32Array | null;
  /** Origin at the lower left. */
  readonly uvs: Float32Array | null;
  readonly indices: Uint32Array;
  /** Base-colour picture as a file, where it has one. */
  readonly picture?: Uint8Array | undefined;
  /** Linear red, green and blue by which the picture is multiplied; left out: by 1. */
  readonly factor?: Vec3 | undefined;
  /** One base colour, `#rrggbb`, where it has no picture. */
  readonly color?: string | undefined;
  /** sRGB-encoded red, green, blue and alpha a vertex, 0..1. */
  readonly vertexColors?: Float32Array | undefined;
}

/** The colours that a model brings with it. */
export interface ImportedPaint {
  /** Base-colour picture of each part, as a file. */
  readonly pictures: readonly (Uint8Array | null)[];
  /** Linear red, green and blue by which each of them is multiplied; null: by 1. Left out: none is. */
  readonly factors?: readonly (Vec3 | null)[];
  /** Name of a part and its base colour. */
  readonly colors: readonly (readonly [part: string, color: string])[];
  /** RGBA a corner (a triangle's, in order), 0..255; null where no vertex has a colour. */
  readonly cornerColors: Uint8Array | null;
}

export interface ImportedModel {
  readonly mesh: Mesh;
  readonly paint: ImportedPaint;
  /** What moves it; left out: nothing. */
  readonly motion?: MotionFigures;
  /** The file as one GLB, to which the mesh's origins refer. */
  readonly file?: Uint8Array;
  /** Names of pictures that it wants and that weren't handed over with it. */
  readonly missing?: readonly string[];
}

/** How much of what moves a model its file holds. */
export interface MotionFigures {
  readonly skins: number;
  /** Nodes that move a skin, each once. */
  readonly joints: number;
  readonly clips: number;
  /** Morph targets over all meshes. */
  readonly morphs: number;
}

export const NO_MOTION: MotionFigures = { skins: 0, joints: 0, clips: 0, morphs: 0 };

/** The joined mesh with the colours of its pieces. @throws as `joinPieces` */
export function importPieces(pieces: readonly Piece[]): ImportedModel {
  const mesh = joinPieces(pieces);
  const pictured = new Map<string, Uint8Array>();
  for (const { name, picture } of pieces) if (picture && !pictured.has(name)) pictured.set(name, picture);
  const pictures = mesh.parts.map((name) => pictured.get(name) ?? null);
  const factorOf = (name: string): Vec3 | null =>
    pieces.find((p) => p.name === name && p.picture)?.factor ?? null;
  const factors = pieces.some((p) => p.factor) ? { factors: mesh.parts.map(factorOf) } : {};
  const named = new Map<string, string>();
  for (const { name, color } of pieces) if (color && !named.has(name)) named.set(name, color);
  const colors = [...named];
  if (!pieces.some((p) => p.vertexColors))
    return { mesh, paint: { pictures, ...factors, colors, cornerColors: null } };
  const cornerColors = new Uint8Array(mesh.indices.length * 4);
  let c = 0;
  for (const { indices, vertexColors } of pieces) {
    for (const v of indices) {
      for (let k = 0; k < 4; k++) {
        cornerColors[c * 4 + k] = vertexColors
          ? Math.round(Math.min(1, Math.max(0, vertexColors[v * 4 + k]!)) * 255)
          : 0;
      }
      c++;
    }
  }
  return { mesh, paint: { pictures, ...factors, colors, cornerColors } };
}

/**
 * Joins the pieces of a file into one checked mesh, a part a name. Normals that the file doesn't give are made smooth over
 * equal positions within the piece. UVs are kept only if every piece has them.
 *
 * @throws CoreError `model-empty`, `model-too-large`, `model-bad-number`
 */
export function joinPieces(pieces: readonly Piece[]): Mesh {
  const vertices = pieces.reduce((n, p) => n + p.positions.length / 3, 0);
  const corners = pieces.reduce((n, p) => n + p.indices.length, 0);
  checkTriangleLimit(corners / 3);
  checkPartLimit(new Set(pieces.map((p) => p.name)).size);
  const allHaveUvs = pieces.length > 0 && pieces.every((p) => p.uvs);
  const positions = new Float32Array(vertices * 3);
  const normals = new Float32Array(vertices * 3);
  const uvs = allHaveUvs ? new Float32Array(vertices * 2) : null;
  const indices = new Uint32Array(corners);
  const faceParts = new Uint16Array(corners / 3);
  const parts = new Map<string, number>();
  let v = 0;
  let c = 0;
  for (const piece of pieces) {
    let part = parts.get(piece.name);
    if (part === undefined) parts.set(piece.name, (part = parts.size));
    positions.set(piece.positions, v * 3);
    normals.set(pieceNormals(piece), v * 3);
    uvs?.set(piece.uvs!, v * 2);
    for (let i = 0; i < piece.indices.length; i++) indices[c + i] = piece.indices[i]! + v;
    faceParts.fill(part, c / 3, (c + piece.indices.length) / 3);
    v += piece.positions.length / 3;
    c += piece.indices.length;
  }
  return checkMesh({ positions, normals, uvs, indices, faceParts, parts: [...parts.keys()] });
}

function pieceNormals(piece: Piece): Float32Array {
  const make = (): Float32Array =>
    smoothNormals(piece.positions, piece.indices, weldExact({ data: piece.positions, stride: 3 }));
  return piece.normals ? unitNormals(piece.normals, make) : make();
}

/** Gives the second piece of a name a number, so that every part can be told apart. */
export function uniqueNames(): (wanted: string) => string {
  const taken = new Set<string>();
  return (wanted) => {
    const base = wanted.trim() || 'Part';
    let name = base;
    for (let n = 2; taken.has(name); n++) name = `${base} ${n}`;
    taken.add(name);
    return name;
  };
}
