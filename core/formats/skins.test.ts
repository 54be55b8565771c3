import { WebIO } from '@gltf-transform/core';
import { Vector3, type SkinnedMesh } from 'three';
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';
import { describe, expect, it } from 'vitest';
import { strip } from '../../tests/rigged';
import { importModel } from '.';
import { packGlb } from './gltf/container';

describe('a skinned GLB', () => {
  it('stands as its joints are at rest, as three’s own loader and skinning have it', async () => {
    const bytes = await strip().write();
    const { mesh, motion } = await importModel('strip.glb', bytes);
    expect(motion).toEqual({ skins: 1, joints: 2, clips: 0, morphs: 0 });
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
    return packGlb({ json, bin });
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
