import type { Matrix4 } from '../math';

/** Where a node stands under its parent; `matrix` instead of the three where the file gives one. */
export interface MotionNode {
  readonly name: string;
  /** -1: none. */
  readonly parent: number;
  readonly translation: readonly [number, number, number];
  /** Unit quaternion, xyzw. */
  readonly rotation: readonly [number, number, number, number];
  readonly scale: readonly [number, number, number];
  readonly matrix: Matrix4 | null;
  /** Weights of the morph targets of its mesh at rest. */
  readonly weights: readonly number[];
  /** What those are called; empty where the file doesn't say. */
  readonly targets: readonly string[];
}

export interface MotionSkin {
  /** Nodes. */
  readonly joints: readonly number[];
  /** Inverse bind matrices, one a joint. */
  readonly binds: readonly Matrix4[];
}

export const CHANNEL_PATHS = ['translation', 'rotation', 'scale', 'weights'] as const;

/** How a node moves in a clip (glTF 2.0, section 3.11). */
export interface MotionChannel {
  readonly node: number;
  readonly path: (typeof CHANNEL_PATHS)[number];
  readonly how: 'LINEAR' | 'STEP' | 'CUBICSPLINE';
  /** Seconds, growing; at least one. */
  readonly times: Float32Array;
  /** As many numbers a time as the path has; three times as many with CUBICSPLINE: tangent in, value, tangent out. */
  readonly values: Float32Array;
}

export interface MotionClip {
  readonly name: string;
  readonly seconds: number;
  readonly channels: readonly MotionChannel[];
}

/** How far a morph target moves each vertex, xyz a vertex. */
export interface MotionTarget {
  readonly positions: Float32Array | null;
  readonly normals: Float32Array | null;
}

/** A primitive as one node draws it. The vertices of all pieces are counted on from one to the next. */
export interface MotionPiece {
  readonly node: number;
  /** -1: none; the node's own transform moves it then, and only then (glTF 2.0, section 3.7.3.3). */
  readonly skin: number;
  readonly positions: Float32Array;
  readonly normals: Float32Array | null;
  /** Joints of each vertex, `influences` of them, with weights that sum to 1; null where nothing says which. */
  readonly joints: Uint16Array | null;
  readonly weights: Float32Array | null;
  readonly influences: number;
  readonly targets: readonly MotionTarget[];
}

/** What a model's file says of how it stands and moves: numbers alone. */
export interface Motion {
  readonly nodes: readonly MotionNode[];
  readonly skins: readonly MotionSkin[];
  readonly clips: readonly MotionClip[];
  readonly pieces: readonly MotionPiece[];
}

/** The first vertex of each piece, and how many there are in all. */
export function pieceStarts({ pieces }: Motion): number[] {
  const out = [0];
  for (const { positions } of pieces) out.push(out.at(-1)! + positions.length / 3);
  return out;
}
