import { GLB_BUFFER, type GLTF, type JSONDocument } from '@gltf-transform/core';
import { base64ToBytes } from '../../base64';
import { CoreError } from '../../errors';
import { isGlb, pictureKind } from '../picture-kind';

/** Files that were chosen together with a .gltf: its .bin and pictures, by name. */
export type Companions = ReadonlyMap<string, Uint8Array>;

/** A glTF as its JSON and the chunk that goes with it. */
export interface GltfParts {
  readonly json: GLTF.IGLTF;
  /** The GLB's own buffer, the first; null where it has none. */
  readonly bin: Uint8Array | null;
}

/** Types of the chunks of a GLB (glTF 2.0, section 4.4.3). */
const JSON_CHUNK = 0x4e4f534a;
const BIN_CHUNK = 0x004e4942;
const MAGIC = 0x46546c67;

/**
 * What a glTF is before its accessors are read: its JSON, and in a GLB the chunk that follows it.
 *
 * @throws CoreError `file-truncated`; Error where it isn't glTF 2.0
 */
export function unpackGltf(bytes: Uint8Array): GltfParts {
  if (!isGlb(bytes)) return { json: JSON.parse(new TextDecoder().decode(bytes)) as GLTF.IGLTF, bin: null };
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
  if (stated < rest + 8 || view.getUint32(rest + 4, true) !== BIN_CHUNK) return { json, bin: null };
  return { json, bin: bytes.subarray(rest + 8, rest + 8 + view.getUint32(rest, true)) };
}

/** A GLB of a JSON and its first buffer (glTF 2.0, section 4.4). */
export function packGlb({ json, bin }: GltfParts): Uint8Array {
  const text = new TextEncoder().encode(JSON.stringify(json));
  const even = (length: number): number => Math.ceil(length / 4) * 4;
  const length = 20 + even(text.length) + (bin ? 8 + even(bin.length) : 0);
  const out = new Uint8Array(length);
  const view = new DataView(out.buffer);
  const words = (at: number, ...list: number[]): void =>
    list.forEach((word, i) => view.setUint32(at + i * 4, word, true));
  words(0, MAGIC, 2, length, even(text.length), JSON_CHUNK);
  out.fill(0x20, 20, 20 + even(text.length));
  out.set(text, 20);
  if (bin) {
    words(20 + even(text.length), even(bin.length), BIN_CHUNK);
    out.set(bin, 28 + even(text.length));
  }
  return out;
}

/** Where a buffer view lies. */
interface Place {
  buffer?: number;
  byteOffset?: number;
}

/** Of plain JSON. */
export const copyOf = <T>(json: T): T => JSON.parse(JSON.stringify(json)) as T;

interface Beside {
  /** As gltf-transform wants them, by what the JSON calls them. */
  readonly resources: JSONDocument['resources'];
  /** Names of pictures that weren't handed over. */
  readonly missing: readonly string[];
}

/** Files that a glTF names. @throws CoreError `file-truncated` if one with geometry isn't there */
export function resourcesOf({ json, bin }: GltfParts, companions: Companions): Beside {
  const missing: string[] = [];
  const resources: JSONDocument['resources'] = {};
  if (bin) resources[GLB_BUFFER] = bin as Uint8Array<ArrayBuffer>;
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

/**
 * A glTF as one GLB with all that it names and that was handed over. Nothing else of it is changed.
 *
 * @param bytes the file as it came; a GLB that names no other file stays as it is
 */
export function asOneFile(bytes: Uint8Array, parts: GltfParts, { resources }: Beside): Uint8Array {
  const names = [...(parts.json.buffers ?? []), ...(parts.json.images ?? [])].some(({ uri }) => uri);
  if (isGlb(bytes) && !names) return bytes;
  const json = copyOf(parts.json);
  const bin = new BinWriter(parts.bin);
  const buffers = json.buffers ?? [];
  // Where each buffer begins now; one without bytes (meshopt's fallback) stays a buffer of its own.
  const begins = buffers.map(({ uri }, b) => {
    if (uri) return bin.add(resources[uri]!);
    return b === 0 && parts.bin ? 0 : null;
  });
  const apart = begins.flatMap((begin, b) => (begin === null ? [b] : []));
  const moved = (place: Place): void => {
    const begin = begins[place.buffer ?? 0] ?? null;
    place.byteOffset = (place.byteOffset ?? 0) + (begin ?? 0);
    place.buffer = begin === null ? 1 + apart.indexOf(place.buffer ?? 0) : 0;
  };
  for (const bufferView of json.bufferViews ?? []) {
    moved(bufferView);
    for (const packed of Object.values(bufferView.extensions ?? {}))
      if (typeof packed === 'object' && packed !== null && 'buffer' in packed) moved(packed as Place);
  }
  for (const image of json.images ?? []) {
    const picture = image.uri?.startsWith('data:') ? dataUri(image.uri) : resources[image.uri ?? ''];
    const kind = picture && pictureKind(picture);
    if (!kind) continue;
    json.bufferViews = [
      ...(json.bufferViews ?? []),
      { buffer: 0, byteOffset: bin.add(picture), byteLength: picture.length },
    ];
    delete image.uri;
    image.bufferView = json.bufferViews.length - 1;
    image.mimeType ??= `image/${kind.toLowerCase()}`;
  }
  const whole = bin.bytes();
  json.buffers = [{ byteLength: whole.length }, ...apart.map((b) => buffers[b]!)];
  return packGlb({ json, bin: whole });
}

/** A buffer that grows. */
export class BinWriter {
  private readonly chunks: Uint8Array[] = [];
  private length = 0;

  constructor(first: Uint8Array | null = null) {
    if (first) this.add(first);
  }

  /** @returns where it begins: at a multiple of 4, as accessors need it (glTF 2.0, section 3.6.2.4) */
  add(bytes: Uint8Array): number {
    const begin = this.length;
    this.chunks.push(bytes);
    this.length = Math.ceil((begin + bytes.length) / 4) * 4;
    return begin;
  }

  bytes(): Uint8Array {
    const out = new Uint8Array(this.length);
    let at = 0;
    for (const chunk of this.chunks) {
      out.set(chunk, at);
      at = Math.ceil((at + chunk.length) / 4) * 4;
    }
    return out;
  }
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
