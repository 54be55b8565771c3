import { strFromU8, strToU8, zipSync } from 'fflate';
import { z } from 'zod';
import { base64ToBytes, bytesToBase64 } from '../base64';
import { CoreError } from '../errors';
import { readZip } from '../formats';
import { checkBackdropOrder, checkMesh, requireUvs, type Mesh, type UvMesh } from '../mesh';

const numbers = z.string().regex(/^[A-Za-z0-9+/]*=*$/, 'base64 is expected');

const modelSchema = z.strictObject({
  /** Little-endian arrays in base64: 32-bit floats, then 32-bit and 16-bit whole numbers. */
  positions: numbers,
  normals: numbers,
  /** Of a denser model there need be none. */
  uvs: numbers.optional(),
  indices: numbers,
  faceParts: numbers,
  parts: z.array(z.string()),
  polygons: numbers.optional(),
  partSheets: z.array(z.int().nonnegative()).optional(),
  backdrops: z.int().positive().optional(),
  /** Three vertices of the file that the model was read from a vertex, and their weights. */
  originFrom: numbers.optional(),
  originWeights: numbers.optional(),
});

/** A model as it is kept in project files: numbers in base64, little-endian. */
export function modelToJson(mesh: Mesh): z.infer<typeof modelSchema> {
  const text = (a: Float32Array | Uint32Array | Uint16Array): string =>
    bytesToBase64(new Uint8Array(a.buffer, a.byteOffset, a.byteLength));
  return {
    positions: text(mesh.positions),
    normals: text(mesh.normals),
    ...(mesh.uvs ? { uvs: text(mesh.uvs) } : {}),
    indices: text(mesh.indices),
    faceParts: text(mesh.faceParts),
    parts: [...mesh.parts],
    ...(mesh.polygons ? { polygons: text(mesh.polygons) } : {}),
    ...(mesh.partSheets ? { partSheets: [...mesh.partSheets] } : {}),
    ...(mesh.backdrops ? { backdrops: mesh.backdrops } : {}),
    ...(mesh.origins
      ? { originFrom: text(mesh.origins.from), originWeights: text(mesh.origins.weights) }
      : {}),
  };
}

/** @throws CoreError `storage-damaged`, or a `model-` code */
export const modelFromJson = (data: unknown): UvMesh => requireUvs(meshFromJson(data));

/** The same of one that need not have UVs. @throws CoreError `storage-damaged`, or a `model-` code */
function meshFromJson(data: unknown): Mesh {
  const parsed = modelSchema.safeParse(data);
  if (!parsed.success) throw damaged(parsed.error);
  const { positions, normals, uvs, indices, faceParts, parts, polygons, partSheets, backdrops } = parsed.data;
  const { originFrom, originWeights } = parsed.data;
  const floats = (text: string): Float32Array => new Float32Array(bufferOf(text, 4));
  const whole = (text: string): Uint32Array => new Uint32Array(bufferOf(text, 4));
  const mesh = checkMesh({
    positions: floats(positions),
    normals: floats(normals),
    uvs: uvs === undefined ? null : floats(uvs),
    indices: whole(indices),
    faceParts: new Uint16Array(bufferOf(faceParts, 2)),
    parts,
    ...(polygons ? { polygons: whole(polygons) } : {}),
    ...(partSheets ? { partSheets } : {}),
    ...(backdrops ? { backdrops } : {}),
    ...(originFrom !== undefined && originWeights !== undefined
      ? { origins: { from: whole(originFrom), weights: floats(originWeights) } }
      : {}),
  });
  checkBackdropOrder(mesh);
  return mesh;
}

/** A model as a file of its own, packed: what a denser model is kept as. */
export function packModel({ origins: _file, ...mesh }: Mesh): Uint8Array {
  return zipSync({ 'model.json': strToU8(JSON.stringify(modelToJson(mesh))) }, { level: 6 });
}

/** Of a packed model when it is unpacked, bytes. */
const LARGEST = 400e6;

/** @throws CoreError `storage-damaged`, or a `model-` code */
export function unpackModel(bytes: Uint8Array): Mesh {
  const file = readZip(bytes, { entry: (name) => (name === 'model.json' ? LARGEST : 0), total: LARGEST }).get(
    'model.json',
  );
  if (!file) throw damaged(new Error('no model.json'));
  return meshFromJson(JSON.parse(strFromU8(file)) as unknown);
}

function bufferOf(text: string, bytesEach: number): ArrayBuffer {
  const bytes = base64ToBytes(text);
  if (bytes.byteLength % bytesEach)
    throw damaged(new Error(`${bytes.byteLength} bytes of ${bytesEach} each`));
  return bytes.buffer;
}

const damaged = (cause: unknown): CoreError =>
  new CoreError('storage-damaged', 'The model in the project file is damaged. Copy the file again.', {
    cause,
  });
