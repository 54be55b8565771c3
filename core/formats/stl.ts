import { CoreError } from '../errors';
import { weldExact, type Mesh } from '../mesh';
import { joinPieces } from './model-builder';

const HEADER = 84;
const FACET = 50;

/**
 * Reads an STL, ascii or binary (3D Systems, "StereoLithography Interface Specification", 1989). Equal corners are joined, normals
 * made smooth: the file's own are flat.
 *
 * @throws CoreError `file-truncated`, `file-not-a-model`, and those of `checkMesh`
 */
export function readStl(bytes: Uint8Array, name: string): Mesh {
  const positions = isBinary(bytes) ? binaryCorners(bytes) : asciiCorners(bytes);
  const welded = weldExact({ data: positions, stride: 3 });
  const kept: number[] = [];
  const place = new Int32Array(welded.length).fill(-1);
  const indices = welded.map((root) => {
    if (place[root]! < 0) place[root] = kept.push(root) - 1;
    return place[root]!;
  });
  const own = new Float32Array(kept.length * 3);
  kept.forEach((v, i) => own.set(positions.subarray(v * 3, v * 3 + 3), i * 3));
  return joinPieces([{ name, positions: own, normals: null, uvs: null, indices }]);
}

/** By its length: an ascii file begins with “solid”, but so do some binary ones. */
function isBinary(bytes: Uint8Array): boolean {
  if (bytes.length < HEADER) return false;
  const count = new DataView(bytes.buffer, bytes.byteOffset).getUint32(80, true);
  if (bytes.length === HEADER + count * FACET) return true;
  return !/^\s*solid/.test(new TextDecoder().decode(bytes.subarray(0, 80)));
}

function binaryCorners(bytes: Uint8Array): Float32Array {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const count = view.getUint32(80, true);
  const there = Math.floor((bytes.length - HEADER) / FACET);
  if (count > there) {
    throw new CoreError(
      'file-truncated',
      `The STL is cut off: it promises ${count.toLocaleString('en')} triangles and holds ${there.toLocaleString('en')}. Copy or export it again.`,
    );
  }
  const out = new Float32Array(count * 9);
  for (let f = 0; f < count; f++) {
    for (let k = 0; k < 9; k++) out[f * 9 + k] = view.getFloat32(HEADER + f * FACET + 12 + k * 4, true);
  }
  return out;
}

function asciiCorners(bytes: Uint8Array): Float32Array {
  const text = new TextDecoder().decode(bytes);
  const numbers: number[] = [];
  for (const match of text.matchAll(/\bvertex\s+(\S+)\s+(\S+)\s+(\S+)/g)) {
    numbers.push(Number(match[1]), Number(match[2]), Number(match[3]));
  }
  if (numbers.length % 9 !== 0 || !/endsolid/.test(text)) {
    throw new CoreError('file-truncated', 'The STL ends half-way through. Copy or export it again.');
  }
  return Float32Array.from(numbers);
}
