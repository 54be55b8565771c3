import { zipSync, strToU8 } from 'fflate';
import { describe, expect, it } from 'vitest';
import { floor } from '../../tests/shapes';
import { newDocument } from '../document';
import { readProjectFile, writeProjectFile } from '../project-file';
import { checkMesh, type UvMesh } from '../mesh';
import { importModel } from '.';

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);

async function refusal(name: string, data: Uint8Array): Promise<{ code?: string; message: string }> {
  try {
    await importModel(name, data);
  } catch (error) {
    return error as { code?: string; message: string };
  }
  return { message: 'it was taken in' };
}

describe('PLY files that lie', () => {
  const header = (lines: string): Uint8Array => bytes(`ply\nformat ascii 1.0\n${lines}end_header\n`);
  const triangle =
    'element vertex 3\nproperty float x\nproperty float y\nproperty float z\nelement face 1\nproperty list uchar int vertex_indices\n';
  const body = '0 0 0\n1 0 0\n0 1 0\n';

  it.each([
    ['the same element twenty times', header('element vertex 20000000\n'.repeat(20)), 'file-unsupported'],
    [
      'more vertices than it can hold',
      header('element vertex 20000000\nproperty float x\n'),
      'file-truncated',
    ],
    [
      'two thousand properties',
      header(`element vertex 1\n${'property double q\n'.repeat(2000)}`),
      'file-unsupported',
    ],
    ['a type called constructor', header('element vertex 1\nproperty constructor x\n'), 'file-unsupported'],
  ])('%s', async (_what, file, code) => {
    expect(await refusal('a.ply', file)).toMatchObject({ code });
  });

  it.each(['1.5', 'nan', '-1', '9'])('a face that names vertex %s', async (index) => {
    const file = bytes(`ply\nformat ascii 1.0\n${triangle}end_header\n${body}3 0 1 ${index}\n`);
    expect(await refusal('a.ply', file)).toMatchObject({ code: 'model-bad-number' });
  });

  it('elements without properties cost nothing', async () => {
    const file = bytes(
      `ply\nformat ascii 1.0\nelement nothing 20000000\n${triangle}end_header\n${body}3 0 1 2\n`,
    );
    expect((await importModel('a.ply', file)).mesh.indices).toHaveLength(3);
  });
});

describe('OBJ files', () => {
  it('with 16,000 objects come in at once', async () => {
    const file = ['v 0 0 0', 'v 1 0 0', 'v 0 1 0'];
    for (let i = 0; i < 16_000; i++) file.push(`o Part ${i}`, 'f 1 2 3');
    const { mesh } = await importModel('many.obj', bytes(file.join('\n')));
    expect(mesh.parts).toHaveLength(16_000);
    expect(mesh.parts[15_999]).toBe('Part 15999');
  });

  it('give an object of two materials a part for each, with its own colour', async () => {
    const obj = `o Coat\nv 0 0 0\nv 1 0 0\nv 0 1 0\nv 1 1 0\nusemtl Red\nf 1 2 3\nusemtl Blue\nf 2 4 3\no Hat\nusemtl Red\nf 1 2 4\n`;
    const mtl = bytes('newmtl Red\nKd 1 0 0\nnewmtl Blue\nKd 0 0 1\n');
    const { mesh, paint } = await importModel('a.obj', bytes(obj), new Map([['a.mtl', mtl]]));
    expect(mesh.parts).toEqual(['Coat Red', 'Coat Blue', 'Hat']);
    expect([...mesh.faceParts]).toEqual([0, 1, 2]);
    expect(paint.colors).toEqual([
      ['Coat Red', '#ff0000'],
      ['Coat Blue', '#0000ff'],
      ['Hat', '#ff0000'],
    ]);
  });

  it('with parts called as something every object has keep those names', async () => {
    const obj = 'o constructor\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\no __proto__\nf 3 2 1\n';
    expect((await importModel('a.obj', bytes(obj))).mesh.parts).toEqual(['constructor', '__proto__']);
  });
});

describe('glTF files', () => {
  const positions = Buffer.from(new Float32Array([0, 0, 0, 1, 0, 0, 0, 1, 0]).buffer).toString('base64');
  const gltf = (patch: object): Uint8Array =>
    bytes(
      JSON.stringify({
        asset: { version: '2.0' },
        scene: 0,
        scenes: [{ nodes: [0] }],
        nodes: [{ mesh: 0, name: 'Tri' }],
        meshes: [{ primitives: [{ attributes: { POSITION: 0 } }] }],
        accessors: [
          { bufferView: 0, componentType: 5126, count: 3, type: 'VEC3', min: [0, 0, 0], max: [1, 1, 0] },
        ],
        bufferViews: [{ buffer: 0, byteLength: 36 }],
        buffers: [{ byteLength: 36, uri: `data:application/octet-stream;base64,${positions}` }],
        ...patch,
      }),
    );

  it('with 12,000 nodes inside one another are read, each moved by all above it', async () => {
    const depth = 12_000;
    const nodes = Array.from({ length: depth }, (_, i) =>
      i === depth - 1 ? { mesh: 0 } : { children: [i + 1], translation: [0, 0, 0.5] },
    );
    const { mesh } = await importModel('deep.gltf', gltf({ nodes }));
    expect(mesh.positions[2]).toBeCloseTo((depth - 1) * 0.5, 2);
  });

  it.each([
    [
      'a base colour that is a number',
      {
        materials: [{ pbrMetallicRoughness: { baseColorFactor: 0 } }],
        meshes: [{ primitives: [{ attributes: { POSITION: 0 }, material: 0 }] }],
      },
    ],
    ['odd base64', { buffers: [{ byteLength: 36, uri: 'data:application/octet-stream;base64,AAA' }] }],
    ['a file name that can’t be decoded', { buffers: [{ byteLength: 36, uri: '%E0%A4%A.bin' }] }],
  ])('with %s are refused with a sentence', async (_what, patch) => {
    const error = await refusal('a.gltf', gltf(patch));
    expect(error.code).toMatch(/^(file|model)-/);
    expect(error.message).toMatch(/\.$/);
  });

  it('with a name that is a number have a part of that name', async () => {
    const { mesh } = await importModel('a.gltf', gltf({ nodes: [{ mesh: 0, name: 5 }] }));
    expect(mesh.parts).toEqual(['5']);
  });
});

describe('a mesh at any door', () => {
  const good = floor() as UvMesh;
  it.each([
    ['short UVs', { uvs: good.uvs.slice(2) }],
    ['short normals', { normals: good.normals.slice(3) }],
    ['normals that are no numbers', { normals: good.normals.map((_, i) => (i === 4 ? NaN : 0)) }],
    ['normals of length 9', { normals: good.normals.map((x) => x * 9) }],
    ['corners that don’t go in threes', { indices: good.indices.slice(1) }],
    ['too few part numbers', { faceParts: good.faceParts.slice(1) }],
    ['a part that isn’t there', { faceParts: good.faceParts.map(() => 7) }],
    ['two parts of one name', { parts: ['Floor', 'Floor'] }],
  ])('is refused with %s', (_what, patch) => {
    expect(() => checkMesh({ ...good, ...patch })).toThrow(
      expect.objectContaining({ code: 'model-bad-number' }),
    );
  });
});

describe('project files', () => {
  const file = (): Uint8Array =>
    writeProjectFile({
      document: newDocument('X', 64),
      mesh: floor(),
      pixels: [],
      strokes: new Map(),
      files: new Map(),
    });

  it('aren’t unpacked beyond what they need', () => {
    const zeros = new Uint8Array(120e6);
    const before = process.memoryUsage().rss;
    // What isn’t read isn’t unpacked at all; what is, only up to what it may be.
    const bomb = zipSync({ 'other.bin': zeros, 'project.json': strToU8('{}') }, { level: 1 });
    expect(bomb.length).toBeLessThan(1e6);
    expect(() => readProjectFile(bomb)).toThrow(/holds no Zanahoria project/);
    expect(() => readProjectFile(zipSync({ 'project.json': new Uint8Array(300e6) }, { level: 1 }))).toThrow(
      /would unpack to 300 MB/,
    );
    expect(process.memoryUsage().rss - before).toBeLessThan(900e6);
  });

  it('say what is wrong with them', () => {
    const damaged = (patch: object): Uint8Array => {
      const document = { ...newDocument('X', 64), ...patch };
      return writeProjectFile({
        document,
        mesh: floor(),
        pixels: [],
        strokes: new Map(),
        files: new Map(),
      });
    };
    const refused = (patch: object, words: RegExp): void =>
      expect(() => readProjectFile(damaged(patch))).toThrow(words);
    refused({ seams: [600] }, /seams name triangle 200, but the model has 2/);
    refused({ regions: [{ id: 7, name: 'R', faces: [2] }], nextId: 8 }, /regions name triangle 2/);
    refused({ pins: [9] }, /pins name triangle 9/);
    refused({ nextId: 0 }, /next number is 0/);
    expect(readProjectFile(file()).document.name).toBe('X');
  });
});
