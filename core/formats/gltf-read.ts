import { isGlb, pictureKind } from './picture-kind';
import {
  GLB_BUFFER,
  Logger,
  Primitive,
  WebIO,
  type Node,
  type Document,
  type GLTF,
  type JSONDocument,
} from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { MeshoptDecoder } from 'meshoptimizer';
import { CoreError } from '../errors';
import { linearToSrgb, rgbToHex } from '../color';
import { base64ToBytes } from '../base64';
import { importPieces, uniqueNames, type ImportedModel, type Piece, type Rig } from './model-builder';

/** Files that were chosen together with a .gltf: its .bin and pictures, by name. */
export type Companions = ReadonlyMap<string, Uint8Array>;

/**
 * Reads a GLB or glTF 2.0: node transforms applied, skins at rest, a part a node (a part a primitive where a mesh has several), sparse,
 * quantised and meshopt-compressed accessors as numbers.
 *
 * @throws CoreError `file-truncated`, `file-unsupported`, `model-empty`, `model-too-large`, `model-bad-number`
 */
export async function readGltf(bytes: Uint8Array, companions: Companions): Promise<ImportedModel> {
  await MeshoptDecoder.ready;
  // What is missing is told by us, in a sentence.
  const io = new WebIO()
    .setLogger(new Logger(Logger.Verbosity.SILENT))
    .registerExtensions(ALL_EXTENSIONS)
    .registerDependencies({ 'meshopt.decoder': MeshoptDecoder });
  let pieces: Piece[];
  let rig: Rig;
  let missing: readonly string[];
  try {
    const file = unpacked(bytes);
    const beside = resourcesOf(file.json as GltfFiles, companions);
    missing = beside.missing;
    const document = await io.readJSON({
      json: file.json,
      resources: { ...file.resources, ...beside.resources },
    });
    // What the file says of its nodes and materials may be wrong as well.
    pieces = piecesOf(document);
    rig = rigOf(document);
  } catch (cause) {
    if (cause instanceof CoreError) throw cause;
    throw unreadable(bytes, cause);
  }
  return { ...importPieces(pieces), rig, ...(missing.length > 0 && { missing }) };
}

function rigOf(document: Document): Rig {
  const root = document.getRoot();
  const skins = root.listSkins();
  const targets = root.listMeshes().map((mesh) => mesh.listPrimitives().map((p) => p.listTargets().length));
  return {
    skins: skins.length,
    joints: new Set(skins.flatMap((skin) => skin.listJoints())).size,
    clips: root.listAnimations().length,
    morphs: targets.reduce((sum, counts) => sum + Math.max(0, ...counts), 0),
  };
}

/** Why a glTF can't be read, as far as its first words tell. */
function unreadable(bytes: Uint8Array, cause: unknown): CoreError {
  // The JSON stands first in a GLB too; a few kilobytes of it name the version and the extensions.
  const head = new TextDecoder().decode(bytes.subarray(0, 200_000));
  if (/"version"\s*:\s*"1\./.test(head)) {
    return new CoreError(
      'file-unsupported',
      'This is glTF 1.0; version 2.0 is needed. Export the model again as glTF 2.0 or GLB.',
      { cause },
    );
  }
  if (head.includes('KHR_draco_mesh_compression')) {
    return new CoreError(
      'file-unsupported',
      'The glTF is compressed with Draco, which can’t be read. Export it again without Draco.',
      { cause },
    );
  }
  const missing = /extension, "([^"]+)"/.exec(cause instanceof Error ? cause.message : '')?.[1];
  if (missing) {
    return new CoreError(
      'file-unsupported',
      `The glTF needs the extension ${missing}, which can’t be read. Export it again without it.`,
      { cause },
    );
  }
  return new CoreError(
    'file-truncated',
    'The glTF is damaged: its parts don’t fit together. Export the model again as GLB.',
    { cause },
  );
}

/** Types of the chunks of a GLB (glTF 2.0, section 4.4.3). */
const JSON_CHUNK = 0x4e4f534a;
const BIN_CHUNK = 0x004e4942;

/** What a glTF is before its accessors are read: its JSON, and in a GLB the chunk that follows it. */
function unpacked(bytes: Uint8Array): JSONDocument {
  if (!isGlb(bytes))
    return { json: JSON.parse(new TextDecoder().decode(bytes)) as GLTF.IGLTF, resources: {} };
  // glTF 2.0, section 4.4.2: 12 bytes of header, the total length as the third word.
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const stated = bytes.length >= 12 ? view.getUint32(8, true) : Infinity;
  if (stated > bytes.length) {
    throw new CoreError(
      'file-truncated',
      `The GLB is cut off: ${bytes.length} bytes are there${Number.isFinite(stated) ? ` of ${stated}` : ''}. Copy or export it again.`,
    );
  }
  const jsonLength = view.getUint32(12, true);
  const rest = 20 + jsonLength;
  if (view.getUint32(4, true) !== 2 || view.getUint32(16, true) !== JSON_CHUNK)
    throw new Error('No GLB of version 2.');
  const json = JSON.parse(new TextDecoder().decode(bytes.subarray(20, rest))) as GLTF.IGLTF;
  if (stated < rest + 8 || view.getUint32(rest + 4, true) !== BIN_CHUNK) return { json, resources: {} };
  const bin = bytes.subarray(rest + 8, rest + 8 + view.getUint32(rest, true));
  return { json, resources: { [GLB_BUFFER]: bin as Uint8Array<ArrayBuffer> } };
}

/** What of a glTF's JSON names files. */
interface GltfFiles {
  readonly buffers?: readonly { readonly uri?: string }[];
  readonly images?: readonly { readonly uri?: string }[];
}

/** Files that a glTF names. @returns them, and the names of pictures that weren't handed over */
function resourcesOf(
  json: GltfFiles,
  companions: Companions,
): { readonly resources: Record<string, Uint8Array<ArrayBuffer>>; readonly missing: readonly string[] } {
  const missing: string[] = [];
  const resources: Record<string, Uint8Array<ArrayBuffer>> = {};
  for (const { uri } of json.buffers ?? []) {
    if (!uri) continue;
    const data = uri.startsWith('data:') ? dataUri(uri) : companions.get(fileName(uri));
    if (!data) {
      throw new CoreError(
        'file-truncated',
        `The glTF keeps its geometry in “${uri}”. Choose both files together, or export a GLB.`,
      );
    }
    resources[uri] = data as Uint8Array<ArrayBuffer>;
  }
  // Pictures aren't needed to paint; a picture that isn't there must not stop the model.
  for (const { uri } of json.images ?? []) {
    if (!uri || uri.startsWith('data:')) continue;
    const picture = companions.get(fileName(uri));
    if (!picture) missing.push(fileName(uri));
    resources[uri] = (picture ?? new Uint8Array(1)) as Uint8Array<ArrayBuffer>;
  }
  return { resources, missing };
}

function fileName(uri: string): string {
  const last = uri.split('/').at(-1) ?? uri;
  try {
    return decodeURIComponent(last);
  } catch {
    // Not encoded after all: a name with a percent sign in it.
    return last;
  }
}

const dataUri = (uri: string): Uint8Array => base64ToBytes(uri.slice(uri.indexOf(',') + 1));

const IDENTITY: readonly number[] = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

/** Column-major, as glTF writes matrices: first `b`, then `a`. */
const multiply = (a: readonly number[], b: readonly number[]): number[] =>
  Array.from({ length: 16 }, (_, i) => {
    let sum = 0;
    for (let k = 0; k < 4; k++) sum += a[k * 4 + (i % 4)]! * b[Math.floor(i / 4) * 4 + k]!;
    return sum;
  });

function piecesOf(document: Document): Piece[] {
  const pieces: Piece[] = [];
  const unique = uniqueNames();
  const scene = document.getRoot().getDefaultScene() ?? document.getRoot().listScenes()[0];
  const roots = scene
    ? scene.listChildren()
    : document
        .getRoot()
        .listNodes()
        .filter((n) => !n.getParentNode());
  // By a list of what is still to be done: nodes may be nested as deep as a file likes.
  const waiting = roots.map((node) => ({ node, above: IDENTITY })).reverse();
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    const { node } = next;
    const matrix = multiply(next.above, node.getMatrix());
    const mesh = node.getMesh();
    if (mesh) {
      const base = String(node.getName() || mesh.getName());
      const primitives = mesh.listPrimitives().filter((p) => cornersOf(p).length > 0);
      for (const primitive of primitives) {
        const material = String(primitive.getMaterial()?.getName() ?? '');
        const name = primitives.length > 1 && material ? `${base} ${material}`.trim() : base || material;
        const piece = pieceOf(primitive, skinned(primitive, node) ?? (() => matrix), unique(name));
        if (piece) pieces.push(piece);
      }
    }
    for (const child of node.listChildren().reverse()) waiting.push({ node: child, above: matrix });
  }
  return pieces;
}

/** Three vertices a triangle, whatever the primitive's mode; empty for points and lines. */
function cornersOf(primitive: Primitive): number[] {
  const count = primitive.getIndices()?.getCount() ?? primitive.getAttribute('POSITION')?.getCount() ?? 0;
  const list = primitive.getIndices()?.getArray();
  const at = (i: number): number => (list ? list[i]! : i);
  const out: number[] = [];
  const mode = primitive.getMode();
  if (mode === Primitive.Mode.TRIANGLES) {
    for (let i = 0; i + 2 < count; i += 3) out.push(at(i), at(i + 1), at(i + 2));
  } else if (mode === Primitive.Mode.TRIANGLE_STRIP) {
    for (let i = 0; i + 2 < count; i++) {
      out.push(at(i), at(i + 1 + (i % 2)), at(i + 2 - (i % 2)));
    }
  } else if (mode === Primitive.Mode.TRIANGLE_FAN) {
    for (let i = 1; i + 1 < count; i++) out.push(at(i), at(i + 1), at(0));
  }
  return out;
}

/** Takes a vertex from the file to the model. */
type MatrixOf = (vertex: number) => readonly number[];

/**
 * How a skin moves the vertices of a primitive as the file stands, at rest: joints by their inverse bind matrices, weights as shares of what they
 * sum to. The transform of the node that holds the mesh doesn't count (glTF 2.0, section 3.7.3.3).
 *
 * @returns null where there is no skin, or nothing tells which joints move what
 */
function skinned(primitive: Primitive, node: Node): MatrixOf | null {
  const skin = node.getSkin();
  if (!skin) return null;
  const sets = [0, 1].flatMap((n) => {
    const joints = primitive.getAttribute(`JOINTS_${n}`);
    const weights = primitive.getAttribute(`WEIGHTS_${n}`);
    return joints && weights ? [{ joints, weights }] : [];
  });
  if (sets.length === 0) return null;
  const binds = skin.getInverseBindMatrices();
  const matrices = skin.listJoints().map((joint, j) => {
    const bind = binds && j < binds.getCount() ? binds.getElement(j, []) : IDENTITY;
    return multiply(joint.getWorldMatrix(), bind);
  });
  const [at, by]: [number[], number[]] = [[], []];
  return (v) => {
    const sum = new Array<number>(16).fill(0);
    let whole = 0;
    for (const { joints, weights } of sets) {
      joints.getElement(v, at);
      weights.getElement(v, by);
      by.forEach((weight, k) => {
        const matrix = matrices[at[k]!];
        if (!matrix || !(weight > 0)) return;
        whole += weight;
        for (let i = 0; i < 16; i++) sum[i]! += matrix[i]! * weight;
      });
    }
    return whole > 0 ? sum.map((x) => x / whole) : IDENTITY;
  };
}

function pieceOf(primitive: Primitive, matrixOf: MatrixOf, name: string): Piece | null {
  const position = primitive.getAttribute('POSITION');
  if (!position) return null;
  const count = position.getCount();
  const normal = primitive.getAttribute('NORMAL');
  const uv = primitive.getAttribute('TEXCOORD_0');
  let matrix = matrixOf(0);
  const m = (row: number, column: number): number => matrix[column * 4 + row]!;
  const positions = new Float32Array(count * 3);
  const normals = normal ? new Float32Array(count * 3) : null;
  const uvs = uv ? new Float32Array(count * 2) : null;
  let cofactor = cofactorsOf(m);
  const mirrored = determinant(m) < 0;
  const e: number[] = [];
  for (let v = 0; v < count; v++) {
    const own = matrixOf(v);
    if (own !== matrix) {
      matrix = own;
      cofactor = cofactorsOf(m);
    }
    position.getElement(v, e);
    for (let r = 0; r < 3; r++) {
      positions[v * 3 + r] = m(r, 0) * e[0]! + m(r, 1) * e[1]! + m(r, 2) * e[2]! + m(r, 3);
    }
    if (normal && normals) {
      normal.getElement(v, e);
      const sign = mirrored ? -1 : 1;
      for (let r = 0; r < 3; r++) {
        const c = cofactor[r]!;
        normals[v * 3 + r] = sign * (c[0]! * e[0]! + c[1]! * e[1]! + c[2]! * e[2]!);
      }
    }
    if (uv && uvs) {
      uv.getElement(v, e);
      uvs[v * 2] = e[0]!;
      uvs[v * 2 + 1] = 1 - e[1]!; // glTF's v runs down from the upper left
    }
  }
  const indices = Uint32Array.from(cornersOf(primitive));
  if (mirrored) {
    for (let i = 0; i < indices.length; i += 3) {
      const b = indices[i + 1]!;
      indices[i + 1] = indices[i + 2]!;
      indices[i + 2] = b;
    }
  }
  return { name, positions, normals, uvs, indices, ...paintOf(primitive, count) };
}

/** Base colour of the material, and colours of the vertices (linear in glTF 2.0, section 3.7.2.1). */
function paintOf(primitive: Primitive, count: number): Pick<Piece, 'picture' | 'color' | 'vertexColors'> {
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
  return {
    picture: image && pictureKind(image) ? image : undefined,
    color: material && !isWhite ? rgbToHex({ r: byte(r), g: byte(g), b: byte(b) }) : undefined,
    vertexColors,
  };
}

type Matrix = (row: number, column: number) => number;

/** The cofactor matrix of the upper 3×3: it carries normals through any scale, as the inverse transpose does. */
function cofactorsOf(m: Matrix): number[][] {
  return [0, 1, 2].map((r) =>
    [0, 1, 2].map((c) => {
      const r1 = (r + 1) % 3;
      const r2 = (r + 2) % 3;
      const c1 = (c + 1) % 3;
      const c2 = (c + 2) % 3;
      return m(r1, c1) * m(r2, c2) - m(r1, c2) * m(r2, c1);
    }),
  );
}

function determinant(m: Matrix): number {
  const c = cofactorsOf(m)[0]!;
  return m(0, 0) * c[0]! + m(0, 1) * c[1]! + m(0, 2) * c[2]!;
}
