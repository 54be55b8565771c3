import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { Api } from 'xatlasjs/dist/node/api.mjs';
import type { Mesh } from '../core/mesh';

const require = createRequire(import.meta.url);

/** What the general-purpose library xatlas (by way of npm's xatlasjs) makes of a mesh, with its own defaults. */
export async function peerUnwrap(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  size: number,
  margin: number,
): Promise<{ positions: Float32Array; uvs: Float32Array; indices: Uint32Array; milliseconds: number }> {
  const create = require('xatlasjs/dist/node/xatlas.js') as (params: object) => unknown;
  const wasmBinary = readFileSync('node_modules/xatlasjs/dist/node/xatlas.wasm');
  const AtlasApi = Api((params) => create({ ...params, wasmBinary }));
  const api = await new Promise<InstanceType<typeof AtlasApi>>((resolve) => {
    const made = new AtlasApi(() => resolve(made));
  });
  const start = performance.now();
  api.createAtlas();
  api.addMesh(Uint16Array.from(mesh.indices), mesh.positions);
  const { meshes } = api.generateAtlas({}, { resolution: size, padding: margin });
  const { index, vertex } = meshes[0]!;
  return {
    positions: vertex.vertices,
    uvs: vertex.coords1,
    indices: Uint32Array.from(index),
    milliseconds: performance.now() - start,
  };
}
