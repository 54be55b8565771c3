import { describe, expect, it } from 'vitest';
import { farthestFrom, placesInClips, stage, withJson } from '../../../tests/rigged';
import { poseVertices, REST } from '../../motion';
import { readMotion } from './read';

const MOMENTS = 20;

describe('a pose', () => {
  it('has every vertex where three’s mixer, skinning and morphing have it, all through a clip', async () => {
    const file = await stage();
    const motion = await readMotion(file);
    const [clip] = motion.clips;
    expect(clip).toMatchObject({ name: 'Bend', seconds: 1 });
    const own: number[][] = [];
    for (let k = 0; k < MOMENTS; k++) {
      const { positions } = poseVertices(motion, { ...REST, clip: 'Bend', time: (k + 0.5) / MOMENTS });
      for (let v = 0; v < positions.length / 3; v++)
        (own[v] ??= []).push(...positions.subarray(v * 3, v * 3 + 3));
    }
    const theirs = await placesInClips(file, MOMENTS);
    expect(own).toHaveLength(theirs.length);
    expect(farthestFrom(own, theirs)).toBeLessThan(1e-5);
    expect(farthestFrom(theirs, own)).toBeLessThan(1e-5);
  });

  it('of a clip that isn’t there is the rest; a weight set by hand goes over the clip’s', async () => {
    const motion = await readMotion(await stage());
    const rest = poseVertices(motion, REST).positions;
    expect(poseVertices(motion, { ...REST, clip: 'None', time: 3 }).positions).toEqual(rest);
    // The target lifts the third vertex of the plate by 0.8; at rest it is laid on by a quarter.
    const heights = [0, 1].map((weight) =>
      Math.max(
        ...poseVertices(motion, { ...REST, morphs: [['Blob', 0, weight]] })
          .positions.filter((_, i) => i % 3 === 1)
          .slice(8, 12),
      ),
    );
    expect(heights[1]! - heights[0]!).toBeCloseTo(0.8, 5);
  });
});

it('two clips of one name are told apart', async () => {
  const file = withJson(await stage(), (json) => json.animations!.push(json.animations![0]!));
  expect((await readMotion(file)).clips.map((clip) => clip.name)).toEqual(['Bend', 'Bend 2']);
});

it('two nodes of one name are told apart: morph weights of one are not the other’s', async () => {
  const file = withJson(await stage(), (json) => {
    const nodes = json.nodes!;
    const blob = nodes.find((n) => n.name === 'Blob')!;
    Object.assign(
      nodes.find((n) => n.name === 'Left lid')!,
      { name: 'Blob', mesh: blob.mesh },
    );
  });
  const motion = await readMotion(file);
  const named = motion.nodes.filter((n) => n.weights.length > 0).map((n) => n.name);
  expect(named).toEqual(['Blob', 'Blob 2']);
  const rest = poseVertices(motion, REST).positions;
  const moved = poseVertices(motion, { ...REST, morphs: [['Blob 2', 0, 1]] }).positions;
  expect(moved.filter((x, i) => Math.abs(x - rest[i]!) > 1e-6)).toHaveLength(3);
});

describe('a file that was written wrongly', () => {
  it('with a clip without keys has that clip, in which nothing moves', async () => {
    const file = withJson(await stage(), (json) => {
      json.animations!.push({ name: 'Empty', channels: [], samplers: [] });
    });
    const motion = await readMotion(file);
    expect(motion.clips.map(({ name, seconds }) => [name, seconds])).toEqual([
      ['Bend', 1],
      ['Empty', 0],
    ]);
    expect(poseVertices(motion, { ...REST, clip: 'Empty', time: 1 })).toEqual(poseVertices(motion, REST));
  });

  it('with a morph target of other vertices stands as if that target moved nothing', async () => {
    const file = withJson(await stage(), (json) => {
      const morphing = json.meshes!.find((m) => m.primitives[0]!.targets)!.primitives[0]!;
      const strip = json.meshes!.find((m) => m.name === 'Strip')!.primitives[0]!;
      morphing.targets![0] = { POSITION: strip.attributes['POSITION']! };
    });
    const motion = await readMotion(file);
    const [weak, strong] = [0, 1].map((w) => poseVertices(motion, { ...REST, morphs: [['Blob', 0, w]] }));
    expect(strong).toEqual(weak);
  });
});
