import type { GLTF } from '@gltf-transform/core';
import { contentHash } from '../../math';
import { isKtx2, pictureKind } from '../picture-kind';
import { BinWriter, packGlb } from './container';
import { withoutUnused } from './references';

export type Numbers = Float32Array | Uint32Array | Uint16Array | Uint8Array | Int16Array | Int8Array;

/** glTF 2.0, section 5.1.3. */
const COMPONENTS = [
  [5120, Int8Array],
  [5121, Uint8Array],
  [5122, Int16Array],
  [5123, Uint16Array],
  [5125, Uint32Array],
  [5126, Float32Array],
] as const;

/** What a buffer view is for (glTF 2.0, section 5.11.5). */
const ARRAY_BUFFER = 34962;
const ELEMENT_ARRAY_BUFFER = 34963;

/** Numbers of an accessor. */
export interface AccessorData {
  readonly array: Numbers;
  readonly type: GLTF.AccessorType;
  readonly normalized?: boolean;
}

const SIZES: Readonly<Record<string, number>> = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4 };

/** A glTF to which something is added. */
export class JsonWriter {
  readonly json: GLTF.IGLTF;
  private readonly bin: BinWriter;
  private readonly known = new Map<string, number>();

  /** @param json it is changed */
  constructor(json: GLTF.IGLTF, bin: Uint8Array | null) {
    this.json = json;
    this.bin = new BinWriter(bin);
  }

  /** Adds an entry to a list. @returns its number */
  add<
    K extends
      'accessors' | 'bufferViews' | 'images' | 'materials' | 'meshes' | 'nodes' | 'samplers' | 'textures',
  >(list: K, entry: NonNullable<GLTF.IGLTF[K]>[number]): number {
    const entries: unknown[] = (this.json[list] ??= []);
    return entries.push(entry) - 1;
  }

  private view(bytes: Uint8Array, how: Partial<GLTF.IBufferView> = {}): number {
    return this.add('bufferViews', {
      buffer: 0,
      byteOffset: this.bin.add(bytes),
      byteLength: bytes.length,
      ...how,
    });
  }

  /** @param isPosition its bounds are told then, as they have to be */
  attribute(data: AccessorData, isPosition = false): number {
    const { array, type, normalized } = data;
    const size = SIZES[type]!;
    const own = size * array.BYTES_PER_ELEMENT;
    // Each vertex begins at a multiple of four bytes (glTF 2.0, section 3.6.2.4).
    const stride = Math.ceil(own / 4) * 4;
    const count = array.length / size;
    const packed = new Uint8Array(array.buffer, array.byteOffset, array.byteLength);
    const bytes = stride === own ? packed : new Uint8Array(stride * count);
    if (stride !== own)
      for (let v = 0; v < count; v++) bytes.set(packed.subarray(v * own, (v + 1) * own), v * stride);
    const byteStride = stride === own ? {} : { byteStride: stride };
    return this.accessor(
      bytes,
      { target: ARRAY_BUFFER, ...byteStride },
      {
        componentType: componentOf(array),
        ...(normalized && { normalized }),
        count,
        type,
        ...(isPosition && boundsOf(array, size)),
      },
    );
  }

  indices(list: readonly number[], vertices: number): number {
    // The highest number of a type means something else (glTF 2.0, section 3.7.2.1).
    const array = vertices >= 65_535 ? Uint32Array.from(list) : Uint16Array.from(list);
    const bytes = new Uint8Array(array.buffer);
    return this.accessor(
      bytes,
      { target: ELEMENT_ARRAY_BUFFER },
      {
        componentType: componentOf(array),
        count: array.length,
        type: 'SCALAR',
      },
    );
  }

  /** The same numbers are kept once: nodes that show the same share it. */
  private accessor(bytes: Uint8Array, how: Partial<GLTF.IBufferView>, entry: GLTF.IAccessor): number {
    const key = contentHash(bytes, [JSON.stringify([how, entry])]);
    let number = this.known.get(key);
    if (number === undefined) {
      number = this.add('accessors', { bufferView: this.view(bytes, how), ...entry });
      this.known.set(key, number);
    }
    return number;
  }

  /** A texture of a PNG, WebP or KTX2 file; the latter two by their extensions, without which it can't be read then. */
  texture(name: string, picture: Uint8Array, wrap: GLTF.TextureWrapMode): number {
    const [mimeType, extension] =
      pictureKind(picture) === 'WebP'
        ? (['image/webp', 'EXT_texture_webp'] as const)
        : isKtx2(picture)
          ? (['image/ktx2', 'KHR_texture_basisu'] as const)
          : (['image/png', null] as const);
    const source = this.add('images', { name, mimeType, bufferView: this.view(picture) });
    if (extension) this.uses(extension, true);
    return this.add('textures', {
      name,
      sampler: this.sampler(wrap),
      ...(extension ? { extensions: { [extension]: { source } } } : { source }),
    });
  }

  private sampler(wrap: GLTF.TextureWrapMode): number {
    const known = (this.json.samplers ?? []).findIndex(
      (s) => s.wrapS === wrap && s.wrapT === wrap && Object.keys(s).length === 2,
    );
    return known >= 0 ? known : this.add('samplers', { wrapS: wrap, wrapT: wrap });
  }

  uses(extension: string, isRequired = false): void {
    const keys = isRequired
      ? (['extensionsUsed', 'extensionsRequired'] as const)
      : (['extensionsUsed'] as const);
    for (const key of keys) {
      const names = (this.json[key] ??= []);
      if (!names.includes(extension)) names.push(extension);
    }
  }

  /** The whole as a GLB, without what nothing uses. */
  write(): Uint8Array {
    const { json } = this;
    const bin = withoutUnused(json, this.bin.bytes());
    const [own, ...others] = json.buffers ?? [];
    json.buffers = [{ ...own, byteLength: bin.length }, ...others];
    return packGlb({ json, bin });
  }
}

function componentOf(array: Numbers): GLTF.AccessorComponentType {
  return COMPONENTS.find(([, type]) => array instanceof type)![0];
}

function boundsOf(array: Numbers, size: number): { min: number[]; max: number[] } {
  const min = new Array<number>(size).fill(Infinity);
  const max = new Array<number>(size).fill(-Infinity);
  for (let i = 0; i < array.length; i++) {
    const k = i % size;
    min[k] = Math.min(min[k]!, array[i]!);
    max[k] = Math.max(max[k]!, array[i]!);
  }
  return { min, max };
}
