import { z } from 'zod';
import { base64ToBytes, bytesToBase64 } from '../base64';
import { CoreError } from '../errors';
import { checkMesh, requireUvs, type UvMesh } from '../mesh';

const numbers = z.string().regex(/^[A-Za-z0-9+/]*=*$/, 'base64 is expected');

const modelSchema = z.strictObject({
  /** Little-endian arrays in base64: 32-bit floats, then 32-bit and 16-bit whole numbers. */
  positions: numbers,
  normals: numbers,
  uvs: numbers,
  indices: numbers,
  faceParts: numbers,
  parts: z.array(z.string()),
  polygons: numbers.optional(),
  partSheets: z.array(z.int().nonnegative()).optional(),
});

/** A model as it is kept in project files: numbers in base64, little-endian. */
export function modelToJson(mesh: UvMesh): z.infer<typeof modelSchema> {
  const text = (a: Float32Array | Uint32Array | Uint16Array): string =>
    bytesToBase64(new Uint8Array(a.buffer, a.byteOffset, a.byteLength));
  return {
    positions: text(mesh.positions),
    normals: text(mesh.normals),
    uvs: text(mesh.uvs),
    indices: text(mesh.indices),
    faceParts: text(mesh.faceParts),
    parts: [...mesh.parts],
    ...(mesh.polygons ? { polygons: text(mesh.polygons) } : {}),
    ...(mesh.partSheets ? { partSheets: [...mesh.partSheets] } : {}),
  };
}

/** @throws CoreError `storage-damaged`, or a `model-` code */
export function modelFromJson(data: unknown): UvMesh {
  const parsed = modelSchema.safeParse(data);
  if (!parsed.success) throw damaged(parsed.error);
  const { positions, normals, uvs, indices, faceParts, parts, polygons, partSheets } = parsed.data;
  const floats = (text: string): Float32Array => new Float32Array(bufferOf(text, 4));
  const whole = (text: string): Uint32Array => new Uint32Array(bufferOf(text, 4));
  return requireUvs(
    checkMesh({
      positions: floats(positions),
      normals: floats(normals),
      uvs: floats(uvs),
      indices: whole(indices),
      faceParts: new Uint16Array(bufferOf(faceParts, 2)),
      parts,
      ...(polygons ? { polygons: whole(polygons) } : {}),
      ...(partSheets ? { partSheets } : {}),
    }),
  );
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
