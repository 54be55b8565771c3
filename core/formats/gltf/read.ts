import type { Primitive } from '@gltf-transform/core';
import type { Transform } from '@gltf-transform/extensions';
import { linearToSrgb, rgbToHex } from '../../color';
import { originsAsRead } from '../../mesh';
import { isMirrored, pieceStarts, poseVertices, REST, standIn, type Motion } from '../../motion';
import {
  importPieces,
  uniqueNames,
  type ImportedModel,
  type MotionFigures,
  type Piece,
} from '../model-builder';
import { pictureKind } from '../picture-kind';
import { asOneFile, type Companions } from './container';
import { openGltf, orUnreadable, type OpenGltf } from './open';
import type { Slot } from './slot';

/**
 * Reads a GLB or glTF 2.0: as it stands at rest, a part a node (a part a primitive where a mesh has several), sparse, quantised and
 * compressed accessors as numbers. Each vertex knows where it comes from in the file, which is given back as one GLB.
 *
 * @throws CoreError `file-truncated`, `file-unsupported`, `model-empty`, `model-too-large`, `model-bad-number`
 */
export async function readGltf(bytes: Uint8Array, companions: Companions): Promise<ImportedModel> {
  const open = await openGltf(bytes, companions);
  const { missing } = open.beside;
  const { mesh, paint } = importPieces(await orUnreadable(bytes, () => piecesOf(open)));
  return {
    mesh: { ...mesh, origins: originsAsRead(mesh.positions.length / 3) },
    paint,
    motion: figuresOf(open),
    file: asOneFile(bytes, open.parts, open.beside),
    ...(missing.length > 0 && { missing }),
  };
}

/** What a GLB that was kept says of how it moves. @throws CoreError as `readGltf` */
export const readMotion = async (file: Uint8Array): Promise<Motion> =>
  (await openGltf(file, new Map())).motion;

function figuresOf({ motion, document }: OpenGltf): MotionFigures {
  const targets = document
    .getRoot()
    .listMeshes()
    .map((mesh) => mesh.listPrimitives().map((p) => p.listTargets().length));
  return {
    skins: motion.skins.length,
    joints: new Set(motion.skins.flatMap((skin) => skin.joints)).size,
    clips: motion.clips.length,
    morphs: targets.reduce((sum, counts) => sum + Math.max(0, ...counts), 0),
  };
}

/** What is drawn, as it stands at rest; vertices as the file counts them. */
export function piecesOf({ slots, motion }: OpenGltf): Piece[] {
  const unique = uniqueNames();
  const stand = standIn(motion, REST);
  const rest = poseVertices(motion, REST);
  const starts = pieceStarts(motion);
  return slots.map((slot, s) => {
    const [from, to] = [starts[s]! * 3, starts[s + 1]! * 3];
    const { primitive } = slot;
    const indices = slot.corners.slice();
    if (isMirrored(motion, motion.pieces[s]!, stand)) turnOver(indices);
    return {
      name: unique(nameOf(slot)),
      positions: rest.positions.slice(from, to),
      normals: motion.pieces[s]!.normals && rest.normals.slice(from, to),
      uvs: uvsOf(primitive),
      indices,
      ...paintOf(primitive, (to - from) / 3),
    };
  });
}

function nameOf({ node, primitive }: Slot): string {
  const mesh = node.getMesh();
  const base = String(node.getName() || mesh?.getName());
  const material = String(primitive.getMaterial()?.getName() ?? '');
  const several = (mesh?.listPrimitives().length ?? 0) > 1;
  return several && material ? `${base} ${material}`.trim() : base || material;
}

/** Triangles the other way round. */
export function turnOver(indices: Uint32Array): void {
  for (let i = 0; i < indices.length; i += 3) {
    const b = indices[i + 1]!;
    indices[i + 1] = indices[i + 2]!;
    indices[i + 2] = b;
  }
}

/** Where the base colour is read: which set of UVs, and how they are moved. */
interface Reading {
  readonly set: number;
  readonly moved: Transform | null;
}

function readingOf(primitive: Primitive): Reading {
  const material = primitive.getMaterial();
  const info = material?.getBaseColorTexture() ? material.getBaseColorTextureInfo() : null;
  const moved = info?.getExtension<Transform>('KHR_texture_transform') ?? null;
  const set = moved?.getTexCoord() ?? info?.getTexCoord() ?? 0;
  return { set: primitive.getAttribute(`TEXCOORD_${set}`) ? set : 0, moved };
}

/** Whether the layout that is read is the first set of UVs as it stands in the file. */
export function isFirstSet(primitive: Primitive): boolean {
  const { set, moved } = readingOf(primitive);
  return set === 0 && moved === null;
}

/**
 * The layout that the base colour is seen in: the set of UVs that its texture names, moved as KHR_texture_transform says. Origin at the lower
 * left: glTF's v runs down from the upper left.
 */
function uvsOf(primitive: Primitive): Float32Array | null {
  const { set, moved } = readingOf(primitive);
  const uv = primitive.getAttribute(`TEXCOORD_${set}`);
  if (!uv) return null;
  const [x, y] = moved?.getOffset() ?? [0, 0];
  const [across, down] = moved?.getScale() ?? [1, 1];
  const [sin, cos] = [Math.sin(moved?.getRotation() ?? 0), Math.cos(moved?.getRotation() ?? 0)];
  const uvs = new Float32Array(uv.getCount() * 2);
  const e: number[] = [];
  for (let v = 0; v < uvs.length; v += 2) {
    uv.getElement(v / 2, e);
    const [a, b] = [e[0]! * across, e[1]! * down];
    // Turned counter-clockwise in a plane whose v runs down.
    uvs[v] = x + cos * a + sin * b;
    uvs[v + 1] = 1 - (y - sin * a + cos * b);
  }
  return uvs;
}

/** Base colour of the material, and colours of the vertices (linear in glTF 2.0, section 3.7.2.1). */
function paintOf(
  primitive: Primitive,
  count: number,
): Pick<Piece, 'picture' | 'factor' | 'color' | 'vertexColors'> {
  const material = primitive.getMaterial();
  const image = material?.getBaseColorTexture()?.getImage();
  const encoded = (x: number): number => linearToSrgb(Math.min(1, Math.max(0, x)));
  const byte = (x = 0): number => Math.round(encoded(x) * 255);
  const [r, g, b] = material?.getBaseColorFactor() ?? [1, 1, 1];
  const isWhite = r === 1 && g === 1 && b === 1;
  const colors = primitive.getAttribute('COLOR_0');
  let vertexColors: Float32Array | undefined;
  if (colors) {
    vertexColors = new Float32Array(count * 4).fill(1);
    const e: number[] = [];
    for (let v = 0; v < count; v++) {
      colors.getElement(v, e);
      for (let k = 0; k < 3; k++) vertexColors[v * 4 + k] = encoded(e[k]!);
      if (e.length > 3) vertexColors[v * 4 + 3] = e[3]!;
    }
  }
  const picture = image && pictureKind(image) ? image : undefined;
  return {
    picture,
    // Base colour is factor times texture, both linear (glTF 2.0, section 3.9.2).
    factor: picture && !isWhite ? [r, g, b] : undefined,
    color: material && !isWhite ? rgbToHex({ r: byte(r), g: byte(g), b: byte(b) }) : undefined,
    vertexColors,
  };
}
