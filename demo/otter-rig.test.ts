import { MeshoptSimplifier } from 'meshoptimizer';
import { beforeAll, expect, it } from 'vitest';
import { readFileMotion } from '../core/formats';
import { Poser, REST } from '../core/motion';
import { makeOtter } from './otter';
import { rigOtter } from './otter-rig';

beforeAll(() => MeshoptSimplifier.ready);

it('the otter’s file has a skeleton and two clips, which leave it as it is at rest and come round', async () => {
  const otter = makeOtter();
  const { mesh, file } = await rigOtter(otter);
  expect(mesh.parts).toEqual(otter.parts);
  expect(mesh.indices).toEqual(otter.indices);
  let farthest = 0;
  otter.positions.forEach((x, i) => (farthest = Math.max(farthest, Math.abs(x - mesh.positions[i]!))));
  expect(farthest).toBeLessThan(1e-6);
  const motion = (await readFileMotion(file))!;
  expect(motion.clips.map(({ name, seconds }) => [name, seconds])).toEqual([
    ['Breathing', 3],
    ['Stirring', 2],
  ]);
  const poser = new Poser(mesh, motion, null);
  for (const { name, seconds } of motion.clips) {
    const at = (time: number): Float32Array => poser.pose({ ...REST, clip: name, time }).positions;
    const [first, last, between] = [at(0), at(seconds), at(seconds * 0.3)];
    const apart = (a: Float32Array, b: Float32Array): number =>
      a.reduce((most, x, i) => Math.max(most, Math.abs(x - b[i]!)), 0);
    expect(apart(first, last)).toBeLessThan(1e-5);
    expect(apart(first, between)).toBeGreaterThan(0.01);
  }
});
