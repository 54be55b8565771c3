import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { PLYLoader } from 'three/examples/jsm/loaders/PLYLoader.js';
import { STLLoader } from 'three/examples/jsm/loaders/STLLoader.js';
import { describe, expect, it } from 'vitest';
import { floor } from '../../tests/shapes';
import { layoutPicture, layoutSvg, readModel, writeObj } from '.';

// Debian's assimp-testmodels, unpacked by script/test into .cache: read, never committed.
const MODELS = '.cache/models/usr/share/assimp/models';
const files = (folder: string, ending: RegExp): string[] =>
  existsSync(`${MODELS}/${folder}`) ? readdirSync(`${MODELS}/${folder}`).filter((f) => ending.test(f)) : [];
const bytesOf = (text: string): Uint8Array => new TextEncoder().encode(text);

const SQUARE_PLY = `ply
format ascii 1.0
element vertex 4
property float x
property float y
property float z
property float s
property float t
element face 1
property list uchar int vertex_indices
end_header
0 0 0 0 0
1 0 0 1 0
1 1 0 1 1
0 1 0 0 1
4 0 1 2 3
`;

describe('PLY', () => {
  it('keeps polygons as such and reads UVs', async () => {
    const mesh = await readModel('square.ply', bytesOf(SQUARE_PLY));
    expect([...mesh.indices]).toEqual([0, 1, 2, 0, 2, 3]);
    expect([...mesh.polygons!]).toEqual([0, 0]);
    expect([...mesh.uvs!]).toEqual([0, 0, 1, 0, 1, 1, 0, 1]);
    expect(mesh.parts).toEqual(['square']);
  });

  it.each([
    ['a header without end', SQUARE_PLY.replace('end_header', ''), 'file-truncated'],
    ['too few numbers', SQUARE_PLY.slice(0, -10), 'file-truncated'],
    ['an index past the end', SQUARE_PLY.replace('4 0 1 2 3', '4 0 1 2 9'), 'model-bad-number'],
    ['a position that is no number', SQUARE_PLY.replace('1 1 0 1 1', 'x 1 0 1 1'), 'model-bad-number'],
    [
      'a type that is not known',
      SQUARE_PLY.replace('property float x', 'property half x'),
      'file-unsupported',
    ],
    ['a count beyond reason', SQUARE_PLY.replace('vertex 4', 'vertex 99999999999'), 'file-truncated'],
    ['no positions', SQUARE_PLY.replace('float x', 'float a'), 'file-not-a-model'],
  ])('refuses %s', async (_what, text, code) => {
    await expect(readModel('a.ply', bytesOf(text))).rejects.toThrow(expect.objectContaining({ code }));
  });

  // three's PLYLoader as oracle for the triangles; the vertex counts stand in the files' own headers.
  it.each(files('PLY', /^(Wuson|cube|cube_binary|cube_uv|float-color)\.ply$/))(
    '%s has the counts of its header',
    async (file) => {
      const bytes = readFileSync(`${MODELS}/PLY/${file}`);
      const mesh = await readModel(file, bytes);
      const stated = Number(/element vertex (\d+)/.exec(bytes.toString('latin1'))![1]);
      expect(mesh.positions.length / 3).toBe(stated);
      const theirs = new PLYLoader().parse(
        bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length),
      );
      expect(mesh.indices.length).toBe(theirs.index!.count);
    },
  );
});

describe('STL', () => {
  // three's STLLoader as oracle.
  it.each(files('STL', /\.stl$/i).filter((f) => !/two_solids|header/.test(f)))(
    '%s has as many triangles as three reads',
    async (file) => {
      const bytes = readFileSync(`${MODELS}/STL/${file}`);
      const mesh = await readModel(file, bytes);
      const theirs = new STLLoader().parse(
        bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length),
      );
      expect(mesh.indices.length).toBe(theirs.getAttribute('position').count);
    },
  );

  const binary = (promised: number, there: number): Uint8Array => {
    const bytes = new Uint8Array(84 + there * 50);
    const view = new DataView(bytes.buffer);
    view.setUint32(80, promised, true);
    for (let f = 0; f < there; f++) {
      [0, 0, 0, 1, 0, 0, 0, 1, f].forEach((x, k) => view.setFloat32(84 + f * 50 + 12 + k * 4, x, true));
    }
    return bytes;
  };

  it('joins equal corners', async () => {
    const mesh = await readModel('two.stl', binary(2, 2));
    expect([mesh.indices.length, mesh.positions.length / 3]).toEqual([6, 4]);
  });

  it.each([
    ['cut off', binary(9, 2), 'file-truncated'],
    [
      'ascii that ends half-way',
      bytesOf('solid a\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\n'),
      'file-truncated',
    ],
    ['empty', new Uint8Array(0), 'file-empty'],
    ['without triangles', binary(0, 0), 'model-empty'],
  ])('refuses one that is %s', async (_what, bytes, code) => {
    await expect(readModel('a.stl', bytes)).rejects.toThrow(expect.objectContaining({ code }));
  });
});

describe('layouts and models out', () => {
  it('an OBJ comes back as it was', async () => {
    const mesh = floor();
    const back = await readModel('floor.obj', bytesOf(writeObj(mesh, 'Floor')));
    expect(back.parts).toEqual(mesh.parts);
    expect(back.indices.length).toBe(mesh.indices.length);
    for (let c = 0; c < mesh.indices.length; c++) {
      const [v, w] = [mesh.indices[c]!, back.indices[c]!];
      expect([...back.positions.subarray(w * 3, w * 3 + 3)]).toEqual([
        ...mesh.positions.subarray(v * 3, v * 3 + 3),
      ]);
      expect([...back.uvs!.subarray(w * 2, w * 2 + 2)]).toEqual([...mesh.uvs.subarray(v * 2, v * 2 + 2)]);
    }
  });

  it('a layout is drawn where its triangles lie, in the part’s colour', () => {
    const style = { size: 64, lines: false, fill: true, colors: new Map([['Floor', '#336699']]) };
    const picture = layoutPicture(floor(), style);
    expect([...picture.rgba.subarray(0, 4)]).toEqual([0x33, 0x66, 0x99, 255]);
    const svg = layoutSvg(floor(), { ...style, lines: true });
    expect(svg).toContain('viewBox="0 0 64 64"');
    expect(svg.match(/<path/g)).toHaveLength(3);
    expect(svg).toContain('fill="#336699"');
  });
});
