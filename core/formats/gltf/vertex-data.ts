import type { Accessor } from '@gltf-transform/core';
import { determinant4, IDENTITY4, inverse4, type Matrix4, type Placing, type Vec3 } from '../../math';
import type { UvMesh } from '../../mesh';
import {
  blended,
  jointMatrices,
  pieceStarts,
  poseVertices,
  REST,
  standIn,
  type MotionPiece,
} from '../../motion';
import type { OpenGltf } from './open';
import type { AccessorData, Numbers } from './json-writer';

/** What differs less than this from what the file has, in parts of the model's diagonal, is as the file has it. */
const SAME = 1e-6;
/** Normals, which are of unit length; file and model round them apart. */
const SAME_NORMAL = 1e-4;

/** The vertices that a part of a piece has, as a file is to hold them: each is one of the file's, or mixed of three. */
export interface PieceVertices {
  readonly mesh: UvMesh;
  /** Numbers in the mesh. */
  readonly list: readonly number[];
  /** Number of the piece. */
  readonly slot: number;
}

/** Gives the vertices of a model back as its file has them: what moves them is told by the file, so they are told where they are before it. */
export class VertexData {
  private readonly open: OpenGltf;
  private readonly back: Matrix4;
  private readonly starts: readonly number[];
  private readonly rest: { readonly positions: Float32Array; readonly normals: Float32Array };
  private readonly stand: ReturnType<typeof standIn>;
  private readonly near: number;

  /** @param placing what was done to the model when it came in @param diagonal of the model as it is now */
  constructor(open: OpenGltf, placing: Placing | null, diagonal: number) {
    this.open = open;
    this.back = (placing && inverse4(matrixOf(placing))) ?? IDENTITY4;
    this.starts = pieceStarts(open.motion);
    this.rest = poseVertices(open.motion, REST);
    this.stand = standIn(open.motion, REST);
    this.near = diagonal * SAME;
  }

  /** The piece that a vertex belongs to; -1 where it is from no file. */
  slotOf({ origins }: UvMesh, v: number): number {
    const from = origins?.from[v * 3] ?? Infinity;
    if (from >= this.starts.at(-1)!) return -1;
    let [low, high] = [0, this.starts.length - 1];
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (this.starts[middle]! <= from) low = middle;
      else high = middle;
    }
    return low;
  }

  /** Whether the file turns the triangles of a piece inside out. */
  isMirrored(slot: number): boolean {
    const piece = this.open.motion.pieces[slot]!;
    return determinant4(blended(piece, jointMatrices(this.open.motion, piece, this.stand), 0)) < 0;
  }

  /** Vertices of the file, of which a vertex is mixed: numbers within its piece, and their shares. */
  mixOf({ origins }: UvMesh, slot: number, v: number): readonly (readonly [vertex: number, share: number])[] {
    const out: (readonly [number, number])[] = [];
    for (let k = v * 3; k < v * 3 + 3; k++)
      if (origins!.weights[k]! > 0) out.push([origins!.from[k]! - this.starts[slot]!, origins!.weights[k]!]);
    return out;
  }

  /** Whether a vertex stands where the file has it, and faces as it does there. */
  isAsRead({ mesh, slot }: Omit<PieceVertices, 'list'>, v: number): boolean {
    return this.stays({ mesh, slot }, v) && this.faces({ mesh, slot }, v);
  }

  private stays({ mesh, slot }: Omit<PieceVertices, 'list'>, v: number): boolean {
    const at = this.inFile(mesh.positions, v, 1);
    const was = this.mixed(this.rest.positions, mesh, slot, v);
    return at.every((x, k) => Math.abs(x - was[k]!) <= this.near);
  }

  private faces({ mesh, slot }: Omit<PieceVertices, 'list'>, v: number): boolean {
    if (!this.open.motion.pieces[slot]!.normals) return true;
    const now = unit(this.inFile(mesh.normals, v, 0));
    const was = unit(this.mixed(this.rest.normals, mesh, slot, v));
    return now.every((x, k) => Math.abs(x - was[k]!) <= SAME_NORMAL);
  }

  private mixed(of: Float32Array, mesh: UvMesh, slot: number, v: number): Vec3 {
    const out: [number, number, number] = [0, 0, 0];
    for (const [vertex, share] of this.mixOf(mesh, slot, v)) {
      const first = (this.starts[slot]! + vertex) * 3;
      for (let k = 0; k < 3; k++) out[k]! += of[first + k]! * share;
    }
    return out;
  }

  /** A place (w 1) or direction (w 0) of the model, in the file's space. */
  private inFile(of: Float32Array, v: number, w: 0 | 1): Vec3 {
    return moved(this.back, [of[v * 3]!, of[v * 3 + 1]!, of[v * 3 + 2]!], w);
  }

  /** Where vertices are before joints, morph targets and nodes move them. */
  positions(vertices: PieceVertices): AccessorData {
    const { mesh, list, slot } = vertices;
    const { primitive } = this.open.slots[slot]!;
    const piece = this.open.motion.pieces[slot]!;
    const cutSkin = (v: number): boolean => piece.joints !== null && this.mixOf(mesh, slot, v).length > 1;
    if (list.every((v) => this.stays(vertices, v) && !cutSkin(v)))
      return this.raw(primitive.getAttribute('POSITION')!, vertices);
    const matrices = jointMatrices(this.open.motion, piece, this.stand);
    const array = new Float32Array(list.length * 3);
    list.forEach((v, i) => {
      const mix = this.mixOf(mesh, slot, v);
      if (this.stays(vertices, v) && !cutSkin(v)) {
        for (const [vertex, share] of mix)
          for (let k = 0; k < 3; k++) array[i * 3 + k]! += piece.positions[vertex * 3 + k]! * share;
        return;
      }
      const back = inverse4(this.matrixAt(piece, matrices, mix)) ?? IDENTITY4;
      const at = moved(back, this.inFile(mesh.positions, v, 1), 1);
      // Morph targets that are laid on at rest are laid on after it.
      const weights = this.stand.weights[piece.node]!;
      piece.targets.forEach(({ positions }, t) => {
        for (const [vertex, share] of positions && weights[t] ? mix : [])
          for (let k = 0; k < 3; k++) at[k]! -= positions![vertex * 3 + k]! * share * weights[t]!;
      });
      array.set(at, i * 3);
    });
    return { array, type: 'VEC3' };
  }

  /** The same of their normals; null where the file has none and wants none. */
  normals(vertices: PieceVertices): AccessorData | null {
    const { mesh, list, slot } = vertices;
    const given = this.open.slots[slot]!.primitive.getAttribute('NORMAL');
    if (!given) return null;
    const piece = this.open.motion.pieces[slot]!;
    const isPlain = list.every((v) => this.faces(vertices, v) && this.mixOf(mesh, slot, v).length === 1);
    if (isPlain) return this.raw(given, vertices);
    const matrices = jointMatrices(this.open.motion, piece, this.stand);
    const array = new Float32Array(list.length * 3);
    list.forEach((v, i) => {
      const matrix = this.matrixAt(piece, matrices, this.mixOf(mesh, slot, v));
      const [x, y, z] = this.inFile(mesh.normals, v, 0);
      const row = (k: number): number => matrix[k]! * x + matrix[k + 1]! * y + matrix[k + 2]! * z;
      // Normals go by the inverse transpose, so they come back by the transpose.
      array.set(unit([row(0), row(4), row(8)]), i * 3);
    });
    return { array, type: 'VEC3' };
  }

  private matrixAt(
    piece: MotionPiece,
    matrices: readonly Matrix4[],
    mix: readonly (readonly [number, number])[],
  ): Matrix4 {
    if (mix.length === 1) return blended(piece, matrices, mix[0]![0]);
    const sum = new Array<number>(16).fill(0);
    for (const [vertex, share] of mix)
      blended(piece, matrices, vertex).forEach((x, k) => (sum[k]! += x * share));
    return sum;
  }

  /** Numbers of an attribute as the file has them, of the same type; between vertices the mean of them. */
  raw(accessor: Accessor, { mesh, list, slot }: PieceVertices): AccessorData {
    const from = accessor.getArray() as Numbers;
    const size = accessor.getElementSize();
    const array = new (from.constructor as new (length: number) => Numbers)(list.length * size);
    const isWhole = !(from instanceof Float32Array);
    list.forEach((v, i) => {
      for (let k = 0; k < size; k++) {
        let sum = 0;
        for (const [vertex, share] of this.mixOf(mesh, slot, v))
          sum += (from[vertex * size + k] ?? 0) * share;
        array[i * size + k] = isWhole ? Math.round(sum) : sum;
      }
    });
    return { array, type: accessor.getType(), normalized: accessor.getNormalized() };
  }

  /** Joints and weights, as many sets as the file has, by the names of their attributes. */
  influences(vertices: PieceVertices): [semantic: string, AccessorData][] {
    const { mesh, list, slot } = vertices;
    const { primitive } = this.open.slots[slot]!;
    const piece = this.open.motion.pieces[slot]!;
    const sets = primitive.listSemantics().filter((semantic) => /^(JOINTS|WEIGHTS)_\d+$/.test(semantic));
    const out = sets.map((semantic): [string, AccessorData] => [
      semantic,
      this.raw(primitive.getAttribute(semantic)!, vertices),
    ]);
    if (!piece.joints || !piece.weights) return out;
    const { joints, weights, influences } = piece;
    list.forEach((v, i) => {
      const mix = this.mixOf(mesh, slot, v);
      if (mix.length === 1) return;
      const held = new Map<number, number>();
      for (const [vertex, share] of mix) {
        for (let k = vertex * influences; k < (vertex + 1) * influences; k++)
          if (weights[k]! > 0) held.set(joints[k]!, (held.get(joints[k]!) ?? 0) + weights[k]! * share);
      }
      const most = [...held].sort((a, b) => b[1] - a[1] || a[0] - b[0]).slice(0, influences);
      const whole = most.reduce((sum, [, weight]) => sum + weight, 0) || 1;
      for (const [semantic, { array, normalized }] of out) {
        const [what, set] = semantic.split('_') as [string, string];
        const full = normalized ? 2 ** (array.BYTES_PER_ELEMENT * 8) - 1 : 1;
        const shares = most
          .map(([, weight]) => (weight / whole) * full)
          .map(normalized ? Math.round : Number);
        // Rounded shares have to sum to the whole as well; the largest takes what is left.
        if (normalized) shares[0]! += full - shares.reduce((sum, share) => sum + share, 0);
        for (let k = 0; k < 4; k++) {
          const n = Number(set) * 4 + k;
          array[i * 4 + k] = (what === 'JOINTS' ? most[n]?.[0] : shares[n]) ?? 0;
        }
      }
    });
    return out;
  }
}

/** A placing as a matrix. */
export const matrixOf = (p: Placing): number[] =>
  [0, 1, 2, 3].flatMap((c) => [p[c]!, p[4 + c]!, p[8 + c]!, c === 3 ? 1 : 0]);

function moved(m: Matrix4, [x, y, z]: Vec3, w: 0 | 1): [number, number, number] {
  const row = (r: number): number => m[r]! * x + m[4 + r]! * y + m[8 + r]! * z + m[12 + r]! * w;
  return [row(0), row(1), row(2)];
}

function unit(v: Vec3): [number, number, number] {
  const length = Math.hypot(...v);
  return length > 0 ? [v[0] / length, v[1] / length, v[2] / length] : [0, 0, 0];
}
