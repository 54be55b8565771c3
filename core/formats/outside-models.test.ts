import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { OBJLoader } from 'three/examples/jsm/loaders/OBJLoader.js';
import type { Mesh as ThreeMesh } from 'three';
import { describe, expect, it } from 'vitest';
import { CoreError } from '../errors';
import { checkMesh } from '../mesh';
import { readModel } from '.';

// Debian's assimp-testmodels, unpacked by script/test into .cache: read, never committed. Malformed ones are among them.
const MODELS = '.cache/models/usr/share/assimp';

const all: string[] = existsSync(MODELS)
  ? (readdirSync(MODELS, { recursive: true }) as string[])
      .filter((f) => /\.(obj|ply|stl|gltf|glb)$/i.test(f))
      .sort()
  : [];

async function read(file: string) {
  const path = join(MODELS, file);
  const folder = dirname(path);
  const companions = new Map<string, Uint8Array>();
  for (const other of readdirSync(folder, { withFileTypes: true })) {
    if (other.isFile() && other.name !== basename(path) && /\.(bin|mtl|png|jpe?g)$/i.test(other.name))
      companions.set(other.name, readFileSync(join(folder, other.name)));
  }
  return readModel(basename(path), readFileSync(path), companions);
}

describe.skipIf(all.length === 0)('models that were not made here', () => {
  it('are many, of every kind that is read', () => {
    expect(all.length).toBeGreaterThan(80);
  });

  it.each(all)('%s comes in whole, or a sentence says why not', async (file) => {
    try {
      const mesh = await read(file);
      expect(checkMesh(mesh)).toBe(mesh);
      expect(mesh.faceParts.every((p) => p < mesh.parts.length)).toBe(true);
    } catch (error) {
      expect(error).toBeInstanceOf(CoreError);
      // Two sentences, mostly: what was found, and what to do.
      expect((error as CoreError).message).toMatch(/[.…]$/);
    }
  });

  // three's OBJLoader as oracle for the triangles; it cuts every polygon into a fan, of as many triangles.
  it.each(
    all.filter((f) =>
      /(^|\/)(box|spider|cube_usemtl|concave_polygon|multiple_spaces|space_in_material_name)\.obj$/.test(f),
    ),
  )('%s has as many triangles as another reader finds', async (file) => {
    const group = new OBJLoader().parse(readFileSync(join(MODELS, file), 'utf8'));
    let corners = 0;
    group.traverse((o) => {
      if ('isMesh' in o) corners += (o as ThreeMesh).geometry.getAttribute('position').count;
    });
    expect((await read(file)).indices.length).toBe(corners);
  });
});
