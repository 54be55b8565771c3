import { Document, WebIO, type Accessor } from '@gltf-transform/core';
import { Vector3, type SkinnedMesh } from 'three';
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';
import { describe, expect, it } from 'vitest';
import { importModel } from '.';

interface Made {
  readonly document: Document;
  readonly write: () => Promise<Uint8Array<ArrayBuffer>>;
}

/** A strip of four rungs on two joints that are bent and moved since it was bound; the node that holds it is moved too, which doesn't count. */
function strip(weightTimes = 1): Made {
  const document = new Document();
  const buffer = document.createBuffer();
  const accessor = (
    type: 'VEC3' | 'VEC4' | 'SCALAR' | 'MAT4',
    array: Float32Array<ArrayBuffer> | Uint16Array<ArrayBuffer>,
  ): Accessor => document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
  const rungs = [0, 1, 2, 3];
  const positions = rungs.flatMap((y) => [-0.5, y, 0, 0.5, y, 0]);
  const weights = rungs.flatMap((y) => {
    const w = [(1 - y / 3) * weightTimes, (y / 3) * weightTimes, 0, 0];
    return [...w, ...w];
  });
  const indices = [0, 1, 2].flatMap((n) => [0, 1, 3, 0, 3, 2].map((i) => i + n * 2));
  const primitive = document
    .createPrimitive()
    .setIndices(accessor('SCALAR', Uint16Array.from(indices)))
    .setAttribute('POSITION', accessor('VEC3', Float32Array.from(positions)))
    .setAttribute('NORMAL', accessor('VEC3', Float32Array.from(rungs.flatMap(() => [0, 0, 1, 0, 0, 1]))))
    .setAttribute(
      'JOINTS_0',
      accessor('VEC4', Uint16Array.from(rungs.flatMap(() => [0, 1, 0, 0, 0, 1, 0, 0]))),
    )
    .setAttribute('WEIGHTS_0', accessor('VEC4', Float32Array.from(weights)));
  const root = document.createNode('Root').setTranslation([1, 0, 0]);
  const tip = document
    .createNode('Tip')
    .setTranslation([0, 1.6, 0])
    .setRotation([0.5, 0, 0, Math.sqrt(0.75)]);
  root.addChild(tip);
  const bind = (y: number): number[] => [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, -y, 0, 1];
  const skin = document
    .createSkin()
    .addJoint(root)
    .addJoint(tip)
    .setInverseBindMatrices(accessor('MAT4', Float32Array.from([...bind(0), ...bind(1.5)])));
  const node = document
    .createNode('Strip')
    .setMesh(document.createMesh('Strip').addPrimitive(primitive))
    .setSkin(skin)
    .setTranslation([40, 0, 0]);
  document.createScene().addChild(root).addChild(node);
  return {
    document,
    write: async () => (await new WebIO().writeBinary(document)) as Uint8Array<ArrayBuffer>,
  };
}

describe('a skinned GLB', () => {
  it('stands as its joints are at rest, as three’s own loader and skinning have it', async () => {
    const bytes = await strip().write();
    const { mesh, rig } = await importModel('strip.glb', bytes);
    expect(rig).toEqual({ skins: 1, joints: 2, clips: 0, morphs: 0 });
    const { scene } = await new GLTFLoader().parseAsync(bytes.slice().buffer, '');
    scene.updateMatrixWorld(true);
    const found: SkinnedMesh[] = [];
    scene.traverse((o) => ((o as SkinnedMesh).isSkinnedMesh ? found.push(o as SkinnedMesh) : null));
    const [body] = found;
    // Attached: the way through the mesh's own node and back.
    const places = Array.from({ length: 8 }, (_, v) => {
      const at = new Vector3().fromBufferAttribute(body!.geometry.attributes['position']!, v);
      return body!.applyBoneTransform(v, at).applyMatrix4(body!.matrixWorld).toArray();
    });
    expect(mesh.positions.length).toBe(24);
    const sorted = (list: readonly (readonly number[])[]): string[] =>
      list.map((p) => p.map((x) => x.toFixed(4)).join()).sort();
    const ours = Array.from({ length: 8 }, (_, v) => [...mesh.positions.subarray(v * 3, v * 3 + 3)]);
    expect(sorted(ours)).toEqual(sorted(places));
    // The tip is turned by 60 degrees about x: so are the normals there.
    const top = ours.findIndex((p) => p[1] === Math.max(...ours.map((q) => q[1]!)));
    expect(mesh.normals[top * 3 + 2]).toBeLessThan(0.8);
  });

  it('whose weights don’t sum to 1 stands as if they did', async () => {
    const [even, odd] = await Promise.all(
      [1, 0.4].map(async (times) => (await importModel('strip.glb', await strip(times).write())).mesh),
    );
    odd!.positions.forEach((x, i) => expect(x).toBeCloseTo(even!.positions[i]!, 5));
  });
});

describe('a GLB that names its picture by file', () => {
  const textured = async (): Promise<Uint8Array> => {
    const { document } = strip();
    const material = document
      .createMaterial('Skin')
      .setBaseColorTexture(
        document.createTexture('skin').setURI('skin.png').setMimeType('image/png').setImage(PICTURE),
      );
    document.getRoot().listMeshes()[0]!.listPrimitives()[0]!.setMaterial(material);
    const { json, resources } = await new WebIO().writeJSON(document, {});
    // One file, the picture left beside it, as some programs write it.
    const bin = Object.entries(resources).find(([uri]) => uri.endsWith('.bin'))![1];
    json.buffers = [{ byteLength: bin.byteLength }];
    return packed(JSON.stringify(json), bin);
  };

  it('opens with the picture that was handed over, or without it, and tells which is missing', async () => {
    const bytes = await textured();
    const whole = await importModel('strip.glb', bytes, new Map([['skin.png', PICTURE]]));
    expect(whole.paint.pictures[0]).toEqual(PICTURE);
    expect(whole.missing).toBeUndefined();
    const bare = await importModel('strip.glb', bytes);
    expect(bare.paint.pictures).toEqual([null]);
    expect(bare.missing).toEqual(['skin.png']);
  });
});

/** A PNG of one texel. */
const PICTURE = Uint8Array.from(
  atob('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mP8z8BQDwAEhQGAhKmMIQAAAABJRU5ErkJggg=='),
  (c) => c.charCodeAt(0),
);

/** A GLB of a JSON and a binary chunk (glTF 2.0, section 4.4). */
function packed(json: string, bin: Uint8Array): Uint8Array {
  const text = new TextEncoder().encode(json.padEnd(Math.ceil(json.length / 4) * 4));
  const length = 12 + 8 + text.length + 8 + Math.ceil(bin.length / 4) * 4;
  const out = new Uint8Array(length);
  const view = new DataView(out.buffer);
  [0x46546c67, 2, length, text.length, 0x4e4f534a].forEach((word, i) => view.setUint32(i * 4, word, true));
  out.set(text, 20);
  view.setUint32(20 + text.length, Math.ceil(bin.length / 4) * 4, true);
  view.setUint32(24 + text.length, 0x004e4942, true);
  out.set(bin, 28 + text.length);
  return out;
}
