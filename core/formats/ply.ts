import { CoreError } from '../errors';
import { cutPolygon, type Mesh } from '../mesh';
import { joinPieces } from './model-builder';

type NumberType = 'i1' | 'u1' | 'i2' | 'u2' | 'i4' | 'u4' | 'f4' | 'f8';

const TYPES: ReadonlyMap<string, NumberType> = new Map([
  ['char', 'i1'],
  ['int8', 'i1'],
  ['uchar', 'u1'],
  ['uint8', 'u1'],
  ['short', 'i2'],
  ['int16', 'i2'],
  ['ushort', 'u2'],
  ['uint16', 'u2'],
  ['int', 'i4'],
  ['int32', 'i4'],
  ['uint', 'u4'],
  ['uint32', 'u4'],
  ['float', 'f4'],
  ['float32', 'f4'],
  ['double', 'f8'],
  ['float64', 'f8'],
]);

interface Property {
  readonly name: string;
  readonly type: NumberType;
  /** Of a list's length; null for a single value. */
  readonly count: NumberType | null;
}

interface Element {
  readonly name: string;
  readonly count: number;
  readonly properties: Property[];
}

/** More elements than this are a damaged header, not a model; more properties than this no vertex has. */
const MOST = 20_000_000;
const MOST_PROPERTIES = 256;

/** Columns of the vertices that are kept. */
const KEPT = new Set(['x', 'y', 'z', 'nx', 'ny', 'nz', 's', 't', 'u', 'v', 'texture_u', 'texture_v']);

/**
 * Reads a PLY, ascii or binary (G. Turk, "The PLY Polygon File Format", 1994). Polygons are cut into triangles and remembered; UVs are
 * taken from s and t, u and v, or texture_u and texture_v.
 *
 * @throws CoreError `file-truncated`, `file-unsupported`, `file-not-a-model`, `model-bad-number`, and those of `checkMesh`
 */
export function readPly(bytes: Uint8Array, name: string): Mesh {
  const { elements, format, start } = readHeader(bytes);
  checkPromise(elements, format === 'ascii', bytes.length - start);
  const next =
    format === 'ascii'
      ? asciiReader(bytes, start)
      : binaryReader(bytes, start, format === 'binary_little_endian');
  const values = new Map<string, Float64Array>();
  let vertices = 0;
  const indices: number[] = [];
  const polygons: number[] = [];
  for (const element of elements) {
    if (element.name === 'vertex') {
      vertices = element.count;
      for (const p of element.properties) {
        if (!p.count && KEPT.has(p.name)) values.set(p.name, new Float64Array(element.count));
      }
    }
    // Elements that hold nothing needn't be gone through.
    const count = element.properties.length > 0 ? element.count : 0;
    for (let i = 0; i < count; i++) {
      for (const p of element.properties) {
        if (!p.count) {
          const value = next(p.type);
          if (element.name === 'vertex') values.get(p.name)?.fill(value, i, i + 1);
          continue;
        }
        const corners: number[] = [];
        for (let n = whole(next(p.count)); n > 0; n--) corners.push(next(p.type));
        if (element.name !== 'face' || !/^vertex_ind(ex|ices)$/.test(p.name)) continue;
        corners.forEach(whole);
        const at = (corner: number, axis: number): number =>
          values.get('xyz'[axis]!)?.[corners[corner]!] ?? NaN;
        cutPolygon(corners.length, at).forEach((k, c) => {
          indices.push(corners[k]!);
          if (c % 3 === 0) polygons.push(i);
        });
      }
    }
  }
  const wild = indices.find((v) => v < 0 || v >= vertices);
  if (wild !== undefined) {
    throw new CoreError(
      'model-bad-number',
      `A face of the PLY uses vertex ${wild}, but it has only ${vertices}. The file is damaged; export it again.`,
    );
  }
  const column = (names: readonly string[]): Float32Array | null => {
    const columns = names.map((n) => values.get(n));
    if (columns.some((c) => !c)) return null;
    const out = new Float32Array(vertices * names.length);
    columns.forEach((c, k) => c!.forEach((x, v) => (out[v * names.length + k] = x)));
    return out;
  };
  const positions = column(['x', 'y', 'z']);
  if (!positions)
    throw new CoreError(
      'file-not-a-model',
      'The PLY has no vertices with x, y and z. Export the model again.',
    );
  const mesh = joinPieces([
    {
      name,
      positions,
      normals: column(['nx', 'ny', 'nz']),
      uvs: column(['s', 't']) ?? column(['u', 'v']) ?? column(['texture_u', 'texture_v']),
      indices: Uint32Array.from(indices),
    },
  ]);
  return polygons.length > new Set(polygons).size ? { ...mesh, polygons: Uint32Array.from(polygons) } : mesh;
}

/** @throws CoreError `model-bad-number` */
function whole(n: number): number {
  if (Number.isInteger(n)) return n;
  throw new CoreError(
    'model-bad-number',
    `A face of the PLY names vertex “${n}”, which is no whole number. The file is damaged; export it again.`,
  );
}

/** A header may promise more than the file can hold: that is seen before anything is made of it. @throws CoreError `file-truncated` */
function checkPromise(elements: readonly Element[], ascii: boolean, bytes: number): void {
  const least = elements.reduce((sum, { count, properties }) => {
    // In ascii a value takes a letter and what parts it from the next; a list holds at least its length.
    const each = properties.reduce((n, p) => n + (ascii ? 2 : BYTES[p.count ?? p.type]), 0);
    return sum + count * each;
  }, 0);
  // The last value needs nothing after it.
  if (least > bytes + 1) throw cutOff();
}

const FORMATS = ['ascii', 'binary_little_endian', 'binary_big_endian'] as const;

function readHeader(bytes: Uint8Array): {
  elements: Element[];
  format: (typeof FORMATS)[number];
  start: number;
} {
  const head = new TextDecoder('latin1').decode(bytes.subarray(0, 65_536));
  const end = /end_header\r?\n?/.exec(head);
  if (!end) throw new CoreError('file-truncated', 'The PLY’s header has no end. Copy or export it again.');
  const elements: Element[] = [];
  let format: (typeof FORMATS)[number] | undefined;
  for (const line of head.slice(0, end.index).split(/\r?\n/)) {
    const words = line.trim().split(/\s+/);
    if (words[0] === 'format') format = FORMATS.find((f) => f === words[1]);
    if (words[0] === 'element') {
      const count = Number(words[2]);
      if (!Number.isInteger(count) || count < 0 || count > MOST) {
        throw new CoreError(
          'file-truncated',
          `The PLY’s header promises “${words[2]}” of ${words[1]}. The file is damaged.`,
        );
      }
      const name = words[1] ?? '';
      if (elements.some((e) => e.name === name)) {
        throw new CoreError(
          'file-unsupported',
          `The PLY’s header names “${name}” twice. The file is damaged; export it again.`,
        );
      }
      elements.push({ name, count, properties: [] });
    }
    if (words[0] === 'property') {
      const isList = words[1] === 'list';
      const type = TYPES.get((isList ? words[3] : words[1]) ?? '');
      const count = isList ? TYPES.get(words[2] ?? '') : null;
      if (!type || count === undefined || !elements.length) {
        throw new CoreError(
          'file-unsupported',
          `The PLY has a property that can’t be read: “${line.trim()}”. Export it again.`,
        );
      }
      const { properties, name } = elements.at(-1)!;
      if (properties.length >= MOST_PROPERTIES) {
        throw new CoreError(
          'file-unsupported',
          `The PLY gives each ${name} more than ${MOST_PROPERTIES} properties. Export it again without the ones that aren’t needed.`,
        );
      }
      properties.push({ name: words.at(-1)!, type, count });
    }
  }
  if (!format)
    throw new CoreError('file-unsupported', 'The PLY names no format that can be read (ascii or binary).');
  return { elements, format, start: end.index + end[0].length };
}

const cutOff = (): CoreError =>
  new CoreError(
    'file-truncated',
    'The PLY ends before all its vertices and faces are there. Copy or export it again.',
  );

function asciiReader(bytes: Uint8Array, start: number): (type: NumberType) => number {
  const words = new TextDecoder().decode(bytes.subarray(start)).split(/\s+/);
  let at = words[0] === '' ? 1 : 0;
  return () => {
    const word = words[at++];
    if (word === undefined || word === '') throw cutOff();
    return Number(word);
  };
}

const BYTES: Record<NumberType, number> = { i1: 1, u1: 1, i2: 2, u2: 2, i4: 4, u4: 4, f4: 4, f8: 8 };

function binaryReader(bytes: Uint8Array, start: number, little: boolean): (type: NumberType) => number {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let at = start;
  return (type) => {
    if (at + BYTES[type] > bytes.length) throw cutOff();
    const from = at;
    at += BYTES[type];
    switch (type) {
      case 'i1':
        return view.getInt8(from);
      case 'u1':
        return view.getUint8(from);
      case 'i2':
        return view.getInt16(from, little);
      case 'u2':
        return view.getUint16(from, little);
      case 'i4':
        return view.getInt32(from, little);
      case 'u4':
        return view.getUint32(from, little);
      case 'f4':
        return view.getFloat32(from, little);
      case 'f8':
        return view.getFloat64(from, little);
    }
  };
}
