import { determinant4, IDENTITY4, multiply4, transform4, type Matrix4 } from '../math';
import { pieceStarts, type Motion, type MotionNode, type MotionPiece } from './motion';
import { sampleChannel } from './sample-channel';

/** A moment of a clip, and morph weights that are set by hand. */
export interface Pose {
  /** Name of a clip; null: as the file stands. */
  readonly clip: string | null;
  /** Seconds in it. */
  readonly time: number;
  /** Weights over what the clip says: of a node, by its name, and its target's number. */
  readonly morphs: readonly (readonly [node: string, target: number, weight: number])[];
}

/** As the file stands. */
export const REST: Pose = { clip: null, time: 0, morphs: [] };

/** All vertices of a file in a pose, piece by piece. */
export interface PosedVertices {
  /** xyz a vertex, the file's space. */
  readonly positions: Float32Array;
  /** The same, of any length; 0 where the file has none. */
  readonly normals: Float32Array;
}

interface Stand {
  /** Of each node, in the scene. */
  readonly worlds: readonly Matrix4[];
  /** Morph weights of each node. */
  readonly weights: readonly (readonly number[])[];
}

/** How the nodes stand in a pose. A clip that isn't there leaves them as they are. */
export function standIn({ nodes, clips }: Motion, pose: Pose): Stand {
  const moved = new Map<number, { -readonly [K in keyof MotionNode]: MotionNode[K] }>();
  const node = (n: number) => {
    const known = moved.get(n);
    if (known) return known;
    const own = { ...nodes[n]! };
    moved.set(n, own);
    return own;
  };
  for (const channel of clips.find((c) => c.name === pose.clip)?.channels ?? []) {
    const value = sampleChannel(channel, pose.time);
    const own = node(channel.node);
    // What is moved by a clip has no matrix (glTF 2.0, section 3.5.3).
    if (channel.path !== 'weights') own.matrix = null;
    Object.assign(own, { [channel.path]: value });
  }
  for (const [name, target, weight] of pose.morphs) {
    nodes.forEach((n, i) => {
      if (n.name !== name || target >= n.weights.length) return;
      const own = node(i);
      own.weights = own.weights.map((w, k) => (k === target ? weight : w));
    });
  }
  const worlds = new Array<Matrix4 | undefined>(nodes.length);
  const own = (n: number): MotionNode => moved.get(n) ?? nodes[n]!;
  for (let first = 0; first < nodes.length; first++) {
    // From the highest that isn't known yet down: nodes may be nested as deep as a file likes.
    const way: number[] = [];
    for (let n = first; n >= 0 && !worlds[n]; n = nodes[n]!.parent) way.push(n);
    for (const n of way.reverse()) {
      const { parent, matrix, translation, rotation, scale } = own(n);
      const local = matrix ?? transform4(translation, rotation, scale);
      worlds[n] = parent >= 0 ? multiply4(worlds[parent]!, local) : local;
    }
  }
  return { worlds: worlds as Matrix4[], weights: nodes.map((_, n) => own(n).weights) };
}

/**
 * Where a pose takes every vertex of a file. Normals are as long as the transform makes them.
 */
export function poseVertices(motion: Motion, pose: Pose): PosedVertices {
  const stand = standIn(motion, pose);
  const starts = pieceStarts(motion);
  const count = starts.at(-1)!;
  const positions = new Float32Array(count * 3);
  const normals = new Float32Array(count * 3);
  motion.pieces.forEach((piece, p) => {
    const into = {
      positions: positions.subarray(starts[p]! * 3, starts[p + 1]! * 3),
      normals: normals.subarray(starts[p]! * 3, starts[p + 1]! * 3),
    };
    posePiece(morphed(piece, stand.weights[piece.node]!), jointMatrices(motion, piece, stand), into);
  });
  return { positions, normals };
}

/** What moves the vertices of a piece: the matrix of each joint, or that of its node alone. */
export function jointMatrices({ skins }: Motion, piece: MotionPiece, { worlds }: Stand): readonly Matrix4[] {
  const skin = skins[piece.skin];
  if (!skin || !piece.joints) return [worlds[piece.node]!];
  return skin.joints.map((joint, j) => multiply4(worlds[joint] ?? IDENTITY4, skin.binds[j] ?? IDENTITY4));
}

/** Whether a piece is turned inside out where it stands: its triangles run the other way round then. */
export function isMirrored(motion: Motion, piece: MotionPiece, stand: Stand): boolean {
  const matrices = jointMatrices(motion, piece, stand);
  return determinant4(blended(piece, matrices, 0)) < 0;
}

/** The matrix that moves one vertex of a piece. */
export function blended(
  { joints, weights, influences }: Pick<MotionPiece, 'joints' | 'weights' | 'influences'>,
  matrices: readonly Matrix4[],
  vertex: number,
): Matrix4 {
  if (!joints || !weights) return matrices[0] ?? IDENTITY4;
  const sum = new Array<number>(16).fill(0);
  let whole = 0;
  for (let k = vertex * influences; k < (vertex + 1) * influences; k++) {
    const matrix = matrices[joints[k]!];
    const weight = weights[k]!;
    if (!matrix || !(weight > 0)) continue;
    whole += weight;
    for (let i = 0; i < 16; i++) sum[i]! += matrix[i]! * weight;
  }
  return whole > 0 ? sum : IDENTITY4;
}

/** A piece with its morph targets laid on, before anything else moves it (glTF 2.0, section 3.7.2.2). */
function morphed(piece: MotionPiece, weights: readonly number[]): MotionPiece {
  if (!piece.targets.some((_, t) => weights[t])) return piece;
  const positions = piece.positions.slice();
  const normals = piece.normals && piece.normals.slice();
  piece.targets.forEach((target, t) => {
    const weight = weights[t] ?? 0;
    if (weight === 0) return;
    target.positions?.forEach((x, i) => (positions[i]! += x * weight));
    if (normals) target.normals?.forEach((x, i) => (normals[i]! += x * weight));
  });
  return { ...piece, positions, normals };
}

/** Where the three rows of a matrix stand in it, row by row. */
const ROWS = [0, 4, 8, 12, 1, 5, 9, 13, 2, 6, 10, 14] as const;

/** Moves the vertices of a piece. A kernel: three rows of four a joint, blended a vertex, the cofactors for its normal. */
function posePiece(
  { positions: p, normals: n, joints, weights, influences }: MotionPiece,
  matrices: readonly Matrix4[],
  into: PosedVertices,
): void {
  const flat = Float64Array.from(matrices.flatMap((matrix) => ROWS.map((i) => matrix[i]!)));
  const m = flat.slice(0, 12);
  const c = new Float64Array(9);
  cofactorsInto(m, c);
  for (let v = 0, o = 0; o < p.length; v++, o += 3) {
    if (joints && weights) {
      m.fill(0);
      let whole = 0;
      for (let k = v * influences; k < (v + 1) * influences; k++) {
        const weight = weights[k]!;
        if (weight === 0) continue;
        whole += weight;
        const first = joints[k]! * 12;
        for (let i = 0; i < 12; i++) m[i]! += flat[first + i]! * weight;
      }
      // What no joint holds stays as the file has it.
      if (whole === 0) m[0] = m[5] = m[10] = 1;
      if (n) cofactorsInto(m, c);
    }
    const x = p[o]!;
    const y = p[o + 1]!;
    const z = p[o + 2]!;
    into.positions[o] = m[0]! * x + m[1]! * y + m[2]! * z + m[3]!;
    into.positions[o + 1] = m[4]! * x + m[5]! * y + m[6]! * z + m[7]!;
    into.positions[o + 2] = m[8]! * x + m[9]! * y + m[10]! * z + m[11]!;
    if (!n) continue;
    const i = n[o]!;
    const j = n[o + 1]!;
    const k = n[o + 2]!;
    const sign = m[0]! * c[0]! + m[1]! * c[1]! + m[2]! * c[2]! < 0 ? -1 : 1;
    for (let r = 0; r < 3; r++)
      into.normals[o + r] = sign * (c[r * 3]! * i + c[r * 3 + 1]! * j + c[r * 3 + 2]! * k);
  }
}

/** The cofactors of three rows of four, as `cofactors4` has them. */
function cofactorsInto(m: Float64Array, out: Float64Array): void {
  out[0] = m[5]! * m[10]! - m[6]! * m[9]!;
  out[1] = m[6]! * m[8]! - m[4]! * m[10]!;
  out[2] = m[4]! * m[9]! - m[5]! * m[8]!;
  out[3] = m[9]! * m[2]! - m[10]! * m[1]!;
  out[4] = m[10]! * m[0]! - m[8]! * m[2]!;
  out[5] = m[8]! * m[1]! - m[9]! * m[0]!;
  out[6] = m[1]! * m[6]! - m[2]! * m[5]!;
  out[7] = m[2]! * m[4]! - m[0]! * m[6]!;
  out[8] = m[0]! * m[5]! - m[1]! * m[4]!;
}
