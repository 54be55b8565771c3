import { describe, expect, it } from 'vitest';
import { ball, floor, floorQuad, plate, quads, together } from '../../tests/shapes';
import { WasmArena } from '../kernels';
import { seededRandom } from '../math';
import type { UvMesh } from '../mesh';
import { expanded } from '../../tests/expanded';
import { measureSurface, texelIndex } from '../surface';
import { buildRayScene, castRay, cueKey, cueSpec, measureCue, NODE_FLOATS } from '.';

/** Open part of the sky at the floor's middle. */
function openAtMiddle(mesh: UvMesh, rays: number, size = 64): number {
  const map = measureSurface(mesh, size);
  const values = measureCue(map, { cue: 'occlusion', rays, reach: null, fine: 0 });
  // The middle of the sheet's left half, where `together` puts the floor.
  return values[texelIndex(size, size / 4, size / 2)]! / 65535;
}

/** A floor texel's neighbourhood of 0.01 around the origin. */
const spot = (): UvMesh => quads([floorQuad(0.02, [0.1, 0.1, 0.9, 0.9])]);

// View factors from a small horizontal patch, as in J. R. Howell, "A Catalog of Radiation Heat Transfer Configuration
// Factors": the open part of the sky is 1 minus the factor.
describe('occlusion against view factors that are known exactly', () => {
  it.each([
    [0.5, 1],
    [1, 1],
    [2, 1],
    [4, 1],
  ])('before an endless wall of height %f at distance %f', (h, d) => {
    const far = 400;
    const wall = quads([
      {
        part: 'Wall',
        corners: [
          [d, 0, far],
          [d, h, far],
          [d, h, -far],
          [d, 0, -far],
        ],
        place: [0.1, 0.1, 0.9, 0.9],
      },
    ]);
    const exact = 1 - (1 - d / Math.hypot(d, h)) / 2;
    expect(openAtMiddle(together(spot(), wall), 1024)).toBeCloseTo(exact, 2);
  });

  it.each([
    [1, 1],
    [0.5, 1],
    [2, 1],
  ])('under a coaxial disc of radius %f at height %f', (r, h) => {
    const n = 96;
    const positions: number[] = [0, h, 0];
    const indices: number[] = [];
    for (let i = 0; i <= n; i++) {
      const a = (i / n) * 2 * Math.PI;
      positions.push(r * Math.cos(a), h, r * Math.sin(a));
      if (i < n) indices.push(0, i + 1, i + 2);
    }
    const disc: UvMesh = {
      positions: Float32Array.from(positions),
      normals: Float32Array.from(positions, (_, i) => (i % 3 === 1 ? -1 : 0)),
      uvs: new Float32Array((positions.length / 3) * 2).map((_, i) => 0.3 + 0.001 * i),
      indices: Uint32Array.from(indices),
      faceParts: new Uint16Array(indices.length / 3),
      parts: ['Disc'],
    };
    const exact = 1 - (r * r) / (r * r + h * h);
    expect(openAtMiddle(together(spot(), disc), 1024)).toBeCloseTo(exact, 2);
  });

  it.each([
    [1, 2],
    [0.5, 1],
  ])('under a ball of radius %f with its centre at height %f', (r, c) => {
    const exact = 1 - (r / c) ** 2;
    expect(openAtMiddle(together(spot(), ball(96, 48, r, [0, c, 0])), 1024)).toBeCloseTo(exact, 2);
  });

  it('leaves a lone floor and a lone ball fully open', () => {
    expect(openAtMiddle(together(floor(), spot()), 64)).toBe(1);
    const mesh = ball(24, 12);
    const map = measureSurface(mesh, 64);
    const at = expanded(map);
    const values = measureCue(map, { cue: 'occlusion', rays: 64, reach: null, fine: 0 });
    const open = values.filter((_, i) => at.face[i]! >= 0);
    // A coarse ball with smooth normals: what would dip into its own triangles is mirrored out of them.
    expect(Math.min(...open) / 65535).toBeGreaterThan(0.97);
  });

  it('sees nothing beyond its reach', () => {
    const mesh = plate(0.5, 'Below');
    const map = measureSurface(mesh, 64);
    const at = expanded(map);
    const near = measureCue(map, { cue: 'occlusion', rays: 32, reach: 0.01, fine: 0 });
    expect(near.every((v, i) => at.face[i]! < 0 || v === 65535)).toBe(true);
  });

  it('fine and broad together: the long look times what the short one leaves, the nearer the darker', () => {
    // A ball that nearly touches the floor: right under it the short look meets it, far from it only the long one does.
    const map = measureSurface(together(floor(), ball(48, 24, 0.5, [0, 0.51, 0])), 256);
    const at = expanded(map);
    const spec = { cue: 'occlusion', rays: 64, reach: null, fine: 0 } as const;
    const broad = measureCue(map, spec);
    const both = measureCue(map, { ...spec, fine: 0.5 });
    const onFloor = [...at.face.keys()].filter((i) => at.face[i]! >= 0 && at.face[i]! < 2);
    const far = (i: number): number => Math.hypot(at.px[i]!, at.pz[i]!);
    const near = onFloor.filter((i) => far(i) < 0.05);
    const away = onFloor.filter((i) => far(i) > 0.6);
    const mean = (list: readonly number[], of: Uint16Array): number =>
      list.reduce((s, i) => s + of[i]!, 0) / list.length / 65535;
    // Under the ball nothing short stays open: half of what is left goes.
    expect(mean(near, both) / mean(near, broad)).toBeCloseTo(0.5, 1);
    expect(mean(away, both) / mean(away, broad)).toBeCloseTo(1, 3);
    expect(cueKey({ ...spec, fine: 0.5 })).not.toBe(cueKey(spec));
    expect(cueSpec.parse({ cue: 'occlusion', rays: 8, reach: null })).toMatchObject({ fine: 0 });
  });
});

describe('rays', () => {
  it('WebAssembly and plain TypeScript meet the same triangles', () => {
    const mesh = together(ball(32, 16), ball(24, 12, 0.4, [1.2, 0.3, 0.1]));
    const scene = buildRayScene(mesh.positions, mesh.indices);
    const arena = new WasmArena(scene.nodes.byteLength + scene.packets.byteLength + 256);
    const nodes = arena.f32(scene.nodes.length);
    new Int32Array(nodes.buffer, nodes.byteOffset, nodes.length).set(
      new Int32Array(scene.nodes.buffer, 0, nodes.length),
    );
    const packets = arena.f32(scene.packets.length);
    packets.set(scene.packets);
    const random = seededRandom(3);
    let different = 0;
    let hits = 0;
    for (let i = 0; i < 4000; i++) {
      const at = (): number => random() * 4 - 2;
      const origin = [at(), at(), at()] as const;
      const d = [at(), at(), at()];
      const l = Math.hypot(...d);
      const direction = [d[0]! / l, d[1]! / l, d[2]! / l] as const;
      const plain = Number.isFinite(castRay(scene, [...origin], [...direction], 3, true));
      const wasm = arena.run.anyHit(nodes.byteOffset, packets.byteOffset, ...origin, ...direction, 3) === 1;
      if (plain) hits++;
      if (plain !== wasm) different++;
    }
    expect(hits).toBeGreaterThan(400);
    // Rays that graze an edge may fall either way in 32-bit arithmetic.
    expect(different).toBeLessThan(8);
  });

  it('finds the nearest of several triangles', () => {
    const mesh = plate(0.5, 'Below');
    const scene = buildRayScene(mesh.positions, mesh.indices);
    expect(castRay(scene, [0.3, 2, 0.2], [0, -1, 0], 10)).toBeCloseTo(2, 6);
    expect(castRay(scene, [0.3, -2, 0.2], [0, 1, 0], 10)).toBeCloseTo(1.5, 6);
    expect(castRay(scene, [3, 2, 0], [0, -1, 0], 10)).toBe(Infinity);
  });

  it('packs a scene of a single triangle', () => {
    const scene = buildRayScene(new Float32Array([0, 0, 0, 1, 0, 0, 0, 0, 1]), new Uint32Array([0, 1, 2]));
    expect(scene.nodes.length).toBe(NODE_FLOATS);
    expect(castRay(scene, [0.2, 1, 0.2], [0, -1, 0], 10)).toBeCloseTo(1, 6);
  });
});

describe('height and facing', () => {
  it('height runs from 0 at the lowest to 1 at the highest point', () => {
    const mesh = ball();
    const map = measureSurface(mesh, 128);
    const at = expanded(map);
    const height = measureCue(map, { cue: 'height', direction: [0, 1, 0], from: 0, to: 1 });
    for (let i = 0; i < height.length; i++) {
      if (at.face[i]! < 0) continue;
      expect(height[i]! / 65535).toBeCloseTo((at.py[i]! + 1) / 2, 3);
    }
  });

  // Liu and Jordan 1963: a plane tilted by t sees (1 + cos t) / 2 of the sky.
  it('facing up is the part of the sky that a tilted plane sees', () => {
    for (const degrees of [0, 30, 60, 90, 150]) {
      const t = (degrees * Math.PI) / 180;
      const mesh = floor();
      const tilted = { ...mesh, normals: mesh.normals.map((_, i) => [Math.sin(t), Math.cos(t), 0][i % 3]!) };
      const map = measureSurface(tilted, 64);
      expect(measureCue(map, { cue: 'facing', direction: [0, 1, 0] })[0]! / 65535).toBeCloseTo(
        (1 + Math.cos(t)) / 2,
        3,
      );
    }
  });

  it('is the same for any length of the direction', () => {
    const map = measureSurface(ball(), 64);
    expect(measureCue(map, { cue: 'facing', direction: [0, 5, 0] })).toEqual(
      measureCue(map, { cue: 'facing', direction: [0, 1, 0] }),
    );
  });
});

describe('what may be asked for', () => {
  it('refuses no rays and a reach of nothing', () => {
    expect(cueSpec.safeParse({ cue: 'occlusion', rays: 0, reach: null, fine: 0 }).success).toBe(false);
    expect(cueSpec.safeParse({ cue: 'occlusion', rays: 8, reach: 0, fine: 0 }).success).toBe(false);
    expect(cueSpec.safeParse({ cue: 'height', direction: [0, 0, 0], from: 0, to: 1 }).success).toBe(false);
  });
});
