import { Document, WebIO } from '@gltf-transform/core';
import { EXTMeshoptCompression, KHRMeshQuantization } from '@gltf-transform/extensions';
import { MeshoptEncoder } from 'meshoptimizer';
import { beforeAll, describe, expect, it } from 'vitest';
import { importModel, readModel } from '.';

beforeAll(() => MeshoptEncoder.ready);

/** A square of side 2 as 16-bit whole numbers that a node scales and moves, half and full colour at its corners. */
function square(): { document: Document; write: () => Promise<Uint8Array> } {
  const document = new Document();
  const buffer = document.createBuffer();
  document.createExtension(KHRMeshQuantization).setRequired(true);
  const accessor = (
    type: 'VEC2' | 'VEC3' | 'VEC4' | 'SCALAR',
    array: Int16Array | Uint16Array | Uint8Array | Int8Array,
  ) =>
    document
      .createAccessor()
      .setType(type)
      .setArray(array as Int16Array<ArrayBuffer>)
      .setNormalized(type !== 'SCALAR')
      .setBuffer(buffer);
  const M = 32767;
  const primitive = document
    .createPrimitive()
    .setIndices(accessor('SCALAR', Uint16Array.of(0, 1, 2, 0, 2, 3)))
    .setAttribute('POSITION', accessor('VEC3', Int16Array.of(-M, 0, M, M, 0, M, M, 0, -M, -M, 0, -M)))
    .setAttribute('NORMAL', accessor('VEC3', Int8Array.of(0, 127, 0, 0, 127, 0, 0, 127, 0, 0, 127, 0)))
    .setAttribute('TEXCOORD_0', accessor('VEC2', Uint16Array.of(0, 65535, 65535, 65535, 65535, 0, 0, 0)))
    .setAttribute(
      'COLOR_0',
      accessor('VEC4', Uint8Array.of(255, 0, 0, 255, 55, 55, 55, 255, 0, 255, 0, 255, 0, 0, 255, 128)),
    );
  const node = document
    .createNode('Tile')
    .setMesh(document.createMesh('Tile').addPrimitive(primitive))
    .setScale([3, 1, 1])
    .setTranslation([10, 5, 0]);
  document.createScene().addChild(document.createNode('Above').setTranslation([0, 1, 0]).addChild(node));
  const write = (): Promise<Uint8Array> =>
    new WebIO()
      .registerExtensions([KHRMeshQuantization, EXTMeshoptCompression])
      .registerDependencies({ 'meshopt.encoder': MeshoptEncoder })
      .writeBinary(document);
  return { document, write };
}

describe.each(['quantised', 'quantised and meshopt-compressed'])('a %s GLB', (kind) => {
  const bytes = async (): Promise<Uint8Array> => {
    const { document, write } = square();
    if (kind !== 'quantised') document.createExtension(EXTMeshoptCompression).setRequired(true);
    return write();
  };

  it('says so in its list of required extensions', async () => {
    const text = new TextDecoder('latin1').decode(await bytes());
    expect(text).toContain('KHR_mesh_quantization');
    expect(text.includes('EXT_meshopt_compression')).toBe(kind !== 'quantised');
  });

  it('comes in as numbers in model space: all nodes above it applied, v turned over', async () => {
    const mesh = await readModel('tile.glb', await bytes(), new Map());
    expect(mesh.parts).toEqual(['Tile']);
    const corners = Array.from(mesh.indices, (v) => [
      ...mesh.positions.subarray(v * 3, v * 3 + 3),
      ...mesh.uvs!.subarray(v * 2, v * 2 + 2),
    ]);
    const wanted = [
      [7, 6, 1, 0, 0],
      [13, 6, 1, 1, 0],
      [13, 6, -1, 1, 1],
    ];
    wanted.forEach((corner, c) => corner.forEach((x, k) => expect(corners[c]![k]).toBeCloseTo(x, 3)));
    for (let v = 0; v < mesh.normals.length; v += 3) expect(mesh.normals[v + 1]).toBeCloseTo(1, 5);
  });

  it('brings the colours of its vertices, which are linear, as sRGB', async () => {
    const { paint } = await importModel('tile.glb', await bytes(), new Map());
    const corner = (c: number): number[] => [...paint.cornerColors!.subarray(c * 4, c * 4 + 4)];
    expect(corner(0)).toEqual([255, 0, 0, 255]);
    // Linear 55 / 255 = 0.2157 is 0.5020 encoded (IEC 61966-2-1): 1.055 · 0.2157^(1/2.4) - 0.055.
    expect(corner(1)).toEqual([128, 128, 128, 255]);
    expect(corner(5)).toEqual([0, 0, 255, 128]);
  });
});
