import { describe, expect, it } from 'vitest';
import { floorQuad, quads, together } from '../../tests/shapes';
import type { Vec3 } from '../math';
import { originsAsRead, type UvMesh } from '../mesh';
import { onePose, type Motion, type MotionNode, type Pose } from '../motion';
import { measureSurface, texelIndex } from '../surface';
import {
  cueKey,
  cueSpec,
  groundsFor,
  measureCue,
  occlusionAgainst,
  stretchIn,
  type CueSpec,
  type OcclusionSpec,
} from '.';

const SIZE = 64;

/** A disc of radius 1 at height 1, seen from the middle of the floor. */
function disc(): UvMesh {
  const around = 96;
  const positions: number[] = [0, 1, 0];
  const indices: number[] = [];
  for (let i = 0; i <= around; i++) {
    const a = (i / around) * 2 * Math.PI;
    positions.push(Math.cos(a), 1, Math.sin(a));
    if (i < around) indices.push(0, i + 1, i + 2);
  }
  return {
    positions: Float32Array.from(positions),
    normals: Float32Array.from(positions, (_, i) => (i % 3 === 1 ? -1 : 0)),
    uvs: new Float32Array((positions.length / 3) * 2).map((_, i) => 0.3 + 0.001 * i),
    indices: Uint32Array.from(indices),
    faceParts: new Uint16Array(indices.length / 3),
    parts: ['Disc'],
  };
}

const FLOOR = quads([floorQuad(0.02, [0.1, 0.1, 0.9, 0.9])]);

/** The floor and the disc, each on a node of its own; a clip a node, which lifts it by 1 in a second. */
function stage(): { readonly mesh: UvMesh; readonly motion: Motion } {
  const bare = together(FLOOR, disc());
  const node = (name: string): MotionNode => ({
    name,
    parent: -1,
    translation: [0, 0, 0],
    rotation: [0, 0, 0, 1],
    scale: [1, 1, 1],
    matrix: null,
    weights: [],
    targets: [],
  });
  const cut = FLOOR.positions.length;
  const piece = (n: number, positions: Float32Array): Motion['pieces'][number] => ({
    node: n,
    skin: -1,
    positions,
    normals: null,
    joints: null,
    weights: null,
    influences: 0,
    targets: [],
  });
  const lifts = (name: string, n: number): Motion['clips'][number] => ({
    name,
    seconds: 1,
    channels: [
      {
        node: n,
        path: 'translation',
        how: 'LINEAR',
        times: Float32Array.of(0, 1),
        values: Float32Array.of(0, 0, 0, 0, 1, 0),
      },
    ],
  });
  return {
    mesh: { ...bare, origins: originsAsRead(bare.positions.length / 3) },
    motion: {
      nodes: [node('Floor'), node('Disc')],
      skins: [],
      clips: [lifts('Floor up', 0), lifts('Disc up', 1)],
      pieces: [piece(0, bare.positions.slice(0, cut)), piece(1, bare.positions.slice(cut))],
    },
  };
}

const at = (clip: string, time: number): Pose => ({ clip, time, morphs: [] });

/** 0..1 at the middle of the floor. */
function middle(spec: CueSpec, moves: Motion | null): number {
  const { mesh } = stage();
  const map = measureSurface(mesh, SIZE);
  const ground = groundsFor(map, {
    dense: null,
    colors: null,
    moves: moves && { motion: moves, placing: null },
  });
  return measureCue(map, spec, { ground: ground(spec) })[texelIndex(SIZE, SIZE / 4, SIZE / 2)]! / 65535;
}

// View factor from a small patch to a coaxial disc of radius r at height h, r² / (r² + h²), as in J. R. Howell, "A Catalog of Radiation Heat
// Transfer Configuration Factors": .5 of the sky is open under the disc at rest, .8 where it is lifted by 1.
describe('occlusion over poses', () => {
  const { motion } = stage();
  const over = (take: 'mean' | 'most', ...times: number[]): CueSpec =>
    cueSpec.parse({
      cue: 'occlusion',
      rays: 1024,
      reach: null,
      poses: { at: times.map((time) => at('Disc up', time)), take },
    });

  it('is that of the pose where there is one', () => {
    expect(middle(over('mean', 0), motion)).toBeCloseTo(0.5, 2);
    expect(middle(over('mean', 1), motion)).toBeCloseTo(0.8, 2);
  });

  it('is the mean of several, or that of the most open', () => {
    expect(middle(over('mean', 0, 1), motion)).toBeCloseTo(0.65, 2);
    expect(middle(over('most', 0, 1), motion)).toBeCloseTo(0.8, 2);
    expect(middle(over('most', 0), motion)).toBeCloseTo(0.5, 2);
  });

  it('is that of rest where nothing says how the model moves, or the clip is of another file', () => {
    expect(middle(over('mean', 1), null)).toBeCloseTo(0.5, 2);
    const other = cueSpec.parse({
      cue: 'occlusion',
      rays: 1024,
      reach: null,
      poses: { at: [at('Jump', 1)], take: 'mean' },
    });
    expect(middle(other, motion)).toBeCloseTo(0.5, 2);
  });

  it('is a cue of its own', () => {
    expect(new Set([over('mean', 0), over('mean', 1), over('most', 0)].map(cueKey)).size).toBe(3);
  });
});

it('casts shadow over poses: a light from the side is hidden by the disc only where that stands before it', () => {
  const { motion } = stage();
  // Toward the disc's middle as it is lifted: from the floor at (0, 0, 0) up.
  const cast = (direction: Vec3, time: number): number =>
    middle(
      cueSpec.parse({
        cue: 'cast',
        direction,
        light: 0,
        poses: { at: [at('Disc up', time)], take: 'mean' },
      }),
      motion,
    );
  // 35° off the vertical: within the disc's 45° at rest, out of its 26.6° when it is lifted.
  expect(cast([Math.tan((35 / 180) * Math.PI), 1, 0], 0)).toBe(0);
  expect(cast([Math.tan((35 / 180) * Math.PI), 1, 0], 1)).toBe(1);
});

it('measures nearness from where a pose has the place', () => {
  const { mesh, motion } = stage();
  const map = measureSurface(mesh, SIZE);
  const ground = groundsFor(map, { dense: null, colors: null, moves: { motion, placing: null } });
  const spec = (take: 'mean' | 'most'): CueSpec => {
    const rest = ground(cueSpec.parse({ cue: 'nearness', point: [0, 0, 0], radius: 1 }));
    const centre = [0, 1, 2].map((k) => (rest.bounds.min[k]! + rest.bounds.max[k]!) / 2);
    return cueSpec.parse({
      cue: 'nearness',
      // The middle of the floor at rest; as far as 2 units.
      point: centre.map((c) => -c / rest.diagonal),
      radius: 2 / rest.diagonal,
      poses: { at: [at('Floor up', 0), at('Floor up', 1)], take },
    });
  };
  expect(middle(spec('mean'), motion)).toBeCloseTo(0.75, 2);
  expect(middle(spec('most'), motion)).toBeCloseTo(1, 2);
});

describe('maps of a pose', () => {
  const { mesh, motion } = stage();
  const map = measureSurface(mesh, SIZE);
  const ground = groundsFor(map, { dense: null, colors: null, moves: { motion, placing: null } });
  const texel = texelIndex(SIZE, SIZE / 4, SIZE / 2);
  const painted: OcclusionSpec = { cue: 'occlusion', rays: 64, reach: null, fine: 0 };

  it('tell where a place lies more open than it was painted, and that it is as painted over that very pose', () => {
    const up = at('Disc up', 1);
    // From .5 to .8 of the sky: .6 of 127.
    expect(Math.abs(occlusionAgainst(ground, painted)(up)[texel]! - (128 + 0.6 * 127))).toBeLessThan(6);
    const over = { ...painted, poses: onePose(up) };
    const against = occlusionAgainst(ground, over);
    expect(against(up)[texel]).toBe(128);
    expect(Math.abs(against(at('Disc up', 0))[texel]! - (128 - 0.6 * 127))).toBeLessThan(6);
  });

  it('tell how far the surface is stretched, by the direction that changes most', () => {
    const node = motion.nodes[0]!;
    // √2 along x is half a doubling; a quarter along z is pressed beyond the end.
    for (const [scale, value] of [
      [[1, 1, 1], 128],
      [[Math.SQRT2, 1, 1], 191],
      [[1, 1, 2], 255],
      [[1.1, 1, 0.25], 0],
    ] as const) {
      const clip = {
        name: 'Grow',
        seconds: 0,
        channels: [
          {
            node: 0,
            path: 'scale',
            how: 'STEP',
            times: Float32Array.of(0),
            values: Float32Array.from(scale),
          },
        ],
      } as const;
      const grows = { ...motion, nodes: [node, motion.nodes[1]!], clips: [clip] };
      const on = groundsFor(map, { dense: null, colors: null, moves: { motion: grows, placing: null } });
      const stretched = stretchIn(on({ ...painted, poses: onePose(at('Grow', 0)) }));
      expect(Math.abs(stretched[texel]! - value)).toBeLessThanOrEqual(1);
    }
  });
});
