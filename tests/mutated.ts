import { strToU8, unzipSync, zipSync } from 'fflate';
import { parseRecipe } from '../core/document';
import { readMeasured, writeMeasured, readProjectFile, writeProjectFile } from '../core/project-file';
import { CoreError } from '../core/errors';
import {
  decodeKtx2,
  decodePng,
  encodeDeepPng,
  encodeKtx2,
  encodePng,
  importModel,
  paletteTokens,
  readOpenRaster,
  readPaletteTokens,
  writeObj,
  writeOpenRaster,
  writeUnlitGlb,
} from '../core/formats';
import { seededRandom } from '../core/math';
import { engineOn, PAINT } from './engines';
import { plainRecipe } from './recipes';
import { ball, floor } from './shapes';
import { HARD, line, SOFT_STROKE } from './strokes';

/** A kind of file, one that is whole, and what reads it. */
interface Door {
  readonly name: string;
  readonly whole: Uint8Array;
  readonly read: (bytes: Uint8Array) => unknown;
}

const text = (bytes: Uint8Array): string => new TextDecoder().decode(bytes);

/** Every door through which a file comes in, with a small whole file for each. */
export async function everyDoor(): Promise<Door[]> {
  const mesh = ball(8, 5);
  const picture = {
    width: 16,
    height: 16,
    rgba: Uint8Array.from({ length: 1024 }, (_, i) => (i * 37) % 256),
  };
  const deep = { ...picture, rgba: Uint16Array.from(picture.rgba, (v) => v * 257) };
  const layer = {
    kind: 'layer',
    name: 'Paint',
    opacity: 1,
    visible: true,
    operation: 'svg:src-over',
    x: 0,
    y: 0,
    picture,
  } as const;
  const ora = { width: 16, height: 16, nodes: [layer], merged: picture, thumbnail: picture, notes: [] };
  const engine = engineOn(floor(), 64);
  engine.apply({
    do: 'stroke',
    layer: PAINT,
    stroke: { ...SOFT_STROKE, brush: HARD, color: '#c06030', runs: [line([-0.5, 0, 0], [0.5, 0, 0], 0.3)] },
  });
  const { document } = engine;
  const project = writeProjectFile({ document, mesh: floor(), ...engine.everything(), files: new Map() });
  const glb = await writeUnlitGlb(mesh, 'Ball', [encodePng(picture)]);
  const model =
    (name: string) =>
    (bytes: Uint8Array): unknown =>
      importModel(name, bytes);
  const stlText = `solid ball\n${Array.from({ length: 20 }, (_, i) => `facet normal 0 0 1\nouter loop\nvertex ${i} 0 0\nvertex ${i + 1} 0 0\nvertex ${i} 1 0\nendloop\nendfacet\n`).join('')}endsolid\n`;
  return [
    { name: 'a GLB', whole: glb, read: model('a.glb') },
    { name: 'an OBJ', whole: strToU8(writeObj(mesh, 'Ball')), read: model('a.obj') },
    { name: 'an ASCII PLY', whole: strToU8(plyText()), read: model('a.ply') },
    { name: 'a binary PLY', whole: plyBinary(), read: model('a.ply') },
    { name: 'an ASCII STL', whole: strToU8(stlText), read: model('a.stl') },
    { name: 'a binary STL', whole: stlBinary(), read: model('a.stl') },
    { name: 'a PNG', whole: encodePng(picture), read: decodePng },
    { name: 'a 16-bit PNG', whole: encodeDeepPng(deep), read: decodePng },
    { name: 'an OpenRaster file', whole: writeOpenRaster(ora), read: readOpenRaster },
    { name: 'a project file', whole: project, read: readProjectFile },
    {
      name: 'measured values',
      whole: writeMeasured({
        model: 'a'.repeat(32),
        sizes: [64],
        cues: [
          { spec: { cue: 'height', direction: [0, 1, 0], from: 0, to: 1 }, values: new Uint16Array(64) },
        ],
      }),
      read: readMeasured,
    },
    { name: 'a zip of nothing', whole: zipSync({ 'a.txt': strToU8('nothing') }), read: readProjectFile },
    {
      name: 'a recipe',
      whole: strToU8(plainRecipe('#b06030')),
      read: (bytes) => parseRecipe(json(bytes)),
    },
    {
      name: 'a palette',
      whole: strToU8(paletteTokens('Ball', [{ name: 'Fur', color: '#805030' }])),
      read: (bytes) => readPaletteTokens(text(bytes)),
    },
    {
      name: 'a KTX2 texture',
      whole: await encodeKtx2([picture], { isSrgb: true, effort: 'fast' }),
      read: decodeKtx2,
    },
  ];
}

/** As the doors do that take JSON: what is none is told by whoever opened the file. */
function json(bytes: Uint8Array): unknown {
  try {
    return JSON.parse(text(bytes));
  } catch (cause) {
    throw new CoreError('document-invalid', 'That is not JSON.', { cause });
  }
}

const PLY_HEAD =
  'element vertex 4\nproperty float x\nproperty float y\nproperty float z\nelement face 2\nproperty list uchar int vertex_indices\nend_header\n';
const CORNERS = [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0];
const FACES = [
  [0, 1, 2],
  [0, 2, 3],
];

const plyText = (): string =>
  `ply\nformat ascii 1.0\n${PLY_HEAD}${[0, 3, 6, 9].map((i) => CORNERS.slice(i, i + 3).join(' ')).join('\n')}\n${FACES.map((f) => `3 ${f.join(' ')}`).join('\n')}\n`;

function plyBinary(): Uint8Array {
  const head = strToU8(`ply\nformat binary_little_endian 1.0\n${PLY_HEAD}`);
  const out = new Uint8Array(head.length + 48 + 2 * 13);
  out.set(head);
  const view = new DataView(out.buffer, head.length);
  CORNERS.forEach((x, i) => view.setFloat32(i * 4, x, true));
  FACES.forEach((face, f) => {
    view.setUint8(48 + f * 13, 3);
    face.forEach((v, k) => view.setInt32(49 + f * 13 + k * 4, v, true));
  });
  return out;
}

function stlBinary(): Uint8Array {
  const out = new Uint8Array(84 + 2 * 50);
  const view = new DataView(out.buffer);
  view.setUint32(80, 2, true);
  FACES.forEach((face, f) =>
    face.forEach((v, k) =>
      [0, 1, 2].forEach((a) => view.setFloat32(84 + f * 50 + 12 + k * 12 + a * 4, CORNERS[v * 3 + a]!, true)),
    ),
  );
  return out;
}

const isZip = (bytes: Uint8Array): boolean => bytes[0] === 0x50 && bytes[1] === 0x4b;

/** What stands in a text where a number is looked for. */
const ODD = ['-1', '0', '1e308', '4294967296', '99999999999', 'NaN', '""', 'null', '[]', '{}'];

/**
 * A file that was damaged, or made to do damage: bytes turned, taken out, doubled, cut off, filled with the largest value; numbers of a text
 * replaced by odd ones; of a zip often one of the files in it, so that its check sums are right.
 */
export function mutated(whole: Uint8Array, random: () => number): Uint8Array {
  if (isZip(whole) && random() < 0.7) {
    const files = { ...unzipSync(whole) };
    const names = Object.keys(files);
    const name = names[Math.floor(random() * names.length)]!;
    if (random() < 0.1) delete files[name];
    else files[name] = new Uint8Array(mutated(files[name]!, random));
    return zipSync(files, { level: 0 });
  }
  let out: Uint8Array = whole.slice();
  const at = (length = out.length): number => Math.floor(random() * Math.max(1, length));
  for (let n = 1 + at(4); n > 0; n--) {
    const place = at();
    switch (at(8)) {
      case 0:
        out[place] = at(256);
        break;
      case 1:
        out[place]! ^= 1 << at(8);
        break;
      case 2:
        out = out.slice(0, place);
        break;
      case 3:
        out.fill(0xff, place, place + 4);
        break;
      case 4:
        out.fill(0, place, place + 1 + at(16));
        break;
      case 5: {
        const piece = out.slice(place, place + 1 + at(64));
        const wider = new Uint8Array(out.length + piece.length);
        wider.set(out.subarray(0, place));
        wider.set(piece, place);
        wider.set(out.subarray(place), place + piece.length);
        out = wider;
        break;
      }
      case 6: {
        const rest = out.slice(place + 1 + at(32));
        const shorter = new Uint8Array(place + rest.length);
        shorter.set(out.subarray(0, place));
        shorter.set(rest, place);
        out = shorter;
        break;
      }
      default:
        out = numberReplaced(out, random);
    }
  }
  return out;
}

/** One of the numbers that stand in a text, or in the text that a file begins with, replaced by an odd one. */
function numberReplaced(bytes: Uint8Array, random: () => number): Uint8Array {
  const letters = String.fromCharCode(...bytes.subarray(0, 60_000));
  const numbers = [...letters.matchAll(/-?\d+(\.\d+)?/g)];
  const found = numbers[Math.floor(random() * numbers.length)];
  if (!found) return bytes;
  const odd = ODD[Math.floor(random() * ODD.length)]!;
  const head = `${letters.slice(0, found.index)}${odd}${letters.slice(found.index + found[0].length)}`;
  const out = new Uint8Array(head.length + Math.max(0, bytes.length - 60_000));
  for (let i = 0; i < head.length; i++) out[i] = head.charCodeAt(i);
  out.set(bytes.subarray(60_000), head.length);
  return out;
}

/** A file that a door didn't take as it should. */
export interface Slip {
  readonly door: string;
  /** Of its seed: `mutated(whole, seededRandom(number))` makes it again. */
  readonly number: number;
  readonly problem: string;
}

/** Longer than this is a hang, milliseconds. */
const HANG = 10_000;

/**
 * Gives damaged files to every door in turn. Each must be taken, or refused with a sentence (a `CoreError`), in time.
 *
 * @param now a clock, milliseconds
 */
export async function knock(
  doors: readonly Door[],
  count: number,
  first: number,
  now: () => number,
  onKnock?: (done: number) => void,
): Promise<Slip[]> {
  const slips: Slip[] = [];
  for (let i = 0; i < count; i++) {
    const number = first + i;
    const door = doors[number % doors.length]!;
    const bytes = mutated(door.whole, seededRandom(number));
    const begun = now();
    try {
      await door.read(bytes);
    } catch (error) {
      if (!(error instanceof CoreError)) slips.push({ door: door.name, number, problem: String(error) });
    }
    if (now() - begun > HANG) slips.push({ door: door.name, number, problem: `${now() - begun} ms` });
    onKnock?.(i + 1);
  }
  return slips;
}
